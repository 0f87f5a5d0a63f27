/** A gateway at Kilnbank with several units behind it: a meter, one that is off, a slow one, a busy one, and signals. */
import { wander } from './noise.ts';
import { signalAt, type Signal } from './signals.ts';
import type { Point } from './points.ts';

/** How a unit behaves that is asked. */
export type Manner = 'well' | 'off' | 'slow' | 'busy';

export interface Unit {
  readonly unit: number;
  readonly name: string;
  readonly manner: Manner;
  readonly points: readonly Point[];
}

const SITE = 'Kilnbank Heat Plant';

const reading = (tag: string, description: string, address: number, at: Point['at'], unit = ''): Point => ({
  tag,
  description,
  place: `${SITE} / Gateway`,
  unit,
  type: 'real',
  low: null,
  high: null,
  area: 'holding',
  address,
  register: 'float32',
  order: 'ABCD',
  intervalMilliseconds: 1000,
  at,
});

const meter = (unit: number): Point[] => [
  reading(`Meter ${unit} power`, 'active power', 0, (t) => 40 + 10 * unit + 8 * wander(1100 + unit, 900, t), 'kW'),
  reading(`Meter ${unit} voltage`, 'voltage', 2, (t) => 400 + 2 * wander(1110 + unit, 600, t), 'V'),
  reading(`Meter ${unit} current`, 'current', 4, (t) => 60 + 14 * wander(1120 + unit, 900, t), 'A'),
];

/** The generator's unit. Its signals are set on the Bench screen. */
export const SIGNALS_UNIT = 5;

/** The signals as they begin: each shape once, with a period of eight seconds. */
export const FIRST_SIGNALS: readonly Signal[] = (
  ['sine', 'triangle', 'square', 'ramp', 'noise', 'counter'] as const
).map((shape) => ({
  shape,
  period: shape === 'counter' ? 0.5 : 8,
  amplitude: 40,
  offset: 100,
  renewMilliseconds: 100,
}));

/** A point that holds a signal as it is set at the moment. */
export const signalPoint = (number: number, signal: () => Signal): Point =>
  reading(`Signal ${number}`, 'set by hand', 2 * (number - 1), (t) => signalAt(signal(), t));

export const GATEWAY = {
  name: 'Kilnbank gateway',
  place: SITE,
  units: [
    { unit: 1, name: 'Meter 1', manner: 'well', points: meter(1) },
    { unit: 2, name: 'Meter 2', manner: 'off', points: meter(2) },
    { unit: 3, name: 'Meter 3', manner: 'slow', points: meter(3) },
    { unit: 4, name: 'Meter 4', manner: 'busy', points: meter(4) },
  ] satisfies Unit[],
} as const;
