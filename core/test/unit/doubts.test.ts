/** What the data themselves betray. Rules of ours; where one is somebody's, the code names who. */
import fc from 'fast-check';
import {
  ArrivalBook,
  DriftBook,
  HOUR,
  MINUTE,
  MotionBook,
  RangeBook,
  RhythmBook,
  SECOND,
  Status,
  boundsOf,
  rhythmOf,
  stuckIn,
  type Neighbour,
  type Span,
} from '../../src/index.ts';

const DAY = 24 * HOUR;
const WINDOW: Span = { from: 0, to: DAY };
const CELLS = 2000;

type Row = readonly [time: number, value: number, status?: number];
const columns = (rows: readonly Row[]) => ({
  times: Float64Array.from(rows, ([time]) => time),
  values: Float64Array.from(rows, ([, value]) => value),
  status: Uint32Array.from(rows, ([, , status = 0]) => status),
});

/** A value every so long that is never the one before. */
const moving = (every: number, { from, to }: Span = WINDOW): Row[] =>
  Array.from({ length: Math.floor((to - from) / every) }, (_, i) => [from + i * every, (i * 7919) % 1000] as const);

function motionOf(rows: readonly Row[], holds = true) {
  const book = new MotionBook(WINDOW, CELLS, holds);
  book.take(columns(rows));
  return book.finish(WINDOW.to);
}
const neighbour = (tag: number, rows: readonly Row[], counts = false): Neighbour => ({
  tag,
  counts,
  motion: motionOf(rows),
  before: null,
});

describe('rhythm', () => {
  test('counted by logarithms it is what all silences tell, within a twentieth of the quartiles', () => {
    const silences = fc.array(fc.integer({ min: 1000, max: 1e12 }), { minLength: 10, maxLength: 200 });
    fc.assert(
      fc.property(silences, (lengths) => {
        const book = new RhythmBook();
        for (const length of lengths) book.take(length);
        let time = 0;
        const exact = rhythmOf([0, ...lengths.map((length) => (time += length))])!;
        const counted = book.rhythm()!;
        expect(counted.values).toBe(exact.values);
        expect(Math.abs(Math.log2(counted.usual / exact.usual))).toBeLessThan(1 / 16);
        // The fence goes by the fourth power of one and the third of the other.
        expect(Math.abs(Math.log2(counted.longest / exact.longest))).toBeLessThan(7 / 16);
      }),
    );
  });
});

describe('motion', () => {
  test('however samples are cut into pieces, what is seen is the same', () => {
    const row = fc.record({
      step: fc.integer({ min: 1, max: 40 }),
      value: fc.integer({ min: 0, max: 2 }),
      bad: fc.integer({ min: 0, max: 9 }),
    });
    fc.assert(
      fc.property(
        fc.array(row, { maxLength: 60 }),
        fc.array(fc.nat(60), { maxLength: 5 }),
        fc.boolean(),
        (rows, cuts, holds) => {
          let time = -100;
          const all = rows.map(({ step, value, bad }): Row => [
            (time += step),
            value,
            bad === 0 ? Status.BadNoData : 0,
          ]);
          const window = { from: 0, to: 1000 };
          const whole = new MotionBook(window, 10, holds);
          whole.take(columns(all));
          const pieces = new MotionBook(window, 10, holds);
          let at = 0;
          for (const cut of [...cuts.sort((a, b) => a - b), all.length]) {
            pieces.take(columns(all.slice(at, cut)));
            at = Math.max(at, cut);
          }
          expect(pieces.finish(1000)).toEqual(whole.finish(1000));
        },
      ),
    );
  });

  test('a rest ends where the value moved, where nothing was known any more, and with the window', () => {
    const rows: Row[] = [
      [0, 1],
      [10, 1],
      [20, 2],
      [30, NaN, Status.BadNoCommunication],
      [50, 2],
      [60, 2],
    ];
    const { rests, total } = motionOf(rows);
    expect(rests).toEqual([
      { from: 50, to: DAY, value: 2 },
      { from: 0, to: 20, value: 1 },
      { from: 20, to: 30, value: 2 },
    ]);
    // What it was after nothing was known is no move.
    expect(total).toBe(1);
    expect(motionOf(rows, false).rests).toEqual([
      { from: 0, to: 10, value: 1 },
      { from: 50, to: 60, value: 2 },
    ]);
  });
});

