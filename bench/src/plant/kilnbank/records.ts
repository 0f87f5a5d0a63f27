/** What Kilnbank writes down by itself: its recorder into files, its laboratory into a workbook, its boiler into a table. Invented. */
import { wander } from '../noise.ts';

/** One quantity that is written down. */
export interface RecordedPoint {
  readonly tag: string;
  /** As the record calls it. */
  readonly series: string;
  readonly description: string;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  readonly at: (seconds: number) => number;
}

const PLACE = 'Kilnbank';

/** The recorder of the water treatment: a row every ten seconds, a file each hour, as its clock in the control room shows. */
export const RECORDER = {
  name: 'Kilnbank recorder',
  place: `${PLACE} / Water treatment`,
  everySeconds: 10,
  zone: 'Europe/Berlin',
  points: [
    {
      tag: 'KB-CT-601',
      series: 'Conductivity',
      description: 'make-up water, conductivity',
      unit: 'µS/cm',
      low: 0,
      high: 500,
      at: (t) => 182 + 14 * wander(610, 1800, t) + 2 * wander(611, 60, t),
    },
    {
      tag: 'KB-AT-602',
      series: 'pH',
      description: 'make-up water, pH',
      unit: 'pH',
      low: 0,
      high: 14,
      at: (t) => 8.9 + 0.2 * wander(612, 3600, t),
    },
    {
      tag: 'KB-FT-603',
      series: 'Make-up flow',
      description: 'make-up water, flow',
      unit: 'm³/h',
      low: 0,
      high: 10,
      at: (t) => Math.max(0, 2.4 + 1.6 * wander(613, 900, t)),
    },
  ] satisfies RecordedPoint[],
} as const;

/** The laboratory: a sample of the network's water each hour, written into a workbook. */
export const LABORATORY = {
  name: 'Kilnbank laboratory',
  place: `${PLACE} / Laboratory`,
  everySeconds: 3600,
  zone: 'Europe/Berlin',
  sheet: 'Samples',
  points: [
    {
      tag: 'KB-AT-611',
      series: 'Hardness',
      description: 'network water, hardness',
      unit: '°dH',
      low: 0,
      high: 5,
      at: (t) => 0.08 + 0.03 * wander(620, 86_400, t),
    },
    {
      tag: 'KB-AT-612',
      series: 'Chloride',
      description: 'network water, chloride',
      unit: 'mg/l',
      low: 0,
      high: 100,
      at: (t) => 18 + 3 * wander(621, 172_800, t),
    },
  ] satisfies RecordedPoint[],
} as const;

/** The peak boiler's own logger: a table with a row for each value, every five seconds. */
export const BOILER_LOG = {
  name: 'Kilnbank boiler log',
  place: `${PLACE} / Peak boiler`,
  everySeconds: 5,
  database: 'boiler_log',
  table: 'boiler_log',
  reader: 'boiler_log_reader',
  points: [
    {
      tag: 'KB-TT-701',
      series: 'flue_gas_temperature',
      description: 'peak boiler, flue gas',
      unit: '°C',
      low: 0,
      high: 400,
      at: (t) => 168 + 22 * wander(710, 1200, t),
    },
    {
      tag: 'KB-AT-702',
      series: 'flue_gas_oxygen',
      description: 'peak boiler, oxygen in the flue gas',
      unit: '%',
      low: 0,
      high: 21,
      at: (t) => 4.1 + 0.9 * wander(711, 600, t),
    },
    {
      tag: 'KB-PT-703',
      series: 'draught',
      description: 'peak boiler, draught',
      unit: 'Pa',
      low: -100,
      high: 0,
      at: (t) => -32 + 9 * wander(712, 300, t),
    },
  ] satisfies RecordedPoint[],
} as const;

/** A value as it is written down. */
export const writtenDown = ({ at }: RecordedPoint, seconds: number): number => Number(at(seconds).toFixed(2));
