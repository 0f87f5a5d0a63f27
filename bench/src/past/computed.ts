/** The tags of the demo that are computed out of others. */
import { SITE } from '../plant/thornmere.ts';

/** What a kilogram of the brine takes up for each kelvin, and above which temperature its heat is counted; invented. */
const BRINE = { kilojoules: 3.85, above: 20 };

export const computedTags = (): object[] => [
  {
    name: 'TW-JI-406',
    description: 'heat reinjected unused, above 20 °C',
    place: `${SITE} / Reinjection`,
    unit: 'kW',
    low: 0,
    high: 20_000,
    formula: `flow * ${BRINE.kilojoules} * (temperature - ${BRINE.above})`,
    inputs: { flow: 'TW-FT-401', temperature: 'TW-TT-403' },
  },
  {
    name: 'TW-PDI-412',
    description: 'reinjection pressure, room up to the most allowed',
    place: `${SITE} / Reinjection`,
    unit: 'bar',
    formula: 'most - pressure',
    inputs: { most: 'TW-PC-410', pressure: 'TW-PT-402' },
  },
];
