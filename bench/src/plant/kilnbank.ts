/** Kilnbank Heat Plant: exchangers, pumps, a peak boiler and water treatment, as formulas of time. All of it is invented. */
import { chance, normal, wander } from './noise.ts';
import { heatNeed } from './thornmere.ts';

/** A variable in a controller's tree. */
export interface Variable {
  /** The folders in which it lies, outermost first. */
  readonly path: readonly string[];
  readonly name: string;
  /** The tag as which the demo keeps it; most are left for people to take. */
  readonly tag?: string;
  readonly description: string;
  readonly unit: string;
  readonly low: number | null;
  readonly high: number | null;
  readonly type: 'Double' | 'Float' | 'Int32' | 'UInt16' | 'Int64' | 'Boolean' | 'String' | 'DoubleArray';
  readonly states?: readonly string[];
  /** What it holds at a time (seconds since 1970). */
  readonly at: (seconds: number) => number | string | boolean | bigint | readonly number[];
}

/** A controller of the plant that speaks OPC UA. */
export interface Controller {
  readonly name: string;
  readonly place: string;
  readonly variables: readonly Variable[];
}

type Draft = Partial<Variable> & Pick<Variable, 'name' | 'description' | 'at'>;

const within = (path: readonly string[], drafts: readonly Draft[]): Variable[] =>
  drafts.map((draft) => ({ path, unit: '', low: null, high: null, type: 'Double', ...draft }));

/** A measurement that wanders about a middle, with its instrument's noise. */
const about =
  (seed: number, middle: number, swing: number, noise: number, seconds = 3600) =>
  (t: number): number =>
    middle + swing * wander(seed, seconds, t) + noise * normal(seed + 5000, Math.floor(t));

/** Water through the district's network in m³/h: follows the need for heat. */
const networkFlow = (t: number): number => 900 * (0.35 + 0.65 * heatNeed(t)) + 12 * wander(400, 1800, t);
const supplyTemperature = (t: number): number => 82 + 14 * heatNeed(t) + 1.2 * wander(401, 2700, t);
const returnTemperature = (t: number): number => 47 + 5 * heatNeed(t) + 0.9 * wander(402, 2700, t);

/** Heat in MW out of flow and temperatures: the coefficient of water near 70 °C, in kWh/(m³·K). */
const HEAT_COEFFICIENT = 1.135;
const heat = (t: number, share: number): number =>
  (share * networkFlow(t) * HEAT_COEFFICIENT * (supplyTemperature(t) - returnTemperature(t))) / 1000;

/** Pumps take turns: one rests in each six hours. */
const pumpRuns = (pump: number, t: number): boolean => Math.floor(chance(450, Math.floor(t / 21_600)) * 3) + 1 !== pump;

const pump = (n: number): Variable[] =>
  within(
    ['Pumps', `Pump ${n}`],
    [
      {
        name: 'Pressure',
        tag: `KB-PT-${n}01`,
        description: 'discharge pressure',
        unit: 'bar',
        low: 0,
        high: 16,
        at: (t) => (pumpRuns(n, t) ? about(500 + n, 7.4, 0.5, 0.02)(t) : about(500 + n, 4.1, 0.1, 0.01)(t)),
      },
      {
        name: 'SuctionPressure',
        description: 'suction pressure',
        unit: 'bar',
        low: 0,
        high: 10,
        at: about(510 + n, 3.2, 0.2, 0.01),
      },
      {
        name: 'Flow',
        tag: `KB-FT-${n}02`,
        description: 'flow',
        unit: 'm³/h',
        low: 0,
        high: 800,
        at: (t) => (pumpRuns(n, t) ? networkFlow(t) / 2 : 0),
      },
      {
        name: 'Speed',
        tag: `KB-ST-${n}03`,
        description: 'speed',
        unit: 'rpm',
        low: 0,
        high: 1800,
        type: 'Float',
        at: (t) => (pumpRuns(n, t) ? 900 + 0.7 * networkFlow(t) : 0),
      },
      {
        name: 'Power',
        tag: `KB-JT-${n}04`,
        description: 'electric power',
        unit: 'kW',
        low: 0,
        high: 250,
        at: (t) => (pumpRuns(n, t) ? 40 + 0.11 * networkFlow(t) : 0.3),
      },
      {
        name: 'BearingTemperature',
        tag: `KB-TT-${n}05`,
        description: 'drive-end bearing',
        unit: '°C',
        low: 0,
        high: 120,
        at: about(520 + n, 54, 6, 0.1),
      },
      {
        name: 'Vibration',
        description: 'vibration, by axis',
        unit: 'mm/s',
        low: 0,
        high: 20,
        type: 'DoubleArray',
        at: (t) => [1, 2, 3].map((axis) => 2 + 0.4 * axis + 0.3 * wander(530 + 10 * n + axis, 600, t)),
      },
      { name: 'Running', description: 'runs', type: 'Boolean', at: (t) => pumpRuns(n, t) },
      {
        name: 'State',
        tag: `KB-XS-${n}06`,
        description: 'state',
        type: 'Int32',
        states: ['stopped', 'starting', 'running', 'tripped'],
        at: (t) => (pumpRuns(n, t) ? (pumpRuns(n, t - 60) ? 2 : 1) : 0),
      },
      {
        name: 'Hours',
        description: 'running hours',
        unit: 'h',
        type: 'Int32',
        low: 0,
        high: 200_000,
        at: (t) => Math.floor((t - 1_500_000_000) / 5400),
      },
      {
        name: 'Starts',
        description: 'starts counted',
        type: 'UInt16',
        low: 0,
        high: 65_535,
        at: (t) => Math.floor(t / 43_200) % 65_536,
      },
      {
        name: 'Message',
        description: 'what the drive says',
        type: 'String',
        at: (t) => (pumpRuns(n, t) ? 'running normally' : 'standing by'),
      },
    ],
  );

