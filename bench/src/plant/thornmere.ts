/** Thornmere Wells: three production wells and a reinjection well, as formulas of time. All of it is invented. */
import { chance, normal, wander } from './noise.ts';
import { real, type Point } from './points.ts';

const DAY = 86_400;
const YEAR = 365.25 * DAY;

/** 1 in winter, 0 in summer: the district's need for heat. */
export const heatNeed = (t: number): number =>
  0.55 + 0.4 * Math.cos((2 * Math.PI * (t - 20 * DAY)) / YEAR) + 0.05 * wander(90, 6 * 3600, t);

/** More in the morning and the evening. */
const dayShape = (t: number): number => 0.06 * Math.cos((2 * Math.PI * (t - 7 * 3600)) / (DAY / 2));

/** A pump runs but for a few planned hours a month, drawn by chance per six hours. */
const running = (well: number, t: number): boolean => chance(700 + well, Math.floor(t / 21_600)) > 0.015;

/** 0 stopped, 1 starting, 2 running. */
export function pumpState(well: number, t: number): number {
  if (!running(well, t)) return 0;
  return running(well, t - 240) ? 2 : 1;
}

/** Brine flow in m³/h with the meter's noise, before the converter makes steps of it. */
function flow(well: number, t: number): number {
  const state = pumpState(well, t);
  if (state === 0) return 0;
  const base = [182, 176, 158][well - 1]! * (0.72 + 0.3 * heatNeed(t) + dayShape(t)) * (state === 1 ? 0.45 : 1);
  return base + 3 * wander(10 + well, 1800, t) + 0.9 * normal(20 + well, Math.floor(t));
}

const wellheadPressure = (well: number, t: number): number =>
  11.6 +
  0.25 * well -
  0.008 * flow(well, t) +
  0.6 * wander(30 + well, 7200, t) +
  0.02 * normal(40 + well, Math.floor(t));

const wellTemperature = (well: number, t: number): number =>
  118.9 - 1.3 * well + 0.8 * wander(50 + well, 5400, t) + (pumpState(well, t) === 0 ? -9 : 0);

/** The pulsation damper: a wave of 8 s period and amplitude 40 kPa about 620 kPa. What sampling too slowly hides. */
const pulsation = (t: number): number => 620 + 40 * Math.sin((2 * Math.PI * t) / 8);

/** Brine in kg/s that goes back down: what was produced less two in a hundred. */
const reinjected = (t: number): number => ((flow(1, t) + flow(2, t) + flow(3, t)) * 945 * 0.98) / 3600;

/** A pulse counter of 16 bits: 10 l a pulse at about 500 m³/h wraps every hour and a quarter. */
const PULSES_PER_SECOND = 14.5;
const counter = (t: number): number => Math.floor(t * PULSES_PER_SECOND + 900 * wander(61, 1800, t)) % 65_536;

/** Lower half of a running hour counter, in seconds: never resets. */
const runningSeconds = (t: number): number => Math.floor(t - 1_600_000_000);

export const SITE = 'Thornmere Wells';

/** A 12-bit converter over a range: the steps in which an analogue flow arrives. */
const converter = (low: number, high: number): Pick<Point, 'low' | 'high' | 'register' | 'scaling'> => ({
  low,
  high,
  register: 'uint16',
  scaling: { factor: (high - low) / 4095, offset: low, places: 3 },
});

const tenths = { factor: 0.1, offset: 0, places: 1 };
const hundredths = { factor: 0.01, offset: 0, places: 2 };
const thousandths = { factor: 0.001, offset: 0, places: 3 };

function well(n: number): Point[] {
  const place = `${SITE} / Well ${n}`;
  const at = 20 * (n - 1);
  return [
    real({
      tag: `TW-FT-${n}01`,
      description: 'brine flow, production',
      place,
      unit: 'm³/h',
      ...converter(0, 250),
      address: at,
      at: (t) => flow(n, t),
    }),
    real({
      tag: `TW-PT-${n}02`,
      description: 'well-head pressure',
      place,
      unit: 'bar',
      low: 0,
      high: 25,
      register: 'int16',
      scaling: thousandths,
      address: at + 1,
      deadband: { kind: 'absolute', width: 0.02 },
      longestSilenceSeconds: 600,
      at: (t) => wellheadPressure(n, t),
    }),
    real({
      tag: `TW-TT-${n}03`,
      description: 'brine temperature',
      place,
      unit: '°C',
      low: 0,
      high: 160,
      register: 'int16',
      scaling: hundredths,
      address: at + 2,
      at: (t) => wellTemperature(n, t),
    }),
    real({
      tag: `TW-XS-${n}04`,
      description: 'pump state',
      place,
      type: 'state',
      states: { '0': 'stopped', '1': 'starting', '2': 'running' },
      low: 0,
      high: 2,
      address: at + 3,
      deadband: { kind: 'absolute', width: 0.5 },
      longestSilenceSeconds: 3600,
      at: (t) => pumpState(n, t),
    }),
    real({
      tag: `TW-JT-${n}05`,
      description: 'pump power',
      place,
      unit: 'kW',
      low: 0,
      high: 400,
      register: 'float32',
      order: (['ABCD', 'CDAB', 'BADC'] as const)[n - 1]!,
      address: at + 4,
      at: (t) => (pumpState(n, t) === 0 ? 0.4 : 60 + 0.9 * flow(n, t) + 1.5 * normal(70 + n, Math.floor(t))),
    }),
    real({
      tag: `TW-YS-${n}06`,
      description: 'pump released',
      place,
      type: 'boolean',
      area: 'coil',
      address: n - 1,
      deadband: { kind: 'absolute', width: 0.5 },
      longestSilenceSeconds: 3600,
      at: (t) => Number(running(n, t)),
    }),
  ];
}

