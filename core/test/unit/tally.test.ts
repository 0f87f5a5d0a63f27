/** Tallies: what does not matter to them, and what is always seen. */
import fc from 'fast-check';
import {
  DAY,
  EMPTY_TALLY,
  MINUTE,
  REMOVED,
  TALLY_CELLS,
  TallyBook,
  addTallies,
  cellsIn,
  cutIntoCells,
  cutIntoBlocks,
  decodeFrame,
  differenceOf,
  differingCells,
  emptyFrame,
  encodeFrame,
  mergeFrames,
  parseTally,
  repairOf,
  sameTally,
  selectSamples,
  sliceFrame,
  subtractTallies,
  tallyOf,
  tallyText,
  type CellTally,
  type Frame,
  type Tally,
} from '../../src/index.ts';
import { finished, mixed } from '../../src/tally/mixing.ts';

interface Row {
  readonly time: number;
  readonly value: number;
  readonly status: number;
}

const rowOf = fc.record<Row>({
  time: fc.integer({ min: -(2 ** 50), max: 2 ** 50 }),
  value: fc.oneof(fc.double(), fc.integer(), fc.constantFrom(0, -0, NaN, Infinity, 2 ** 53, 2 ** 62, -(2 ** 63))),
  status: fc.integer({ min: 0, max: 0xffffffff }),
});
const rowsOf = fc.uniqueArray(rowOf, { selector: ({ time }) => time, maxLength: 60 });

const firstOfItsTime = ({ time }: Row, i: number, rows: readonly Row[]): boolean =>
  rows.findIndex((row) => row.time === time) === i;

function frameOf(rows: readonly Row[]): Frame {
  const frame = emptyFrame(rows.length, { origins: true });
  rows.forEach(({ time, value, status }, i) => {
    [frame.times[i], frame.values[i], frame.status[i]] = [time, value, status];
  });
  return frame;
}
const sum = (tallies: readonly Tally[]): Tally => tallies.reduce(addTallies, EMPTY_TALLY);

/** MurmurHash3_x86_32 by its own steps. Vectors as they are passed on with ports of it; from memory. */
test.each([
  [[], 0, 0],
  [[], 1, 0x514e28b7],
  [[], 0xffffffff, 0x81f16f39],
  [[0xffffffff], 0, 0x76293b50],
  [[0x87654321], 0, 0xf55b516b],
  [[0x87654321], 0x5082edee, 0x2362f9de],
])('words %j from %i mix to %i', (words, seed, expected) => {
  expect(finished(words.reduce(mixed, seed) ^ (4 * words.length)) >>> 0).toBe(expected);
});

test('neither the order of samples, nor how they are cut, nor their origins, nor the codec matter', () => {
  fc.assert(
    fc.property(rowsOf, fc.integer(), fc.array(fc.nat(60), { maxLength: 4 }), (rows, seed, cuts) => {
      const whole = tallyOf(frameOf(rows));
      const shuffled = [...rows].sort((a, b) => ((a.time ^ seed) % 7) - ((b.time ^ seed) % 7));
      expect(tallyOf(frameOf(shuffled))).toEqual(whole);
      const frame = frameOf(shuffled);
      const ends = [...cuts.map((cut) => Math.min(cut, rows.length)), rows.length].sort((a, b) => a - b);
      expect(sum(ends.map((end, i) => tallyOf(frame, ends[i - 1] ?? 0, end)))).toEqual(whole);
      expect(sum(ends.map((end, i) => tallyOf(sliceFrame(frame, ends[i - 1] ?? 0, end))))).toEqual(whole);
      frame.origins!.fill(3);
      expect(tallyOf(frame)).toEqual(whole);
      const sorted = frameOf([...rows].sort((a, b) => a.time - b.time));
      if (rows.length > 0) expect(tallyOf(decodeFrame(encodeFrame(sorted)))).toEqual(whole);
      expect(sum(cutIntoBlocks(sorted).map((block) => tallyOf(block)))).toEqual(whole);
    }),
  );
});

