import {
  InfoBits,
  Status,
  describeStatus,
  originCode,
  originName,
  parseStatus,
  severityOf,
  withInfoBits,
} from '../../src/index.ts';

describe('status codes', () => {
  // OPC 10000-13, 6.4: Good, Calculated is 0x00000401; Good, Calculated, Partial 0x00000405.
  test('carry information bits', () => {
    expect(withInfoBits(Status.Good, InfoBits.calculated)).toBe(0x401);
    expect(withInfoBits(Status.Good, InfoBits.calculated | InfoBits.partial)).toBe(0x405);
    expect(withInfoBits(Status.UncertainDataSubNormal, InfoBits.interpolated)).toBe(0x40a40402);
  });
  test('read as words', () => {
    expect(describeStatus(0x405)).toBe('Good, Calculated, Partial');
    expect(describeStatus(Status.BadNoCommunication)).toBe('Bad_NoCommunication');
    expect(describeStatus(0x80ff0000)).toBe('Bad (0x80FF0000)');
  });
  test('are read from names and numbers', () => {
    expect(parseStatus('Bad_NoCommunication')).toBe(0x80310000);
    expect(parseStatus('good')).toBe(0);
    expect(parseStatus('fine')).toBeUndefined();
    expect(parseStatus(2 ** 32)).toBeUndefined();
    expect(severityOf(0xc0000000)).toBe('Bad');
  });
  test('origins keep their numbers', () => {
    expect(originName(originCode('backfilled'))).toBe('backfilled');
    expect(() => originName(9)).toThrow('9 is no origin');
  });
});
