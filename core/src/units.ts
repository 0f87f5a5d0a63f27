/** The door to what reckons with units: apart from the rest, for the library behind it is large. */
export { integralFactor, integralUnit } from './computations/units.ts';
export { measureFormula } from './formula/measure.ts';