test('keeping it by what comes and what goes is the same as counting anew, whatever arrives late or is removed', () => {
  fc.assert(
    fc.property(fc.array(fc.array(rowOf, { maxLength: 20 }), { maxLength: 6 }), (batches) => {
      let standing = frameOf([]);
      let kept: Tally = EMPTY_TALLY;
      for (const batch of batches) {
        const merged = mergeFrames([standing, mergeFrames([frameOf(batch)]).frame]).frame;
        kept = addTallies(subtractTallies(kept, tallyOf(standing)), tallyOf(merged));
        standing = merged;
      }
      expect(kept).toEqual(tallyOf(standing));
      expect(subtractTallies(kept, kept)).toEqual(EMPTY_TALLY);
    }),
  );
});

test('any single changed bit is seen, in every sample, and so is one that is missing or there twice', () => {
  const bits = new DataView(new ArrayBuffer(8));
  fc.assert(
    fc.property(
      rowsOf.filter((rows) => rows.length > 0),
      fc.nat(),
      fc.nat(63),
      (rows, which, bit) => {
        const at = which % rows.length;
        const frame = frameOf(rows);
        const before = tallyOf(frame);
        const seen = (change: (changed: Frame) => void): void => {
          const changed = frameOf(rows);
          change(changed);
          expect(sameTally(tallyOf(changed), before)).toBe(false);
        };
        seen(({ times }) => (times[at]! += times[at]! > 0 ? -(2 ** (bit % 50)) : 2 ** (bit % 50)));
        seen(({ status }) => (status[at] = (status[at]! ^ (1 << (bit % 32))) >>> 0));
        bits.setFloat64(0, frame.values[at]!);
        bits.setUint8(bit >> 3, bits.getUint8(bit >> 3) ^ (1 << (bit & 7)));
        const value = bits.getFloat64(0);
        // All that is no number is the same nothing.
        if (!Number.isNaN(value) || !Number.isNaN(frame.values[at]!)) seen(({ values }) => (values[at] = value));
        expect(sameTally(tallyOf(selectSamples(frame, (i) => i !== at)), before)).toBe(false);
        expect(sameTally(addTallies(before, tallyOf(frame, at, at + 1)), before)).toBe(false);
      },
    ),
    { numRuns: 500 },
  );
});

test('texts and 64-bit integers count by what they are, not by how a frame holds them', () => {
  const text = (words: readonly (string | null)[], texts: readonly string[]): Frame => {
    const frame = frameOf(words.map((_, i) => ({ time: i, value: NaN, status: 0 })));
    words.forEach((word, i) => (frame.values[i] = word === null ? NaN : texts.indexOf(word)));
    return { ...frame, texts };
  };
  const one = tallyOf(text(['open', 'shut', null], ['open', 'shut']));
  expect(tallyOf(text(['open', 'shut', null], ['unused', 'shut', 'open']))).toEqual(one);
  expect(tallyOf(text(['shut', 'open', null], ['open', 'shut']))).not.toEqual(one);
  expect(tallyOf(text(['1'], ['1']))).not.toEqual(tallyOf(frameOf([{ time: 0, value: 1, status: 0 }])));
  const wholes = (value: bigint, column: boolean): Tally => {
    const frame = frameOf([{ time: 5, value: Number(value), status: 0 }]);
    return tallyOf(column ? { ...frame, wholes: BigInt64Array.of(value) } : frame);
  };
  for (const exact of [1n, 2n ** 53n, 2n ** 60n, -(2n ** 63n)])
    expect(wholes(exact, true)).toEqual(wholes(exact, false));
  expect(wholes(2n ** 60n + 1n, true)).not.toEqual(wholes(2n ** 60n, true));
  expect(wholes(2n ** 63n - 1n, true)).not.toEqual(wholes(2n ** 63n - 2n, true));
});

