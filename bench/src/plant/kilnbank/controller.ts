/** Kilnbank Heat Plant: exchangers, pumps, a peak boiler and water treatment. All of it is invented. */
import { boiler, exchanger, pump, tank } from './machines.ts';
import { building, feeders, network, water } from './surroundings.ts';
import type { Controller } from '../variables.ts';

/** The plant’s controller: 217 variables. */
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
