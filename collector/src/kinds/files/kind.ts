/** Files that somebody else writes as a kind of source: their rows are read on, and can be looked at before. */
import type { FilesConnection, PathCheck, RowsAnswer, Rung } from '@wide-ledger/contract';
import { RecordReader, Status, formatInstant, decimalMarkOf, type FileCell } from '@wide-ledger/core';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import { SourceAway, type Kind, type RecordSession, type SourceOf, type Surroundings } from '../kind.ts';
import { NO_VALUE } from '../nodes.ts';
import { seriesIn, shownRows } from '../recordSamples.ts';
import { filesIn, openFolder, type Found } from './folder.ts';
import { cellsOf } from './lines.ts';
import { newMark, readOn } from './reading.ts';
import { FilesSession } from './session.ts';
import { isWorkbook, rowsOfWorkbook, type Sheet } from './workbook.ts';

const SHOWN = 20;

export const files: Kind<'files', RecordSession<'files'>> = {
  check: walkPath,
  open: async ({ connection }, around) => {
    await openFolder(connection, around);
    return new FilesSession(connection, around);
  },
  browse: async ({ connection }, node, around) => {
    if (node !== null) return { nodes: [], more: false };
    const { names, rows } = await newestSheet(connection, around);
    const nodes = seriesIn(names, rows, connection).map((series) => ({
      ...NO_VALUE,
      node: series,
      name: series,
      hasBelow: false,
      ...typeOf(series, names, rows, connection),
    }));
    return { nodes, more: false };
  },
  rows: async ({ connection }, around): Promise<RowsAnswer> => {
    const { file, names, rows } = await newestSheet(connection, around);
    const columns = names.map((name) => ({ name, type: '' }));
    return shownRows(columns, rows, connection, { most: SHOWN, said: `Of ${file.name}, which was written last.` });
  },
};

interface Newest extends Sheet {
  readonly file: Found;
  readonly others: number;
}

/** What is at the beginning of the file that was written last. @throws SourceAway where there is none */
async function newestSheet(connection: FilesConnection, around: Surroundings): Promise<Newest> {
  const all = await filesIn(await openFolder(connection, around), connection);
  const meant = all.filter(({ isMeant }) => isMeant);
  const file = meant.at(-1);
  if (!file) {
    const sentence = `No file in ${connection.folder} is called ${connection.names}. ${all.length} are called otherwise.`;
    throw new SourceAway(sentence, 'NO_FILE', Status.BadNotConnected);
  }
  const common = { file, others: meant.length - 1 };
  if (isWorkbook(file)) return { ...common, ...(await rowsOfWorkbook(file, connection)) };
  const mark = await newMark(file, connection);
  const piece = mark && (await readOn(file, mark, Date.now()));
  const rows = piece && piece.text !== '' ? cellsOf(piece.text, piece.mark.separator) : [];
  return { ...common, names: mark?.names ?? [], rows };
}

/** The type that a tag of a series would have, by its values. */
function typeOf(
  series: string,
  names: readonly string[],
  rows: readonly (readonly FileCell[])[],
  connection: FilesConnection,
): { readonly type: 'real' | 'text'; readonly typeWords: string; readonly value: string | null } {
  const at = connection.series === '' ? names.indexOf(series) : names.indexOf(connection.value);
  const naming = names.indexOf(connection.series);
  const cells = rows.filter((row) => naming < 0 || String(row[naming]) === series).map((row) => row[at] ?? null);
  const last = cells.findLast((cell) => cell !== null && cell !== '');
  const numbers = last !== undefined && decimalMarkOf(cells) !== undefined;
  return {
    type: numbers ? 'real' : 'text',
    typeWords: numbers ? 'numbers' : 'text',
    value: last === undefined ? null : String(last).slice(0, 60),
  };
}

/** The path check of a folder: whether it may be opened, which of its files are meant, and the newest row. */
function walkPath(
  { connection }: SourceOf<'files'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  let newest: Newest | null = null;
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  return walk(
    [
      ['folder', async () => done(`${await openFolder(connection, around)} can be read.`)],
      [
        'browse',
        async () => {
          newest = await newestSheet(connection, around);
          const { file, others, names } = newest;
          const problem = RecordReader.problemOf(names, connection);
          if (problem !== null) return { passed: false, sentence: `${file.name}: ${problem}`, code: 'NO_COLUMN' };
          const beside = others === 0 ? '' : ` ${others} others are there.`;
          return done(`${file.name} has the columns ${names.slice(0, 12).join(', ')}.${beside}`);
        },
      ],
      [
        'value',
        () => {
          const { names, rows } = newest!;
          if (rows.length === 0) return Promise.resolve(done('It has no rows yet.'));
          const { time } = new RecordReader(names, connection, []).read(rows.at(-1)!);
          return Promise.resolve(
            time === null
              ? { passed: false, sentence: 'Its last row says no time that can be read.', code: 'NO_TIME' }
              : done(`The last row that was looked at is of ${formatInstant(time)}.`),
          );
        },
      ],
    ],
    told,
  );
}
