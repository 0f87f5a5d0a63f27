/** The booster station of Saltquay Exchange, whose edge node speaks Sparkplug B. Invented. */
import { wander } from './noise.ts';

export type MetricType = 'Int32' | 'Int64' | 'Float' | 'Boolean' | 'UInt64';

export interface StationMetric {
  readonly tag: string;
  /** Empty: the edge node's own. */
  readonly device: string;
  readonly name: string;
  readonly type: MetricType;
  readonly description: string;
  readonly unit: string;
  readonly low: number | null;
  readonly high: number | null;
  readonly at: (seconds: number) => number;
}

/** When its counters began. Seconds since 1970. */
const BEGAN = 1_767_225_600;
const PUMPS = 'Booster pumps';

const metric = (
  tag: string,
  device: string,
  name: string,
  type: MetricType,
  description: string,
  [unit, low, high]: readonly [unit: string, low: number | null, high: number | null],
  at: StationMetric['at'],
): StationMetric => ({ tag, device, name, type, description, unit, low, high, at });

export const SALTQUAY_STATION = {
  name: 'Saltquay station',
  place: 'Saltquay Exchange / Booster station',
  group: 'Emberfold',
  edge: 'Saltquay',
  /** It looks at its instruments so often, and tells what changed. */
  everySeconds: 2,
  metrics: [
    metric('SQ-KT-600', '', 'Uptime', 'UInt64', 'edge node, seconds since its start', ['s', null, null], (t) =>
      Math.floor(t - BEGAN),
    ),
    metric(
      'SQ-PT-601',
      PUMPS,
      'Header/Pressure',
      'Float',
      'booster header, pressure',
      ['bar', 0, 16],
      (t) => Math.round((6.2 + 0.4 * wander(801, 120, t)) * 100) / 100,
    ),
    metric('SQ-ST-602', PUMPS, 'Pump 1/Speed', 'Int32', 'booster pump 1, speed', ['1/min', 0, 3000], (t) =>
      Math.round(1450 + 220 * wander(802, 300, t)),
    ),
    metric('SQ-XS-603', PUMPS, 'Pump 2/Running', 'Boolean', 'booster pump 2, running', ['', null, null], (t) =>
      Number(wander(803, 900, t) > 0),
    ),
    metric('SQ-JQ-604', PUMPS, 'Energy', 'Int64', 'booster pumps, energy', ['Wh', null, null], (t) =>
      Math.floor((t - BEGAN) * 612),
    ),
  ],
} as const;
