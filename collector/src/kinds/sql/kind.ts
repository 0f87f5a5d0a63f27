/** A table of another logger as a kind of source: its rows are read on in SQL, and can be tried before. */
import type { SqlConnection } from '@wide-ledger/contract';
import type { Kind, RecordSession, Surroundings } from '../kind.ts';
import { NO_VALUE } from '../nodes.ts';
import { seriesIn, shownRows } from '../recordSamples.ts';
import { Database, type Column } from './database.ts';
import { walkPath } from './pathCheck.ts';
import { columnsStatement, newestStatement, onStatement, progressOf, someStatement } from './query.ts';
import { SqlSession, missingProgress } from './session.ts';

/** Rows that series are looked for in, and rows that people are shown. */
const LOOKED_AT = 2000;
const SHOWN = 20;

export const sql: Kind<'sql', RecordSession<'sql'>> = {
  check: walkPath,
  open: async ({ connection }, around) => new SqlSession(connection, await Database.open(connection, around)),
  browse: ({ connection }, node, around) =>
    whileOpen(connection, around, async (database) => {
      if (node !== null) return { nodes: [], more: false };
      const { columns, rows } = await database.ask(newestStatement(connection, LOOKED_AT));
      const names = columns.map(({ name }) => name);
      const nodes = seriesIn(names, rows, connection).map((series) => ({
        ...NO_VALUE,
        node: series,
        name: series,
        hasBelow: false,
        ...typeOf(columns.find(({ name }) => name === (connection.series === '' ? series : connection.value))),
      }));
      return { nodes, more: false };
    }),
  rows: ({ connection }, around) =>
    whileOpen(connection, around, async (database) => {
      const { columns } = await database.ask(columnsStatement(connection));
      const problem = missingProgress(columns, connection);
      const { rows } = await database.ask(
        problem === null ? newestStatement(connection, LOOKED_AT) : someStatement(connection, SHOWN),
      );
      const said = problem ?? (await costOf(database, connection, columns));
      return shownRows(columns, rows, connection, { most: SHOWN, said });
    }),
};

async function whileOpen<Answer>(
  connection: SqlConnection,
  around: Surroundings,
  work: (database: Database) => Promise<Answer>,
): Promise<Answer> {
  const database = await Database.open(connection, around);
  try {
    return await work(database);
  } finally {
    database.close();
  }
}

/** The type that a tag of a column would have. */
function typeOf(column: Column | undefined): {
  readonly type: 'real' | 'integer' | 'boolean' | 'text';
  readonly typeWords: string;
} {
  const typeWords = column?.type ?? '';
  if (/^(smallint|integer|bigint)$/.test(typeWords)) return { type: 'integer', typeWords };
  if (typeWords === 'boolean') return { type: 'boolean', typeWords };
  return { type: /^(real|double precision|numeric)/.test(typeWords) ? 'real' : 'text', typeWords };
}

/** What reading on takes, as the database estimates it. */
async function costOf(database: Database, connection: SqlConnection, columns: readonly Column[]): Promise<string> {
  const progress = progressOf(connection);
  const type = columns.find(({ name }) => name === progress)!.type;
  const { rows } = await database.ask(`EXPLAIN (FORMAT JSON) ${onStatement(connection, type, false, 1)}`);
  const [plan] = JSON.parse(String(rows[0]![0])) as { Plan: PlanNode }[];
  const sorts = nodesOf(plan!.Plan).some((node) => node['Node Type'] === 'Sort');
  return sorts
    ? `Without an index on ${progress} all rows are sorted each time: give it one.`
    : `Reading on follows an index on ${progress}.`;
}

interface PlanNode {
  readonly 'Node Type': string;
  readonly Plans?: readonly PlanNode[];
}

const nodesOf = (node: PlanNode): PlanNode[] => [node, ...(node.Plans ?? []).flatMap(nodesOf)];
