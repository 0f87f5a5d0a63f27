/** Formulas: what they give and with which status, what is refused, and that the order in which samples came does not matter. */
import fc from 'fast-check';
import { expect, test } from '@jest/globals';
import {
  FORMULA_LIMITS,
  Formula,
  REMOVED,
  Status,
  derive,
  derivedDifference,
  firstAtOrAfter,
  formulaProblem,
  inputsOf,
  mergeFrames,
  touchedUntil,
  type Frame,
} from '../../src/index.ts';

const SECOND = 1_000_000;

/** One tag's samples: [seconds, value, status]. */
function series(...samples: readonly (readonly [number, number | string, number?])[]): Frame {
  const texts = samples.flatMap(([, value]) => (typeof value === 'string' ? [value] : []));
  return {
    tags: null,
    times: Float64Array.from(samples, ([time]) => time * SECOND),
    values: Float64Array.from(samples, ([, value]) => (typeof value === 'string' ? texts.indexOf(value) : value)),
    status: Uint32Array.from(samples, ([, , status]) => status ?? Status.Good),
    origins: null,
    texts,
  };
}

const EVER = { from: -Infinity, to: Infinity };
const at0 = (text: string, inputs: Record<string, Frame> = {}): number => {
  const formula = Formula.read(text);
  // A constant has no instants of its own.
  const frames = formula.inputs.length > 0 ? formula.inputs.map((name) => inputs[name]!) : [series([0, 0])];
  return derive(formula, frames, EVER).values.at(-1)!;
};

/** The rules of arithmetic and of ISO 80000-2 for the functions' names; 1.96e-3 and others reckoned by hand. */
test.each([
  ['1 + 2 * 3', 7],
  ['(1 + 2) * 3', 9],
  ['2 ^ 3 ^ 2', 512],
  ['-(2 ^ 2)', -4],
  ['2 ^ -1', 0.5],
  ['7 % 4', 3],
  ['1e3 / 4', 250],
  ['1 < 2 and 2 < 1 or 3 == 3', 1],
  ['not (1 > 2)', 1],
  ['true ? 5 : 6', 5],
  ['1 > 2 ? 5 : 3 > 2 ? 7 : 8', 7],
  ['round(2.5) + round(-2.5)', 0],
  ['round(2.345, 2)', 2.35],
  ['clamp(12, 0, 10)', 10],
  ['min(3, 1, 2) + max(3, 1, 2)', 4],
  ['ln(exp(2)) + log10(1000) + sqrt(16)', 9],
  ['floor(-1.2) + ceil(1.2) + abs(-3) + sign(-8)', 2],
  ['atan(1) * 4', Math.PI],
  ['"a" == "a"', 1],
])('%s = %d', (text, value) => expect(at0(text)).toBeCloseTo(value, 12));

test.each([
  ['', 'is empty'],
  ['1 +', 'cannot be read'],
  ['(a', 'cannot be read'],
  ['a.b', 'no fields'],
  ['a["b"]', 'no fields'],
  ['[1, 2]', 'nothing else'],
  ['this', 'nothing else'],
  ['a = 1', 'cannot be read'],
  ['a b', 'two formulas'],
  ['a, b', 'two formulas'],
  ['a & b', 'cannot be read'],
  ['eval("1")', 'no function eval'],
  ['a.constructor("return 1")()', 'no function'],
  ['sqrt(1, 2)', 'one number, not 2'],
  ['clamp(1)', '3 numbers, not 1'],
  ['previous(a + 1)', 'asks about an input'],
  ['"a" + 1', 'takes numbers'],
  ['"a" == 1', 'never the same'],
  ['a > 1 ? "on" : 0', 'Both ways'],
  ['1'.padEnd(FORMULA_LIMITS.characters + 1, '0'), 'characters'],
  ['-a ^ 2', 'two ways'],
  [
    Array(12)
      .fill(`min(${Array(50).fill('a').join()})`)
      .join('+'),
    'parts',
  ],
  ['-('.repeat(250) + 'a' + ')'.repeat(250), 'nested'],
])('what is no formula is refused: %#', (text, words) => expect(formulaProblem(text)).toContain(words));

test('whatever is typed gets a sentence, or is a formula; nothing of it reaches anything', () => {
  const piece = fc.constantFrom(
    ...['a', 'b', '1', '2.5', '"x"', '+', '-', '*', '/', '^', '(', ')', '?', ':', ',', '.', '[', ']', '==', '<'],
    ...['and', 'or', 'not', 'min', 'since', 'constructor', '__proto__', 'this', '`', '${', '\\', '\0', '=>', ' '],
  );
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
      const problem = formulaProblem(pieces.join(' '));
      expect(problem === null || problem.endsWith('.')).toBe(true);
    }),
    { numRuns: 500 },
  );
});