describe('a tag that is stuck', () => {
  const stuck = { from: 6 * HOUR, to: 9 * HOUR };
  const flat = (rows: readonly Row[], { from, to }: Span): Row[] =>
    rows.map(([time, value]) => [time, time >= from && time < to ? 4242 : value]);
  const others = [neighbour(2, moving(10 * SECOND)), neighbour(3, moving(MINUTE)), neighbour(4, moving(7 * SECOND))];

  test('while its neighbours move is told with what it was seen by', () => {
    const found = stuckIn([neighbour(1, flat(moving(10 * SECOND), stuck)), ...others], WINDOW);
    expect([...found.keys()]).toEqual([1]);
    expect(found.get(1)).toEqual([
      {
        kind: 'stuck',
        ...stuck,
        value: 4242,
        usual: expect.closeTo(10 * SECOND, -6),
        longest: expect.any(Number),
        neighbours: 3,
        moved: 3,
      },
    ]);
  });

  test('for the whole window is told by its rhythm of the time before', () => {
    const standing = { ...neighbour(1, [[0, 5]]), before: rhythmOf(moving(10 * SECOND).map(([time]) => time)) };
    expect(stuckIn([standing, ...others], WINDOW).get(1)).toMatchObject([{ ...WINDOW, value: 5, moved: 3 }]);
    expect(stuckIn([{ ...standing, before: null }, ...others], WINDOW).size).toBe(0);
  });

  test('is told, too, where its neighbours were read more often later', () => {
    const faster = (every: number): Row[] => [
      ...moving(every, { from: 0, to: 20 * HOUR }),
      ...moving(every / 60, { from: 20 * HOUR, to: DAY }),
    ];
    const group = [
      neighbour(1, flat(faster(MINUTE), stuck)),
      neighbour(2, faster(MINUTE)),
      neighbour(3, faster(MINUTE)),
    ];
    expect(stuckIn(group, WINDOW).get(1)).toMatchObject([{ ...stuck, neighbours: 2, moved: 2 }]);
  });

  test('is not told by neighbours that were not there yet, however much they move later', () => {
    const late = [5, 6, 7].map((tag) => neighbour(tag, moving(SECOND, { from: 22 * HOUR, to: DAY })));
    const group = [neighbour(1, flat(moving(10 * SECOND), stuck)), ...others, ...late];
    expect(stuckIn(group, WINDOW).get(1)).toMatchObject([{ ...stuck, neighbours: 3, moved: 3 }]);
  });

  test('with all its neighbours is none: the plant stands', () => {
    const group = [1, 2, 3].map((tag) => neighbour(tag, flat(moving(10 * SECOND), stuck)));
    expect(stuckIn(group, WINDOW).size).toBe(0);
  });

  test('as it often is, is none: it rests every hour', () => {
    const rows = moving(10 * SECOND).map(([time, value]): Row => [time, time % HOUR < 30 * MINUTE ? value : 4242]);
    expect(stuckIn([neighbour(1, rows), ...others], WINDOW).size).toBe(0);
  });

  test('a counter that nobody stands beside is told when it stands far longer than it ever does', () => {
    const counter = (to: number): Row[] =>
      moving(MINUTE).map(([time], i) => [time, time >= 6 * HOUR && time < to ? 360 : i]);
    expect(stuckIn([neighbour(1, counter(9 * HOUR), true)], WINDOW).get(1)).toMatchObject([
      { kind: 'standing', neighbours: 0, value: 360 },
    ]);
    expect(stuckIn([neighbour(1, counter(6 * HOUR + 2 * MINUTE), true)], WINDOW).size).toBe(0);
    expect(stuckIn([neighbour(1, counter(9 * HOUR), false)], WINDOW).size).toBe(0);
  });
});

