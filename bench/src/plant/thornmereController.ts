/** The controller at Thornmere Wells: motors, chokes and well-head valves. It remembers while the radio link is down. */
import { wander } from './noise.ts';
import { about } from './kilnbank/formulas.ts';
import { THORNMERE, pumpState } from './thornmere.ts';
import { within, type Controller, type Variable } from './variables.ts';

const runs = (well: number, t: number): boolean => pumpState(well, t) !== 0;

const well = (n: number): Variable[] =>
  within(
    [`Well ${n}`],
    [
      {
        name: 'MotorCurrent',
        tag: `TW-IT-${n}11`,
        description: 'motor current',
        unit: 'A',
        low: 0,
        high: 400,
        at: (t) => (runs(n, t) ? about(1200 + n, 210, 18, 0.6)(t) : 0),
      },
      {
        name: 'MotorTemperature',
        tag: `TW-TT-${n}12`,
        description: 'winding temperature',
        unit: '°C',
        low: 0,
        high: 180,
        at: (t) => (runs(n, t) ? about(1210 + n, 96, 6, 0.1)(t) : about(1215 + n, 41, 2, 0.1)(t)),
      },
      {
        name: 'Choke',
        tag: `TW-ZT-${n}13`,
        description: 'choke position',
        unit: '%',
        low: 0,
        high: 100,
        at: (t) => (runs(n, t) ? 62 + 20 * wander(1220 + n, 10_800, t) : 0),
      },
      {
        name: 'Vibration',
        description: 'vibration of the pump',
        unit: 'mm/s',
        low: 0,
        high: 20,
        type: 'Float',
        at: (t) => (runs(n, t) ? about(1230 + n, 2.4, 0.7, 0.05)(t) : 0.1),
      },
      {
        name: 'MasterValve',
        description: 'master valve',
        type: 'Int32',
        states: ['closed', 'moving', 'open'],
        at: (t) => (runs(n, t) ? 2 : 0),
      },
    ],
  );

export const THORNMERE_CONTROLLER: Controller = {
  name: 'Thornmere motor controller',
  place: THORNMERE.place,
  variables: [
    ...[1, 2, 3].flatMap(well),
    ...within(
      ['Radio link'],
      [
        { name: 'Signal', description: 'field strength', unit: 'dBm', low: -120, high: 0, at: about(1240, -78, 9, 1) },
        { name: 'Battery', description: 'battery', unit: 'V', low: 0, high: 30, at: about(1241, 26.4, 0.6, 0.02) },
      ],
    ),
  ],
};