test('lanes are spread evenly: of many tallies every bit is set in half', () => {
  const samples = 4000;
  const frame = frameOf(Array.from({ length: samples }, (_, i) => ({ time: i * 1_000_000, value: i % 10, status: 0 })));
  const set = new Uint32Array(128);
  for (let i = 0; i < samples; i++)
    tallyOf(frame, i, i + 1).lanes.forEach((lane, l) => {
      for (let bit = 0; bit < 32; bit++) set[32 * l + bit]! += (lane >>> bit) & 1;
    });
  // Six standard deviations of as many fair coins.
  for (const count of set) expect(Math.abs(count - samples / 2)).toBeLessThan(3 * Math.sqrt(samples));
});

test('it is written as 32 digits and read back; anything else is refused', () => {
  fc.assert(
    fc.property(rowsOf, (rows) => {
      const tally = tallyOf(frameOf(rows));
      expect(parseTally(tally.count, tallyText(tally))).toEqual(tally);
    }),
  );
  expect(tallyText(EMPTY_TALLY)).toBe('0'.repeat(32));
  expect(() => parseTally(1, 'abc')).toThrow('has to be 32 hexadecimal digits');
});

test('a repair makes one store as the other, whatever differs, and nothing else of it', () => {
  fc.assert(
    fc.property(rowsOf, rowsOf, (one, other) => {
      const sorted = (rows: readonly Row[]) =>
        frameOf([...rows].filter(({ status }) => status !== REMOVED).sort((a, b) => a.time - b.time));
      // Some of both are the same.
      const [here, there] = [sorted(one), sorted([...other, ...one.slice(0, 5)].filter(firstOfItsTime))];
      const { write, remove } = repairOf(here, there);
      const mended = mergeFrames([there, write, remove]).frame;
      expect(tallyOf(mended)).toEqual(tallyOf(here));
      const { missingHere, missingThere, differentValue, differentStatus } = differenceOf(here, there);
      expect(write.times.length).toBe(missingThere + differentValue + differentStatus);
      expect(remove.times.length).toBe(missingHere);
    }),
  );
});

test('cells that differ are found, those that one store alone has among them', () => {
  const cell = fc.tuple(fc.nat(20), fc.nat(3), fc.constantFrom('a', 'b'));
  const cellsOf = fc.uniqueArray(cell, { selector: ([from]) => from });
  fc.assert(
    fc.property(cellsOf, cellsOf, (one, other) => {
      const as = (cells: typeof one): CellTally[] =>
        cells.map(([from, count, tally]) => [from, from + 1, count, tally]);
      const says = (cells: typeof one, at: number): string =>
        JSON.stringify(cells.find(([from]) => from === at)?.slice(1));
      const expected = Array.from({ length: 21 }, (_, at) => at).filter((at) => says(one, at) !== says(other, at));
      expect(differingCells(as(one), as(other)).map(({ from }) => from)).toEqual(expected);
    }),
  );
});

test('cells of a window follow each other without a gap, and hold what lies in them', () => {
  const micros = fc.integer({ min: -(10 ** 15), max: 10 ** 15 });
  fc.assert(
    fc.property(
      micros,
      fc.integer({ min: 0, max: 90 * DAY }),
      fc.constantFrom(...TALLY_CELLS),
      rowsOf,
      (from, length, by, rows) => {
        const window = { from, to: from + length };
        const cells = cutIntoCells(window, by);
        expect(cells.length).toBeLessThanOrEqual(cellsIn(window, by));
        cells.forEach((cell, i) => expect(cell.from).toBe(i === 0 ? window.from : cells[i - 1]!.to));
        if (length > 0) expect(cells.at(-1)!.to).toBe(window.to);
        const near = rows.map((row, i) => ({
          ...row,
          time: from + ((i * 7_919 * MINUTE) % Math.max(1, length + DAY)) - DAY / 2,
        }));
        const frame = frameOf(near.filter(firstOfItsTime).sort((a, b) => a.time - b.time));
        const book = new TallyBook(cells);
        book.take(frame);
        const inside = selectSamples(frame, (i) => frame.times[i]! >= from && frame.times[i]! < window.to);
        expect(sum(book.tallies)).toEqual(tallyOf(inside));
      },
    ),
  );
});
