/**
 * Saltquay Exchange: the heat meters of the three exchanges into the city, and the plant's own, which tell their readings by
 * messages. All of it is invented.
 */
import { messageWith } from './messages.ts';
import { normal, wander } from './noise.ts';

const DAY = 86_400;
const YEAR = 365.25 * DAY;
const SITE = 'Saltquay Exchange';

/** Kilowatt-hours that a cubic metre carries for each kelvin: 4.186 kJ/(kg·K) × 0.98 kg/l. */
export const HEAT_COEFFICIENT = (4.186 * 980) / 3600;

/** The greatest share of an exchange, in kilowatts. */
const SIZES = [5200, 3900, 2600] as const;

/** A wave of the year (most in January) and one of the day (most in the morning), so that its integral is exact. */
const WAVES = [
  { period: YEAR, part: 0.35, peak: 20 * DAY },
  { period: DAY, part: 0.12, peak: 7 * 3600 },
  { period: DAY / 2, part: 0.06, peak: 6 * 3600 },
] as const;

/** Heat power of an exchange in kW. */
export const exchangePower = (n: number, t: number): number =>
  SIZES[n - 1]! *
  WAVES.reduce((sum, { period, part, peak }) => sum + part * Math.cos((2 * Math.PI * (t - peak)) / period), 0.54);

/** Heat of an exchange since 1970 in kWh: the integral of its power. */
export const exchangeHeat = (n: number, t: number): number =>
  (SIZES[n - 1]! *
    WAVES.reduce(
      (sum, { period, part, peak }) =>
        sum + ((part * period) / (2 * Math.PI)) * Math.sin((2 * Math.PI * (t - peak)) / period),
      0.54 * t,
    )) /
  3600;

const supply = (n: number, t: number): number => 92 - n + 1.5 * wander(300 + n, 3600, t);
const back = (n: number, t: number): number => 51 + n + 2 * wander(310 + n, 5400, t);

/** Volume flow in m³/h: what carries the power between supply and return. */
const volume = (n: number, t: number): number => exchangePower(n, t) / (HEAT_COEFFICIENT * (supply(n, t) - back(n, t)));

/** One reading of a meter: a field of its messages. */
export interface Reading {
  readonly tag: string;
  readonly field: string;
  readonly description: string;
  readonly unit: string;
  readonly type: 'real' | 'integer';
  readonly low: number;
  readonly high: number;
  /** Places behind the point, as the meter tells them. */
  readonly places: number;
  /** What it reads at a time (seconds since 1970). */
  readonly at: (seconds: number) => number;
  /** It is set by somebody, and stands until it is set again. */
  readonly writable?: boolean;
}

/** A meter that tells all of its readings in one message, at even times. */
export interface Meter {
  readonly topic: string;
  readonly place: string;
  readonly everySeconds: number;
  readonly readings: readonly Reading[];
  /** On which it takes what is to be set: `{"field": …, "value": …}`. */
  readonly command?: string;
}

const reading = (
  tag: string,
  field: string,
  description: string,
  unit: string,
  [low, high]: readonly [number, number],
  at: Reading['at'],
  places = 2,
): Reading => ({ tag, field, description, unit, type: 'real', low, high, places, at });

function exchange(n: number): Meter {
  const power = SIZES[n - 1]!;
  return {
    topic: `saltquay/exchange/${n}/meter`,
    place: `${SITE} / Exchange ${n}`,
    everySeconds: 2,
    readings: [
      reading(`SQ-FT-${n}01`, 'flow', 'heating water, volume flow', 'm³/h', [0, 250], (t) => volume(n, t), 3),
      reading(`SQ-TT-${n}02`, 'temperature.supply', 'supply temperature', '°C', [0, 130], (t) => supply(n, t)),
      reading(`SQ-TT-${n}03`, 'temperature.return', 'return temperature', '°C', [0, 130], (t) => back(n, t)),
      reading(`SQ-JT-${n}04`, 'power', 'heat power', 'kW', [0, 1.2 * power], (t) => exchangePower(n, t), 1),
      {
        ...reading(
          `SQ-JQ-${n}05`,
          'heat',
          'heat, counter of 10 kWh that wraps at 65,536',
          '',
          [0, 65_535],
          (t) => Math.floor(exchangeHeat(n, t) / 10) % 65_536,
          0,
        ),
        type: 'integer',
      },
    ],
  };
}

/** Three exchanges, and the city: the plant's own meter, whose power is that of the three, and the pressure of the net. */
export const SALTQUAY_METERS: readonly Meter[] = [
  exchange(1),
  exchange(2),
  exchange(3),
  {
    topic: 'saltquay/city/net',
    place: `${SITE} / City`,
    everySeconds: 2,
    readings: [
      reading(
        'SQ-JT-401',
        'power',
        'heat power into the city',
        'kW',
        [0, 15_000],
        (t) => exchangePower(1, t) + exchangePower(2, t) + exchangePower(3, t),
        1,
      ),
      reading(
        'SQ-PT-402',
        'pressure',
        'pressure of the net',
        'bar',
        [0, 16],
        (t) => 6.4 + 0.5 * wander(320, 1800, t) + 0.02 * normal(321, Math.floor(t)),
      ),
      {
        ...reading('SQ-PC-403', 'setPoint', 'pressure of the net, set point', 'bar', [4, 9], () => 6.4, 1),
        writable: true,
      },
    ],
    command: 'saltquay/city/net/set',
  },
];

/** What else passes there, and nobody archives: kept by the broker. */
const SALTQUAY_NOTES: readonly (readonly [topic: string, text: string])[] = [
  ['saltquay/gateway/status', 'online'],
  ['saltquay/exchange/1/meter/battery', '3.61'],
];

export const SALTQUAY = {
  name: 'Saltquay meters',
  place: SITE,
  meters: SALTQUAY_METERS,
  notes: SALTQUAY_NOTES,
} as const;

/** What somebody set of readings, in place of what they begin with. */
export type SetReadings = ReadonlyMap<Reading, number>;
const NOTHING_SET: SetReadings = new Map();

/** The value that a meter tells of a reading. */
export const toldAt = (reading: Reading, seconds: number, set = NOTHING_SET): number =>
  Number((set.get(reading) ?? reading.at(seconds)).toFixed(reading.places));

/** A meter's message of a moment (seconds since 1970). */
export const messageOf = ({ readings }: Meter, seconds: number, set = NOTHING_SET): string =>
  JSON.stringify(
    messageWith(
      { ts: new Date(seconds * 1000).toISOString(), quality: 'ok' },
      readings.map((one) => [one.field, toldAt(one, seconds, set)]),
    ),
  );
