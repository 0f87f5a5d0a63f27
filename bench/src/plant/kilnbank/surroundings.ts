/** Water treatment, the district's network, the building and its electricity. */
import { chance, wander } from '../noise.ts';
import { about, heat, networkFlow, returnTemperature, supplyTemperature } from './formulas.ts';
import { within } from '../variables.ts';

export const water = within(
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

export const network = within(
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
      name: 'SupplySetPoint',
      tag: 'KB-TC-404',
      description: 'supply temperature, wanted',
      unit: '°C',
      low: 60,
      high: 110,
      writable: true,
      at: () => 88,
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
export const building = rooms.flatMap((room, i) =>
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

export const feeders = Array.from({ length: 8 }, (_, i) =>
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
