/** A weather station on the roof of Saltquay Exchange, and the nameplates of its meters, as a service answers them. Invented. */
import { SALTQUAY_METERS } from './saltquay.ts';
import { messageWith } from './messages.ts';
import { wander } from './noise.ts';

const DAY = 86_400;

/** One reading of the station: a field of its answer. */
export interface WeatherReading {
  readonly tag: string;
  readonly field: string;
  readonly description: string;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  readonly at: (seconds: number) => number;
}

const daily = (peak: number, t: number): number => Math.cos((2 * Math.PI * (t - peak)) / DAY);

export const WEATHER_READINGS: readonly WeatherReading[] = [
  {
    tag: 'SQ-TT-501',
    field: 'temperature',
    description: 'outdoor temperature',
    unit: '°C',
    low: -30,
    high: 45,
    at: (t) => 6 + 4 * daily(14 * 3600, t) + 1.5 * wander(400, 7200, t),
  },
  {
    tag: 'SQ-MT-502',
    field: 'humidity',
    description: 'relative humidity',
    unit: '%',
    low: 0,
    high: 100,
    at: (t) => 74 - 12 * daily(14 * 3600, t) + 6 * wander(401, 5400, t),
  },
  {
    tag: 'SQ-ST-503',
    field: 'wind.speed',
    description: 'wind speed',
    unit: 'm/s',
    low: 0,
    high: 50,
    at: (t) => Math.max(0, 5 + 3 * wander(402, 600, t)),
  },
];

const WEATHER = '/weather';

export const WEATHER_SERVICE = {
  name: 'Saltquay weather',
  place: 'Saltquay Exchange',
  request: WEATHER,
  /** The station looks at its instruments so often. */
  everySeconds: 5,
  readings: WEATHER_READINGS,
} as const;

/** The value of a reading as the station tells it. */
export const weatherAt = ({ at }: WeatherReading, seconds: number): number => Number(at(seconds).toFixed(1));

/** What the service answers: the weather of a moment, or a meter's nameplate, which never changes. Undefined: it knows no such thing. */
export function answerTo(
  path: string,
  seconds: number,
): { readonly body: object; readonly holdsSeconds: number } | undefined {
  if (path === WEATHER) {
    const body = messageWith(
      { ts: new Date(seconds * 1000).toISOString(), station: 'roof' },
      WEATHER_READINGS.map((reading) => [reading.field, weatherAt(reading, seconds)]),
    );
    return { body, holdsSeconds: 0 };
  }
  const number = Number(/^\/nameplates\/(\d)$/.exec(path)?.[1] ?? NaN);
  const meter = SALTQUAY_METERS[number - 1];
  if (!meter) return undefined;
  return { body: { meter: number, place: meter.place, serial: `SQ-${4100 + number}`, year: 2019 }, holdsSeconds: 3600 };
}