describe('values outside what a tag can be', () => {
  const beyond = (rows: readonly Row[], bounds = { low: 0, high: 100 }, near = 0) => {
    const book = new RangeBook(bounds, WINDOW, near);
    book.take(columns(rows));
    return book.finish();
  };
  const rows: Row[] = [
    [10, 50],
    [20, 101],
    [30, 140],
    [40, 60],
    [50, 100],
    [60, -3],
    [70, NaN, Status.BadSensorFailure],
    [80, 0],
  ];
  test('stretches reach to the next value, with the farthest', () => {
    expect(beyond(rows)).toEqual([
      { kind: 'beyond', from: 20, to: 40, values: 2, worst: 140, bound: 100 },
      { kind: 'beyond', from: 60, to: 70, values: 1, worst: -3, bound: 0 },
    ]);
  });
  test('stretches that nearly touch are one', () => {
    expect(beyond(rows, undefined, 20)).toEqual([
      { kind: 'beyond', from: 20, to: 70, values: 3, worst: 140, bound: 100 },
    ]);
  });
  test('what happens all the time is told a few times, with how often', () => {
    const noisy = Array.from({ length: 500 }, (_, i): Row => [i * 100, i % 3 === 0 ? 101 : 50]);
    const found = beyond(noisy);
    expect(found).toHaveLength(10);
    expect(found.reduce((sum, { values }) => sum + values, 0)).toBe(167);
    for (const [i, { from }] of found.entries()) if (i > 0) expect(from).toBeGreaterThan(found[i - 1]!.to);
  });
  test('nothing is colder than absolute zero, whatever the range says', () => {
    expect(boundsOf({ low: null, high: null, unit: '°C' })).toEqual({ low: -273.15, high: null });
    expect(boundsOf({ low: -500, high: 90, unit: '°C' })).toEqual({ low: -273.15, high: 90 });
    expect(boundsOf({ low: -20, high: 90, unit: '°C' })).toEqual({ low: -20, high: 90 });
    expect(boundsOf({ low: null, high: null, unit: 'bar' })).toEqual({ low: null, high: null });
    expect(beyond([[10, -300]], { low: null as never, high: null as never })).toEqual([]);
  });
});

describe('stamps by the order in which they came', () => {
  const arrivals = (stamps: readonly number[], received = 1e15) => {
    const book = new ArrivalBook(MINUTE);
    book.take('a', new Uint32Array(stamps.length).fill(7), Float64Array.from(stamps), received);
    return book.finish().get(7) ?? [];
  };
  test('in order there is nothing to tell', () => {
    expect(arrivals([1, 2, 3, 4])).toEqual([]);
  });
  test('that run backwards are one stretch up to the newest before', () => {
    const [a, b] = [10 * HOUR, 11 * HOUR];
    expect(arrivals([a, b, a + SECOND, a + 2 * SECOND, b + SECOND])).toEqual([
      { kind: 'backwards', from: a + SECOND, to: b, values: 2, most: HOUR - SECOND },
    ]);
  });
  test('of one writer behind those of another are in order', () => {
    const book = new ArrivalBook(MINUTE);
    book.take('a', Uint32Array.of(7), Float64Array.of(11 * HOUR), 1e15);
    book.take('b', Uint32Array.of(7), Float64Array.of(10 * HOUR), 1e15);
    expect(book.finish().size).toBe(0);
    book.take('a', Uint32Array.of(7), Float64Array.of(10 * HOUR), 1e15);
    expect([...book.finish().keys()]).toEqual([7]);
  });
  test('that lie ahead of their arrival, and those that came twice', () => {
    expect(arrivals([HOUR], 0)).toEqual([{ kind: 'ahead', from: HOUR, to: HOUR, values: 1, most: HOUR }]);
    expect(arrivals([SECOND], 0)).toEqual([]);
    expect(arrivals([5, 5, 6, 6])).toEqual([{ kind: 'doubled', from: 5, to: 6, values: 2, differing: false }]);
  });
});

describe('a clock that drifts', () => {
  /** Lateness of at least 300 ms, sometimes far more, of a clock that loses so many seconds a day. */
  const drift = (perDay: number, step = 0) => {
    const book = new DriftBook(WINDOW);
    for (let i = 0; i < 20_000; i++) {
      const received = (i / 20_000) * DAY;
      const extra = (i * 7919) % 13 === 0 ? 0 : ((i * 104_729) % 90) * SECOND;
      const wrong = (perDay * received) / DAY + (received > DAY / 2 ? step : 0);
      book.take(received - 0.3 * SECOND - extra - wrong, received);
    }
    return book.finish();
  };
  test('is told by its rate, however late other values come', () => {
    const found = drift(4 * SECOND)!;
    expect(found.perDay / SECOND).toBeCloseTo(4, 1);
    expect(found.lateAtLast - found.lateAtFirst).toBeCloseTo(4 * SECOND, -5);
    expect(drift(-40 * SECOND)!.perDay / SECOND).toBeCloseTo(-40, 0);
  });
  test('one that goes right, or stepped once, does not drift', () => {
    expect(drift(0)).toBeNull();
    expect(drift(0, 30 * SECOND)).toBeNull();
  });
  test('little is told by few entries', () => {
    const book = new DriftBook(WINDOW);
    book.take(0, 1);
    expect(book.finish()).toBeNull();
  });
});
