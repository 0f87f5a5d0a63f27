/** Address ranges of two networks that a link joins (RFC 1918, RFC 4193; RFC 4291, 2.5.5.2 for addresses that are mapped). */
import { overlapsOf } from '../../src/exchange/links/ranges.ts';

const overlaps = (here: string, there: string): string[] =>
  overlapsOf(here.split(' '), there.split(' ')).map((one) => `${one.here} ${one.there}`);

test('ranges of both versions overlap where one address lies in both', () => {
  expect(overlaps('10.1.0.0/16 192.168.5.0/24', '10.1.4.0/24 172.16.0.0/12')).toEqual(['10.1.0.0/16 10.1.4.0/24']);
  expect(overlaps('10.1.0.0/16', '10.2.0.0/16')).toEqual([]);
  expect(overlaps('10.1.4.200', '10.1.4.0/24')).toEqual(['10.1.4.200 10.1.4.0/24']);
  expect(overlaps('fd00:1::/48', 'fd00:1:0:5::/64')).toEqual(['fd00:1::/48 fd00:1:0:5::/64']);
  expect(overlaps('fd00:1::/48', 'fd00:2::/48')).toEqual([]);
  // Not of one version, though the digits look alike.
  expect(overlaps('0.0.0.0/0', 'fd00::/8')).toEqual([]);
});

test('a range of version 4 that is written as one of version 6 is found, too', () => {
  expect(overlaps('10.1.0.0/16', '::ffff:10.1.4.0/120')).toEqual(['10.1.0.0/16 ::ffff:10.1.4.0/120']);
  expect(overlaps('10.1.0.0/16', '::ffff:10.2.0.0/112')).toEqual([]);
});

test('it is said how they lie, what to change, and what is no range', () => {
  const [one] = overlapsOf(['10.1.0.0/16'], ['10.1.4.0/24']);
  expect(one!.sentence).toMatch(
    /^10\.1\.4\.0\/24 there lies within 10\.1\.0\.0\/16 here\. Give one of them other addresses/,
  );
  expect(overlapsOf(['10.1.0.0/24'], ['10.1.0.0/24'])[0]!.sentence).toMatch(/^Both networks use 10\.1\.0\.0\/24\./);
  for (const wrong of ['10.1.0.0/33', '300.1.1.1', 'office', '10.1.0.0/-1'])
    expect(() => overlapsOf([wrong], [])).toThrow(`"${wrong}" is no range of addresses`);
});
