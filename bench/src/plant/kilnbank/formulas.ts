/** What the plant does, as formulas of time in seconds since 1970. */
import { normal, wander } from '../noise.ts';
import { heatNeed } from '../thornmere.ts';

/** A measurement that wanders about a middle, with its instrument's noise. */
export const about =
  (seed: number, middle: number, swing: number, noise: number, seconds = 3600) =>
  (t: number): number =>
    middle + swing * wander(seed, seconds, t) + noise * normal(seed + 5000, Math.floor(t));

/** Water through the district's network in m³/h: follows the need for heat. */
export const networkFlow = (t: number): number => 900 * (0.35 + 0.65 * heatNeed(t)) + 12 * wander(400, 1800, t);
export const supplyTemperature = (t: number): number => 82 + 14 * heatNeed(t) + 1.2 * wander(401, 2700, t);
export const returnTemperature = (t: number): number => 47 + 5 * heatNeed(t) + 0.9 * wander(402, 2700, t);

/** Heat in MW out of flow and temperatures: the coefficient of water near 70 °C, in kWh/(m³·K). */
const HEAT_COEFFICIENT = 1.135;
export const heat = (t: number, share: number): number =>
  (share * networkFlow(t) * HEAT_COEFFICIENT * (supplyTemperature(t) - returnTemperature(t))) / 1000;
