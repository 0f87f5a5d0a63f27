/** Units in formulas: what may be brought together. Factors by the definitions of the SI and NIST SP 811 (from memory). */
import { expect, test } from '@jest/globals';
import { measureFormula } from '../../src/formula/measure.ts';

const UNITS: Readonly<Record<string, string>> = {
  p: 'bar',
  q: 'mbar',
  t: '°C',
  k: 'K',
  f: 'm³/h',
  l: 'l/s',
  e: 'kW',
  h: 'h',
  n: '',
  turbidity: 'NTU',
  ph: 'pH',
};
const said = (text: string, into = ''): Promise<readonly string[]> =>
  measureFormula(text, (input) => UNITS[input] ?? '', into);

test.each([
  ['p + p', 'bar'],
  ['p + 1', 'bar'],
  ['p > 3 ? p : 0', 'bar'],
  ['e * h', 'kWh'],
  ['f / f * 100', '%'],
  ['sqrt(p * p)', 'bar'],
  ['ln(p / p)', ''],
  ['p * 1000 + q', 'mbar'],
  ['turbidity - previous(turbidity)', 'NTU'],
  ['n * 3', 'bar'],
  ['since(p)', 's'],
  ['max(p, previous(p))', 'bar'],
  ['good(p) and t > 20', ''],
])('%s is well in %s', async (text, into) => expect(await said(text, into)).toEqual([]));

test.each([
  ['p + t', '', 'bar and °C meet at +: these do not measure the same'],
  ['turbidity + ph', '', 'NTU and pH meet at +'],
  ['p + q', '', 'multiply mbar by 0.001 first'],
  ['min(f, l)', '', 'multiply l/s by 3.6 first'],
  ['p', 'mbar', 'multiply bar by 1000 first'],
  ['f * h', 'kg', 'do not measure the same'],
  ['t < k', '', 'different zeros'],
  ['exp(p)', '', 'exp is of a number without a unit'],
  ['p > 1 ? p : f', '', 'bar and m³/h'],
])('%s in %s: %s', async (text, into, words) => expect((await said(text, into)).join(' ')).toContain(words));
