/** What is kept of a series: along lines (the swinging door), by a deadband; and settings tried on what was recorded. */
import fc from 'fast-check';
import {
  SECOND,
  KeepingRehearsal,
  SeriesKeeping,
  Status,
  SwingingDoor,
  isBad,
  proposeDeadband,
  type Columns,
  type Deadband,
  type RehearsedKeeping,
} from '../../src/index.ts';

interface Point {
  readonly time: number;
  readonly value: number;
}
const atSteps = (...values: number[]): Point[] => values.map((value, time) => ({ time, value }));

function throughDoor(points: readonly Point[], width: number): Point[] {
  const door = new SwingingDoor<Point>(width);
  const kept = points.flatMap((point) => door.offer(point) ?? []);
  const held = door.end();
  return held ? [...kept, held] : kept;
}

/** The largest distance of a dropped point from the line between the kept ones around it. */
function worst(points: readonly Point[], kept: readonly Point[]): number {
  let most = 0;
  for (const { time, value } of points) {
    const after = kept.find((one) => one.time >= time)!;
    const before = kept.findLast((one) => one.time <= time)!;
    const part = after === before ? 0 : (time - before.time) / (after.time - before.time);
    most = Math.max(most, Math.abs(value - (before.value + part * (after.value - before.value))));
  }
  return most;
}

describe('the swinging door', () => {
  // The case and the counter-example of the project's references (4.1); the door itself: Bristol, ISA 1990.
  test('keeps the corners of the case that is worked by hand', () => {
    expect(throughDoor(atSteps(0, 1, 2, 3, 0, 0, 0), 0.5)).toEqual([
      { time: 0, value: 0 },
      { time: 3, value: 3 },
      { time: 4, value: 0 },
      { time: 6, value: 0 },
    ]);
  });

  test('keeps its promise where the usual form does not: −4, 0, −2, 4 at a width of 2', () => {
    const points = atSteps(-4, 0, -2, 4);
    expect(worst(points, [points[0]!, points[3]!])).toBeCloseTo(10 / 3, 12);
    expect(worst(points, throughDoor(points, 2))).toBeLessThanOrEqual(2);
  });

  test('law: whatever comes, nothing that is left out lies further from the line than the width', () => {
    const steps = fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: -5, max: 5 })), {
      maxLength: 120,
    });
    fc.assert(
      fc.property(steps, fc.integer({ min: 0, max: 8 }), (walk, width) => {
        let [time, value] = [0, 0];
        const points = [{ time, value }];
        for (const [passed, moved] of walk) points.push({ time: (time += passed), value: (value += moved) });
        const kept = throughDoor(points, width);
        expect(worst(points, kept)).toBeLessThanOrEqual(width + 1e-9);
        expect([kept[0], kept.at(-1)]).toEqual([points[0], points.at(-1)]);
        expect(kept.every((one) => points.includes(one))).toBe(true);
        expect(new Set(kept).size).toBe(kept.length);
      }),
    );
  });

  test('a straight line is its two ends, however long', () => {
    expect(
      throughDoor(
        Array.from({ length: 1000 }, (_, time) => ({ time, value: 3 * time })),
        0,
      ),
    ).toHaveLength(2);
  });
});

interface Sample extends Point {
  readonly status: number;
}
function keep(samples: readonly Sample[], deadband: Deadband, longestSilence: number | null = null): Sample[] {
  const keeping = new SeriesKeeping<Sample>({ deadband, longestSilence, range: { low: 0, high: 100 } });
  const kept = samples.flatMap((sample) => keeping.take(sample));
  const held = keeping.end();
  return held ? [...kept, held] : kept;
}
const seconds = (...values: (number | [number, number])[]): Sample[] =>
  values.map((given, i) => {
    const [value, status] = typeof given === 'number' ? [given, Status.Good] : given;
    return { time: i * SECOND, value, status };
  });

