/**
 * Units that the trade writes and the unit library does not know by these names, by what they stand for.
 *
 * - US gallon 231 in³ = 3.785411784 L and barrel of 42 US gallons = 0.158987294928 m³: NIST SP 811 (2008), appendix B.8.
 * - Normal cubic metre: gas at 0 °C and 101.325 kPa, DIN 1343. Standard cubic metre: 15 °C and 101.325 kPa, ISO 13443.
 *   Both are kept as volumes at their own conditions, and never turned into each other or into a volume at others.
 */
export interface TradeUnit {
  /** So many of the unit of the library. */
  readonly factor: number;
  readonly of: string;
  /** Of a rate: the unit of what it adds up to. */
  readonly adds?: string;
}

const GALLON = 0.003785411784;
const BARREL = 0.158987294928;

export const TRADE_UNITS: Readonly<Record<string, TradeUnit>> = {
  gpm: { factor: GALLON, of: 'm^3 / minute', adds: 'gal' },
  gph: { factor: GALLON, of: 'm^3 / hour', adds: 'gal' },
  gal: { factor: GALLON, of: 'm^3' },
  cfm: { factor: 1, of: 'ft^3 / minute', adds: 'ft³' },
  cfs: { factor: 1, of: 'ft^3 / s', adds: 'ft³' },
  bbl: { factor: BARREL, of: 'm^3' },
  bpd: { factor: BARREL, of: 'm^3 / day', adds: 'bbl' },
  'Nm^3': { factor: 1, of: 'm^3' },
  'Sm^3': { factor: 1, of: 'm^3' },
};