const exchanger = (n: number): Variable[] =>
  within(
    ['Exchangers', `Exchanger ${n}`],
    [
      {
        name: 'Flow',
        tag: `KB-FT-${n}21`,
        description: 'flow, secondary',
        unit: 'm³/h',
        low: 0,
        high: 500,
        at: (t) => networkFlow(t) / 4 + 2 * wander(600 + n, 900, t),
      },
      {
        name: 'PrimaryIn',
        tag: `KB-TT-${n}22`,
        description: 'primary, in',
        unit: '°C',
        low: 0,
        high: 160,
        at: about(610 + n, 116, 1.5, 0.05),
      },
      {
        name: 'PrimaryOut',
        description: 'primary, out',
        unit: '°C',
        low: 0,
        high: 160,
        at: about(620 + n, 63, 2.5, 0.05),
      },
      { name: 'Supply', description: 'secondary, supply', unit: '°C', low: 0, high: 120, at: supplyTemperature },
      { name: 'Return', description: 'secondary, return', unit: '°C', low: 0, high: 120, at: returnTemperature },
      {
        name: 'Heat',
        tag: `KB-JT-${n}23`,
        description: 'heat given',
        unit: 'MW',
        low: 0,
        high: 30,
        at: (t) => heat(t, 0.25),
      },
      {
        name: 'Energy',
        tag: `KB-JQ-${n}24`,
        description: 'energy given, counted',
        unit: 'kWh',
        type: 'Int64',
        at: (t) => BigInt(Math.floor((t - 1_400_000_000) * 2.1)) * 1000n,
      },
      {
        name: 'PressureDrop',
        description: 'pressure drop, primary',
        unit: 'bar',
        low: 0,
        high: 4,
        at: about(630 + n, 0.9, 0.15, 0.005, 86_400),
      },
      {
        name: 'ValveDemand',
        description: 'control valve, demanded',
        unit: '%',
        low: 0,
        high: 100,
        type: 'Float',
        at: about(640 + n, 58, 18, 0),
      },
      {
        name: 'ValvePosition',
        description: 'control valve, position',
        unit: '%',
        low: 0,
        high: 100,
        type: 'Float',
        at: (t) => about(640 + n, 58, 18, 0)(t - 2),
      },
      {
        name: 'Fouling',
        description: 'fouling, estimated',
        unit: '%',
        low: 0,
        high: 100,
        at: about(650 + n, 12, 6, 0, 864_000),
      },
    ],
  );

const tank = (n: number): Variable[] =>
  within(
    ['Storage', `Tank ${n}`],
    [
      ...Array.from({ length: 16 }, (_, i): Draft => ({
        name: `Temperature${String(i + 1).padStart(2, '0')}`,
        description: `layer ${i + 1}, from the bottom`,
        unit: '°C',
        low: 0,
        high: 120,
        at: (t) => 48 + (46 * (i + 1)) / 16 + 2 * wander(700 + 20 * n + i, 7200, t),
      })),
      { name: 'Level', description: 'level', unit: 'm', low: 0, high: 22, at: about(760 + n, 19.5, 0.3, 0.01) },
      {
        name: 'Charge',
        description: 'heat stored',
        unit: 'MWh',
        low: 0,
        high: 180,
        at: about(770 + n, 95, 55, 0, 21_600),
      },
    ],
  );

const boiler = within(
  ['Boiler'],
  [
    {
      name: 'Load',
      description: 'load',
      unit: '%',
      low: 0,
      high: 100,
      at: (t) => Math.max(0, 100 * (heatNeed(t) - 0.75) * 4),
    },
    { name: 'FlueGas', description: 'flue gas', unit: '°C', low: 0, high: 300, at: about(800, 128, 14, 0.2) },
    {
      name: 'Oxygen',
      description: 'oxygen in the flue gas',
      unit: '%',
      low: 0,
      high: 21,
      at: about(801, 3.4, 0.5, 0.03),
    },
    {
      name: 'CarbonMonoxide',
      description: 'carbon monoxide',
      unit: 'ppm',
      low: 0,
      high: 500,
      at: about(802, 22, 12, 0.5),
    },
    {
      name: 'GasFlow',
      description: 'gas',
      unit: 'm³/h',
      low: 0,
      high: 2500,
      at: (t) => Math.max(0, 7000 * (heatNeed(t) - 0.75)),
    },
    {
      name: 'DrumPressure',
      description: 'drum pressure',
      unit: 'bar',
      low: 0,
      high: 25,
      at: about(803, 11, 0.4, 0.01),
    },
    { name: 'Flame', description: 'flame seen', type: 'Boolean', at: (t) => heatNeed(t) > 0.75 },
    {
      name: 'State',
      description: 'state',
      type: 'Int32',
      states: ['off', 'purging', 'igniting', 'firing'],
      at: (t) => (heatNeed(t) > 0.75 ? 3 : 0),
    },
  ],
);

