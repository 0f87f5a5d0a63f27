/** How much a link sends, when it compares, and how values become messages. */
import fc from 'fast-check';
import {
  LEAST_STRETCH,
  MOST_STRETCH,
  lastDue,
  limitAt,
  nextSize,
  payloadOf,
  rateOf,
  topicOf,
  type ToldValue,
} from '../../src/index.ts';

test('the least of the limits that hold at a time counts; a span may go over midnight', () => {
  const limits = [
    { from: '06:00', to: '22:00', kilobytesPerSecond: 8 },
    { from: '21:00', to: '02:00', kilobytesPerSecond: 64 },
  ];
  expect(['05:59', '06:00', '21:30', '22:00', '01:59', '02:00'].map((clock) => limitAt(limits, clock))).toEqual([
    null,
    8000,
    8000,
    64_000,
    64_000,
    null,
  ]);
  expect(limitAt([{ from: '00:00', to: '00:00', kilobytesPerSecond: 1 }], '13:13')).toBe(1000);
  expect(limitAt([], '13:13')).toBeNull();
});

test('requests grow and shrink towards a second each, within bounds', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 100, max: 5_000_000 }),
      fc.integer({ min: LEAST_STRETCH, max: MOST_STRETCH }),
      (perSecond, first) => {
        let size = first;
        for (let i = 0; i < 20; i++) {
          const next = nextSize(size, size, (1000 * size) / perSecond);
          expect(next).toBeGreaterThanOrEqual(LEAST_STRETCH);
          expect(next).toBeLessThanOrEqual(MOST_STRETCH);
          expect(next).toBeLessThanOrEqual(2 * size);
          size = next;
        }
        const wanted = Math.min(MOST_STRETCH, Math.max(LEAST_STRETCH, perSecond));
        expect(Math.abs(size - wanted)).toBeLessThanOrEqual(2);
      },
    ),
  );
  // A few values that went quickly say nothing of what the line bears; a few that took long do.
  expect(nextSize(100_000, 10, 3)).toBe(100_000);
  expect(nextSize(100_000, 10, 30_000)).toBe(50_000);
});

test('how fast a link is, and when it will have caught up', () => {
  const moment = (at: number, waiting: number, samples: number) => ({ at, waiting, samples, bytes: samples * 2 });
  expect(rateOf([moment(0, 1000, 0), moment(10, 600, 500)])).toEqual({
    valuesPerSecond: 50,
    bytesPerSecond: 100,
    catchUpSeconds: 15,
  });
  expect(rateOf([moment(0, 1000, 0), moment(10, 2000, 500)]).catchUpSeconds).toBeNull();
  expect(rateOf([moment(0, 1000, 0), moment(10, 0, 500)]).catchUpSeconds).toBe(0);
  expect(rateOf([])).toEqual({ valuesPerSecond: 0, bytesPerSecond: 0, catchUpSeconds: null });
});

test('what is done every day was due last by the clock of the zone, also across a change of clocks', () => {
  const at = (text: string): number => Date.parse(text) * 1000;
  const due = (now: string, clock: string): string =>
    new Date(lastDue(at(now), clock, 'Europe/Berlin') / 1000).toISOString();
  expect(due('2026-11-27T08:00:00Z', '03:00')).toBe('2026-11-27T02:00:00.000Z');
  expect(due('2026-11-27T01:59:59Z', '03:00')).toBe('2026-11-26T02:00:00.000Z');
  // The night of 25 October 2026 has 25 hours there, that of 29 March 23 (tz database).
  expect(due('2026-10-25T12:00:00Z', '04:00')).toBe('2026-10-25T03:00:00.000Z');
  expect(due('2026-10-24T12:00:00Z', '04:00')).toBe('2026-10-24T02:00:00.000Z');
  expect(due('2026-03-29T12:00:00Z', '02:30')).toBe('2026-03-29T01:30:00.000Z');
});

const told: ToldValue = {
  name: 'TW-FT-101',
  place: 'Thornmere Wells / Well 1',
  unit: 'm³/h',
  time: '2026-11-27T08:00:00Z',
  value: 12.5,
  status: 0,
  quality: 'Good',
};

test('a value becomes a message: topics hold no wildcard, payloads stay JSON whatever a name is', () => {
  expect(topicOf('wide-ledger/{place}/{name}', told)).toBe('wide-ledger/Thornmere Wells/Well 1/TW-FT-101');
  expect(topicOf('x/{place}/{name}', { ...told, place: '' })).toBe('x/TW-FT-101');
  expect(topicOf('x/{place}/{name}', { ...told, place: 'A+ / #B', name: 'a/b' })).toBe('x/A_/_B/a_b');
  const template = '{"t":{time},"v":{value},"q":{status},"u":{unit},"p":{place}}';
  expect(JSON.parse(payloadOf(template, told))).toEqual({
    t: told.time,
    v: 12.5,
    q: 0,
    u: 'm³/h',
    p: told.place,
  });
  expect(payloadOf('{value}', { ...told, value: NaN })).toBe('null');
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (name, place) => {
      // OASIS MQTT 5.0, 4.7.1 and 4.7.3: no wildcards and no NUL in a topic name.
      expect(topicOf('{place}/{name}', { ...told, name, place })).not.toMatch(/[+#\0]/);
      expect(JSON.parse(payloadOf('[{name},{place}]', { ...told, name, place }))).toEqual([name, place]);
    }),
  );
});
