/** Coverage cut into days, and put together again. */
import fc from 'fast-check';
import { DAY, clip, coverageDays, union, type KnownOutage, type SourceWatch, type Span } from '../../src/index.ts';

const WINDOW: Span = { from: 0, to: 5 * DAY };
const span = fc
  .tuple(fc.integer({ min: -2 * 24, max: 7 * 24 }), fc.integer({ min: 1, max: 60 }))
  .map(([hour, length]): Span => ({ from: hour * (DAY / 24), to: (hour + length) * (DAY / 24) }));
const outage = (of: Partial<KnownOutage>): KnownOutage => ({
  tag: 0,
  from: 0,
  to: 1,
  cause: 'source',
  sentence: '',
  code: null,
  recoverable: false,
  within: false,
  ...of,
});

test('the parts of watches together are the watches in the window, and each part lies in its day', () => {
  fc.assert(
    fc.property(fc.array(span, { maxLength: 20 }), (spans) => {
      const watches = spans.map((one): SourceWatch => ({ ...one, origin: 'live' }));
      const days = [...coverageDays({ watches, outages: [], recoveries: [] }, WINDOW)];
      for (const [day, facts] of days)
        for (const { from, to } of facts.watches) expect(from >= day && to <= day + DAY && from < to).toBe(true);
      expect(union(days.flatMap(([, facts]) => facts.watches))).toEqual(clip(union(spans), WINDOW));
    }),
  );
});

test('what is told of a day depends on nothing that lies outside it', () => {
  fc.assert(
    fc.property(fc.array(span, { maxLength: 10 }), fc.nat(4), (spans, number) => {
      const outages = spans.map((one, i) => outage({ ...one, tag: i + 1 }));
      const day = { from: number * DAY, to: (number + 1) * DAY };
      const facts = { watches: [], recoveries: [], outages };
      const alone = coverageDays(
        { ...facts, outages: outages.filter(({ from, to }) => to! > day.from && from < day.to) },
        day,
      );
      expect(coverageDays(facts, WINDOW).get(day.from)).toEqual(alone.get(day.from));
    }),
  );
});

test('an open outage is open today alone, and of two that meet at midnight the longer says why', () => {
  const open = outage({ from: DAY / 2, to: null, sentence: 'off' });
  const days = coverageDays({ watches: [], recoveries: [], outages: [open] }, { from: 0, to: 2 * DAY });
  expect([...days].map(([day, { outages }]) => [day, outages.map(({ from, to }) => [from, to])])).toEqual([
    [0, [[DAY / 2, DAY]]],
    [DAY, [[DAY, null]]],
  ]);
  const short = outage({ from: DAY / 4, to: 1.1 * DAY, sentence: 'short' });
  const both = coverageDays({ watches: [], recoveries: [], outages: [open, short] }, { from: 0, to: 2 * DAY });
  expect(both.get(DAY)!.outages.map(({ sentence }) => sentence)).toEqual(['off']);
});
