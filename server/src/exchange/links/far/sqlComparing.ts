/** What a table holds of a link's tags, read back and counted: so it is compared like a site. */
import type { CarriedTag, CarriedTallies } from '@wide-ledger/contract';
import { TallyBook, cutIntoCells, emptyFrame, tallyText, type Frame, type Span } from '@wide-ledger/core';
import type pg from 'pg';
import type { CarriedPart, ComparedEnd } from './farEnd.ts';
import type { SqlShape } from './sqlShape.ts';

interface Read {
  readonly micros: string;
  readonly value: number | null;
  readonly text: string | null;
  readonly status: string;
}

/** @param write puts rows there. */
export function comparedTable(
  pool: pg.Pool,
  shape: SqlShape,
  named: () => Promise<ReadonlyMap<number, CarriedTag>>,
  write: (entries: readonly CarriedPart[]) => Promise<void>,
): ComparedEnd {
  const frameOf = async ({ name, type }: CarriedTag, { from, to }: Span): Promise<Frame> => {
    const [text, values] = shape.reading(name, from, to);
    return asFrame((await pool.query<Read>(text, values)).rows, type === 'text');
  };
  return {
    async tallies({ numbers, by, ...window }): Promise<CarriedTallies> {
      const tags = await named();
      const rows: CarriedTallies['rows'] = [];
      for (const number of numbers) {
        const tag = tags.get(number);
        if (!tag) continue;
        const cells = cutIntoCells(window, by);
        const book = new TallyBook(cells);
        // A month at a time: what is held in memory does not grow with the window.
        for (const month of cutIntoCells(window, 'month')) book.take(await frameOf(tag, month));
        rows.push({
          number,
          cells: cells.flatMap(({ from, to }, i): CarriedTallies['rows'][number]['cells'] => {
            const tally = book.tallies[i]!;
            return tally.count === 0 ? [] : [[from, to, tally.count, tallyText(tally)]];
          }),
        });
      }
      return { rows };
    },
    async samples(number, span) {
      const tag = (await named()).get(number);
      return tag ? await frameOf(tag, span) : null;
    },
    async history(entries) {
      await write(entries);
      // Of a table it is not known what goes over its line.
      return { accepted: entries.reduce((sum, { frame }) => sum + frame.times.length, 0), setAside: 0, bytes: 0 };
    },
  };
}

/** @param texts whether the rows are those of a tag of texts. */
function asFrame(rows: readonly Read[], texts: boolean): Frame {
  const frame = emptyFrame(rows.length, { origins: true });
  const found: string[] = [];
  const wholes = texts || rows.every(({ text }) => text === null) ? null : new BigInt64Array(rows.length);
  rows.forEach(({ micros, value, text, status }, i) => {
    frame.times[i] = Number(micros);
    frame.status[i] = Number(status);
    if (!texts) frame.values[i] = value ?? NaN;
    else if (text === null) frame.values[i] = NaN;
    else frame.values[i] = found.push(text) - 1;
    if (wholes && text !== null) wholes[i] = BigInt(text);
  });
  return { ...frame, texts: found, wholes };
}