const water = within(
  ['Water treatment'],
  [
    { name: 'Conductivity', description: 'conductivity', unit: 'µS/cm', low: 0, high: 500, at: about(820, 38, 9, 0.1) },
    { name: 'Acidity', description: 'acidity', unit: 'pH', low: 0, high: 14, at: about(821, 9.3, 0.2, 0.005) },
    { name: 'Oxygen', description: 'dissolved oxygen', unit: 'µg/l', low: 0, high: 200, at: about(822, 14, 6, 0.2) },
    {
      name: 'MakeUp',
      description: 'make-up water',
      unit: 'm³/h',
      low: 0,
      high: 20,
      at: (t) => Math.max(0, about(823, 1.4, 1.6, 0)(t)),
    },
    { name: 'Hardness', description: 'hardness', unit: '°dH', low: 0, high: 30, at: about(824, 0.1, 0.05, 0.002) },
  ],
);

const network = within(
  ['Network'],
  [
    {
      name: 'Flow',
      tag: 'KB-FT-401',
      description: 'water to the district',
      unit: 'm³/h',
      low: 0,
      high: 1500,
      at: networkFlow,
    },
    {
      name: 'Supply',
      tag: 'KB-TT-402',
      description: 'supply temperature',
      unit: '°C',
      low: 0,
      high: 120,
      at: supplyTemperature,
    },
    {
      name: 'Return',
      tag: 'KB-TT-403',
      description: 'return temperature',
      unit: '°C',
      low: 0,
      high: 120,
      at: returnTemperature,
    },
    { name: 'Heat', description: 'heat to the district', unit: 'MW', low: 0, high: 80, at: (t) => heat(t, 1) },
    {
      name: 'DifferentialPressure',
      description: 'at the far end',
      unit: 'bar',
      low: 0,
      high: 6,
      at: about(840, 1.3, 0.3, 0.01),
    },
  ],
);

const rooms = ['Pump hall', 'Boiler house', 'Control room', 'Switchgear', 'Treatment', 'Store', 'Workshop', 'Roof'];
const building = rooms.flatMap((room, i) =>
  within(
    ['Building', room],
    [
      {
        name: 'Temperature',
        description: 'air temperature',
        unit: '°C',
        low: -30,
        high: 60,
        type: 'Float',
        at: about(900 + i, 21, 3, 0.05, 14_400),
      },
      {
        name: 'Humidity',
        description: 'relative humidity',
        unit: '%',
        low: 0,
        high: 100,
        type: 'Float',
        at: about(920 + i, 44, 9, 0.2, 14_400),
      },
      {
        name: 'Door',
        description: 'door open',
        type: 'Boolean',
        at: (t) => chance(940 + i, Math.floor(t / 120)) > 0.95,
      },
    ],
  ),
);

const feeders = Array.from({ length: 8 }, (_, i) =>
  within(
    ['Electrical', `Feeder ${i + 1}`],
    [
      {
        name: 'Current',
        description: 'current, by phase',
        unit: 'A',
        low: 0,
        high: 1000,
        type: 'DoubleArray',
        at: (t) => [1, 2, 3].map((phase) => 180 + 20 * i + 14 * wander(960 + 10 * i + phase, 900, t)),
      },
      { name: 'Voltage', description: 'voltage', unit: 'V', low: 0, high: 500, at: about(1040 + i, 401, 2, 0.1) },
      {
        name: 'Power',
        description: 'active power',
        unit: 'kW',
        low: 0,
        high: 800,
        at: about(1050 + i, 110 + 14 * i, 20, 0.4),
      },
      { name: 'PowerFactor', description: 'power factor', low: 0, high: 1, at: about(1060 + i, 0.93, 0.02, 0.001) },
      {
        name: 'Energy',
        description: 'energy, counted',
        unit: 'kWh',
        type: 'Int64',
        at: (t) => BigInt(Math.floor((t - 1_400_000_000) * (0.03 + 0.004 * i))),
      },
    ],
  ),
).flat();

/** The plant’s controller: 216 variables. */
export const KILNBANK: Controller = {
  name: 'Kilnbank controller',
  place: 'Kilnbank Heat Plant',
  variables: [
    ...network,
    ...[1, 2, 3].flatMap(pump),
    ...[1, 2, 3, 4].flatMap(exchanger),
    ...[1, 2, 3].flatMap(tank),
    ...boiler,
    ...water,
    ...building,
    ...feeders,
  ],
};