/** Every point of the controller, 26 of them. */
export const THORNMERE_POINTS: readonly Point[] = [
  ...well(1),
  ...well(2),
  ...well(3),
  real({
    tag: 'TW-PT-110',
    description: 'pulsation at the degasser, 8 s wave',
    place: `${SITE} / Degasser`,
    unit: 'kPa',
    low: 500,
    high: 750,
    register: 'float32',
    order: 'DCBA',
    address: 60,
    intervalMilliseconds: 250,
    at: pulsation,
  }),
  real({
    tag: 'TW-LT-111',
    description: 'degasser level',
    place: `${SITE} / Degasser`,
    unit: '%',
    low: 0,
    high: 100,
    register: 'int16',
    scaling: tenths,
    address: 62,
    at: (t) => 52 + 9 * wander(80, 900, t),
  }),
  real({
    tag: 'TW-FT-401',
    description: 'brine, reinjected mass flow',
    place: `${SITE} / Reinjection`,
    unit: 'kg/s',
    low: 0,
    high: 200,
    register: 'int32',
    scaling: thousandths,
    order: 'CDAB',
    address: 64,
    at: reinjected,
  }),
  real({
    tag: 'TW-PT-402',
    description: 'reinjection pressure',
    place: `${SITE} / Reinjection`,
    unit: 'bar',
    low: 0,
    high: 60,
    register: 'int16',
    scaling: hundredths,
    address: 66,
    at: (t) => 24 + 0.06 * reinjected(t) + 0.8 * wander(81, 3600, t),
  }),
  real({
    tag: 'TW-TT-403',
    description: 'reinjection temperature',
    place: `${SITE} / Reinjection`,
    unit: '°C',
    low: 0,
    high: 120,
    register: 'int16',
    scaling: hundredths,
    address: 67,
    at: (t) => 61 + 3 * wander(82, 7200, t) - 4 * heatNeed(t),
  }),
  real({
    tag: 'TW-FQ-404',
    description: 'reinjected volume, counter of 10 l pulses',
    place: `${SITE} / Reinjection`,
    type: 'integer',
    low: 0,
    high: 65_535,
    register: 'uint16',
    address: 68,
    at: counter,
  }),
  real({
    tag: 'TW-PC-410',
    description: 'reinjection pressure, most allowed',
    place: `${SITE} / Reinjection`,
    unit: 'bar',
    low: 20,
    high: 55,
    register: 'uint16',
    scaling: hundredths,
    address: 74,
    intervalMilliseconds: 5000,
    writable: true,
    at: () => 48,
  }),
  real({
    tag: 'TW-HS-411',
    description: 'reinjection released',
    place: `${SITE} / Reinjection`,
    type: 'boolean',
    area: 'coil',
    address: 20,
    intervalMilliseconds: 5000,
    writable: true,
    at: () => 1,
  }),
  real({
    tag: 'TW-KT-405',
    description: 'controller running time',
    place: `${SITE} / Controller`,
    unit: 's',
    type: 'integer',
    register: 'uint32',
    address: 70,
    intervalMilliseconds: 10_000,
    at: runningSeconds,
  }),
  real({
    tag: 'TW-TT-501',
    description: 'outdoor temperature',
    place: `${SITE} / Weather`,
    unit: '°C',
    low: -30,
    high: 45,
    register: 'int16',
    scaling: tenths,
    address: 72,
    intervalMilliseconds: 5000,
    at: (t) =>
      10 -
      11 * Math.cos((2 * Math.PI * (t - 20 * DAY)) / YEAR) -
      4 * Math.cos((2 * Math.PI * (t - 2 * 3600)) / DAY) +
      3 * wander(83, DAY, t),
  }),
];

export const THORNMERE = { name: 'Thornmere controller', place: SITE, unit: 1, points: THORNMERE_POINTS } as const;
