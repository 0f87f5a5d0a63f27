/** The path check of a database: name, port, sign-in, the query's columns, and its newest row. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import { RecordReader, formatInstant } from '@wide-ledger/core';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import type { SourceOf, Surroundings } from '../kind.ts';
import { knock } from '../knock.ts';
import { resolveName } from '../resolve.ts';
import { Database, placeOf, type Column } from './database.ts';
import { columnsStatement, newestStatement } from './query.ts';
import { missingProgress } from './session.ts';

export async function walkPath(
  { connection }: SourceOf<'sql'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const place = placeOf(connection);
  let database: Database | null = null;
  let columns: readonly Column[] = [];
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  try {
    return await walk(
      [
        ['name', () => resolveName(place.host, place.port)],
        [
          'port',
          async () => {
            await knock(place, connection.timeoutMilliseconds);
            return done(`${place.host}:${place.port} accepts connections.`);
          },
        ],
        [
          'sign-in',
          async () => {
            database = await Database.open(connection, around);
            const open = connection.encrypted ? '' : ' The line is open: anybody on the way can read what passes.';
            return done(`The database ${connection.database} lets ${connection.user} in, to read.${open}`);
          },
        ],
        [
          'browse',
          async () => {
            ({ columns } = await database!.ask(columnsStatement(connection)));
            const names = columns.map(({ name }) => name);
            const problem = RecordReader.problemOf(names, connection) ?? missingProgress(columns, connection);
            return problem === null
              ? done(`The query has the columns ${names.slice(0, 12).join(', ')}${names.length > 12 ? ', …' : ''}.`)
              : { passed: false, sentence: problem, code: 'NO_COLUMN' };
          },
        ],
        [
          'value',
          async () => {
            const { rows } = await database!.ask(newestStatement(connection, 1));
            if (rows.length === 0) return done('The query has no rows yet.');
            const reader = new RecordReader(
              columns.map(({ name }) => name),
              connection,
              [],
            );
            const { time } = reader.read(rows[0]!);
            return time === null
              ? { passed: false, sentence: 'The newest row says no time that can be read.', code: 'NO_TIME' }
              : done(`The newest row is of ${formatInstant(time)}.`);
          },
        ],
      ],
      told,
    );
  } finally {
    (database as Database | null)?.close();
  }
}