describe('keeping', () => {
  test('along lines a change of quality, a value that is none and the longest silence always pass', () => {
    const samples = seconds(
      0,
      1,
      2,
      [3, Status.Uncertain],
      [4, Status.Uncertain],
      [NaN, Status.Bad],
      [NaN, Status.Bad],
      9,
    );
    const along = keep(samples, { kind: 'line', width: 0.1 });
    expect(along.map(({ time, value }) => [time / SECOND, value])).toEqual([
      [0, 0],
      [2, 2],
      [3, 3],
      [4, 4],
      [5, NaN],
      [7, 9],
    ]);
    const line = seconds(...Array.from({ length: 31 }, (_, i) => i));
    expect(keep(line, { kind: 'line percent', percent: 1 }, 10 * SECOND).map(({ value }) => value)).toEqual([
      0, 10, 20, 30,
    ]);
    const texts = Array.from({ length: 21 }, (_, i) => ({ time: i * SECOND, value: 'on', status: Status.Good }));
    const still = new SeriesKeeping({ deadband: { kind: 'line', width: 1 }, longestSilence: 10 * SECOND, range: null });
    expect(texts.flatMap((one) => still.take(one)).map(({ time }) => time / SECOND)).toEqual([0, 10, 20]);
    // Nobody waits for ever for a line to bend.
    const long = Array.from({ length: 1300 }, (_, i) => ({ time: i * SECOND, value: i, status: Status.Good }));
    expect(keep(long, { kind: 'line', width: 1 }).map(({ value }) => value)).toEqual([0, 600, 1200, 1299]);
  });

  test('law: each change of quality is kept, and both promises hold within a quality', () => {
    const value = fc.integer({ min: -20, max: 20 });
    const status = fc.constantFrom<number>(Status.Good, Status.Good, Status.Good, Status.Uncertain, Status.Bad);
    const deadband = fc.constantFrom<Deadband>(
      { kind: 'line', width: 3 },
      { kind: 'line percent', percent: 2 },
      { kind: 'absolute', width: 3 },
      { kind: 'percent', percent: 4 },
      { kind: 'none' },
    );
    const samples = fc.array(fc.tuple(value, status), { minLength: 1, maxLength: 80 }).map((all) => seconds(...all));
    fc.assert(
      fc.property(samples, deadband, (given, how) => {
        const kept = keep(given, how);
        given.forEach((sample, i) => {
          if (i === 0 || sample.status !== given[i - 1]!.status) expect(kept).toContain(sample);
        });
        const width = { line: 3, 'line percent': 2, absolute: 3, percent: 4, none: 0 }[how.kind];
        for (const sample of given) {
          const before = kept.findLast(({ time }) => time <= sample.time)!;
          const after = kept.find(({ time }) => time >= sample.time);
          expect(before.status).toBe(sample.status);
          if (!how.kind.startsWith('line')) expect(Math.abs(sample.value - before.value)).toBeLessThanOrEqual(width);
          else if (after?.status === sample.status) expect(worst([sample], kept)).toBeLessThanOrEqual(width + 1e-9);
          else expect(sample).toBe(before);
        }
      }),
    );
  });
});

const columns = (values: readonly number[], step = SECOND): Columns => ({
  times: Float64Array.from(values, (_, i) => i * step),
  values: Float64Array.from(values),
  status: new Uint32Array(values.length),
});
const settings = (over: Partial<RehearsedKeeping> = {}): RehearsedKeeping => ({
  deadband: { kind: 'none' },
  longestSilence: null,
  range: null,
  interval: 0,
  ...over,
});

const rehearseKeeping = (recorded: Columns, how: RehearsedKeeping, stepped: boolean) =>
  new KeepingRehearsal(recorded, stepped).try(how);