test('a value at each instant of any input, of the last value of each; the status is the worst that was looked at', () => {
  const a = series([0, 1], [2, 3, Status.UncertainSensorNotAccurate], [4, 5]);
  const b = series([1, 10], [3, 20, Status.BadNoCommunication], [5, 30]);
  const found = derive(Formula.read('a + b'), [a, b], EVER);
  expect([...found.times].map((time) => time / SECOND)).toEqual([0, 1, 2, 3, 4, 5]);
  expect([...found.values]).toEqual([NaN, 11, 13, NaN, NaN, 35]);
  expect([...found.status]).toEqual([
    Status.BadWaitingForInitialData,
    Status.Good,
    Status.UncertainSensorNotAccurate,
    Status.BadNoCommunication,
    Status.BadNoCommunication,
    Status.Good,
  ]);
  // Only the way that is taken counts.
  const either = derive(Formula.read('good(b) ? b : a'), [b, a], EVER);
  expect([...either.values]).toEqual([1, 10, 10, 3, 5, 30]);
});

test('the value before, and how long ago the last one was', () => {
  const a = series([0, 1], [2, 4], [6, 10]);
  const b = series([5, 0]);
  expect([
    ...derive(Formula.read('a - previous(a) + 0 * b'), [a, b], { from: 5 * SECOND, to: Infinity }).values,
  ]).toEqual([3, 6]);
  expect([...derive(Formula.read('since(a) + 0 * b'), [a, b], { from: 5 * SECOND, to: 6 * SECOND }).values]).toEqual([
    3,
  ]);
});

test('no number comes of a division by zero, and texts come of texts', () => {
  const a = series([0, 0]);
  expect([...derive(Formula.read('1 / a'), [a], EVER).status]).toEqual([Status.BadOutOfRange]);
  const state = series([0, 'runs'], [1, 'stands']);
  const said = derive(
    Formula.read('s == "runs" ? "yes" : s', (name) => name === 's'),
    [state],
    EVER,
  );
  expect([...said.values].map((place) => said.texts[place])).toEqual(['yes', 'stands']);
});

const instants = fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { maxLength: 12 });
const statusOf = fc.constantFrom(Status.Good, Status.Good, Status.Uncertain, Status.BadNoData);
const someSeries = instants.chain((times) =>
  fc
    .array(fc.tuple(fc.integer({ min: -5, max: 5 }), statusOf), { minLength: times.length, maxLength: times.length })
    .map((values) =>
      series(...times.sort((x, y) => x - y).map((time, i) => [time, ...values[i]!] as [number, number, number])),
    ),
);
const TEXTS = [
  'a + b',
  'a - previous(a) + since(b)',
  'good(a) ? a : previous(b)',
  'min(a, b) > 0 and a < 3 ? a / b : 7',
];

test('a window gives what the whole gives there; reaching back by two samples is enough', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...TEXTS),
      someSeries,
      someSeries,
      fc.integer({ min: 0, max: 60 }),
      (text, a, b, from) => {
        const formula = Formula.read(text);
        const inputs = formula.inputs.map((name) => (name === 'a' ? a : b));
        const whole = derive(formula, inputs, EVER);
        const late = inputs.map((frame) => sliceBack(frame, from * SECOND));
        const given = derive(formula, late, { from: from * SECOND, to: Infinity });
        const first = firstAtOrAfter(whole.times, from * SECOND);
        expect(columnsOf(given)).toEqual(columnsOf(part(whole, first)));
      },
    ),
  );
});

const columnsOf = ({ times, values, status }: Frame): number[][] => [[...times], [...values], [...status]];

/** The samples at places of a series. */
const part = (frame: Frame, from: number, to = frame.times.length): Frame => ({
  ...frame,
  times: frame.times.subarray(from, to),
  values: frame.values.subarray(from, to),
  status: frame.status.subarray(from, to),
});

/** A series from an instant on, with the two samples before it. */
const sliceBack = (frame: Frame, from: number): Frame =>
  part(frame, Math.max(0, firstAtOrAfter(frame.times, from) - 2));

test('a changed sample changes nothing beyond where it is said to; writing the difference makes what stands right', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...TEXTS),
      someSeries,
      someSeries,
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: -5, max: 5 }),
      (text, a, b, second, value) => {
        const formula = Formula.read(text);
        const change = series([second, value]);
        const origins = (frame: Frame): Frame => ({ ...frame, origins: new Uint8Array(frame.times.length) });
        const late = mergeFrames([origins(a), origins(change)]).frame;
        const before = derive(
          formula,
          formula.inputs.map((name) => (name === 'a' ? a : b)),
          EVER,
        );
        const after = derive(
          formula,
          formula.inputs.map((name) => (name === 'a' ? late : b)),
          EVER,
        );
        const span = { from: second * SECOND, to: touchedUntil(late.times, second * SECOND) };
        const within = (frame: Frame): Frame =>
          part(frame, firstAtOrAfter(frame.times, span.from), firstAtOrAfter(frame.times, span.to));
        const difference = derivedDifference(within(before), within(after));
        const mended = mergeFrames([origins(before), ...(difference ? [origins(difference)] : [])]).frame;
        expect(columnsOf(mended)).toEqual(columnsOf(after));
      },
    ),
  );
});

test('what is not there any more is removed', () => {
  const difference = derivedDifference(series([0, 1], [1, 2], [2, 3]), series([0, 1], [2, 4]))!;
  expect([...difference.times]).toEqual([SECOND, 2 * SECOND]);
  expect([...difference.status]).toEqual([REMOVED, Status.Good]);
  expect(derivedDifference(series([0, 1]), series([0, 1]))).toBeNull();
  expect(inputsOf(Formula.read('b + since(a) + b').part)).toEqual(['b', 'a']);
});
