/** Pumps, exchangers, tanks and the peak boiler. */
import { chance, wander } from '../noise.ts';
import { heatNeed } from '../thornmere.ts';
import { about, heat, networkFlow, returnTemperature, supplyTemperature } from './formulas.ts';
import { within, type Draft, type Variable } from '../variables.ts';

/** Pumps take turns: one rests in each six hours. */
const pumpRuns = (pump: number, t: number): boolean => Math.floor(chance(450, Math.floor(t / 21_600)) * 3) + 1 !== pump;

export const pump = (n: number): Variable[] =>
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

export const exchanger = (n: number): Variable[] =>
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
        unit: 'Wh',
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

export const tank = (n: number): Variable[] =>
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

export const boiler = within(
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