describe('a rehearsal of keeping', () => {
  const day = Array.from({ length: 4 * 3600 }, (_, i) => 20 + 5 * Math.sin(i / 600) + 0.02 * ((i * 7919) % 11));

  test('without a filter all is kept, and nothing differs', () => {
    const outcome = rehearseKeeping(columns(day), settings(), false);
    expect([outcome.kept.length, outcome.largestError, outcome.bytes]).toEqual([day.length, 0, outcome.bytesBefore]);
    // The first hour begins with the first value.
    expect(outcome.hourly.map(({ largest, hours }) => [largest, hours])).toEqual(Array(4).fill([0, 3]));
  });

  test('along lines the error is within the promise, and so is every hourly average', () => {
    const outcome = rehearseKeeping(columns(day), settings({ deadband: { kind: 'line', width: 0.3 } }), false);
    expect(outcome.largestError).toBeLessThanOrEqual(0.3 + 1e-9);
    expect(outcome.largestError).toBeGreaterThan(0.1);
    expect(outcome.meanError).toBeLessThan(outcome.largestError);
    expect(outcome.kept.length).toBeLessThan(day.length / 20);
    const of = (name: string) => outcome.hourly.find(({ aggregate }) => aggregate === name)!;
    expect(of('TimeAverage2').largest).toBeLessThanOrEqual(0.3 + 1e-9);
    expect(of('Total2').largest).toBeCloseTo(3600 * of('TimeAverage2').largest, 6);
    expect(of('Maximum2').largest).toBeLessThanOrEqual(0.3 + 1e-9);
  });

  test('a slower reading sees one value a beat, and misses what lies between', () => {
    const spikes = Array.from({ length: 7200 }, (_, i) => (i % 60 === 31 ? 10 : 0));
    const outcome = rehearseKeeping(columns(spikes), settings({ interval: 60 * SECOND }), true);
    expect([...outcome.kept.slice(0, 3)]).toEqual([0, 60, 120]);
    expect([outcome.largestError, outcome.largestErrorAt]).toEqual([10, 31 * SECOND]);
    expect(outcome.hourly.find(({ aggregate }) => aggregate === 'Maximum2')).toMatchObject({ largest: 10 });
  });

  test('what is bad or empty is no error; nothing recorded is nothing', () => {
    const broken = { ...columns([1, NaN, 3, 4]), status: Uint32Array.of(0, Status.Bad, Status.Bad, 0) };
    expect(rehearseKeeping(broken, settings(), false)).toMatchObject({ largestError: 0, largestErrorAt: null });
    expect(rehearseKeeping(columns([]), settings(), false)).toMatchObject({ bytes: 0, bytesPerDay: 0, meanError: 0 });
    expect(isBad(broken.status[1]!)).toBe(true);
  });

  test('a deadband is proposed out of the noise, whatever the values do besides', () => {
    // Normal noise of 0.05 (by Box and Muller) over a ramp with a jump.
    // Park and Miller's generator.
    let state = 7;
    const draw = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
    const noisy = Array.from({ length: 20_000 }, (_, i) => {
      const [u, v] = [draw(), draw()];
      return i / 1000 + (i > 9000 ? 50 : 0) + 0.05 * Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v);
    });
    const proposed = proposeDeadband(columns(noisy))!;
    expect(proposed.noise).toBeGreaterThan(0.045);
    expect(proposed.noise).toBeLessThan(0.055);
    expect(proposed.deadband).toEqual({ kind: 'absolute', width: 0.15 });
    expect(proposed.sentence).toMatch(/^Neighbouring values scatter by 0\.0\d+ /);
    expect(proposeDeadband(columns(Array(100).fill(5)))).toBeNull();
    expect(proposeDeadband(columns([1, 2]))).toBeNull();
    // A wave of eight samples a period is no noise.
    const wave = columns(Array.from({ length: 500 }, (_, i) => 40 * Math.sin((2 * Math.PI * i) / 8)));
    expect(proposeDeadband(wave)!.noise).toBeGreaterThan(5);
    expect(proposeDeadband(wave, { period: 8, amplitude: 40, share: 1 })).toBeNull();
    expect(proposeDeadband(columns(noisy), { period: 600, amplitude: 5, share: 0.5 })!.deadband).toEqual(
      proposed.deadband,
    );
  });
});
