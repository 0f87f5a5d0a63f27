import fc from 'fast-check';
import {
  SourceCoverage,
  clip,
  explainedGaps,
  findGaps,
  intersect,
  subtract,
  totalLength,
  union,
  type GapExplanation,
  type LivingGap,
  type Span,
} from '../../src/index.ts';

const spans = fc.array(
  fc.tuple(fc.nat(100), fc.nat(30)).map(([from, length]): Span => ({ from, to: from + length })),
  { maxLength: 12 },
);

/** The obvious way: one bit per unit of time. */
const cells = (list: readonly Span[]): boolean[] =>
  Array.from({ length: 140 }, (_, t) => list.some(({ from, to }) => from <= t && t < to));

describe('spans', () => {
  test('agree with a drawing on squared paper', () => {
    fc.assert(
      fc.property(spans, spans, (a, b) => {
        const [x, y] = [union(a), union(b)];
        expect(cells(x)).toEqual(cells(a));
        expect(cells(intersect(x, y))).toEqual(cells(a).map((inA, t) => inA && cells(b)[t]!));
        expect(cells(subtract(x, y))).toEqual(cells(a).map((inA, t) => inA && !cells(b)[t]!));
        expect(totalLength(subtract(x, y)) + totalLength(intersect(x, y))).toBe(totalLength(x));
      }),
    );
  });
});

describe('gaps', () => {
  const window = { from: 0, to: 100 };
  test('are what should have been watched and was not, with the cause that was reported', () => {
    const outage = {
      from: 38,
      to: 61,
      cause: 'source' as const,
      sentence: 'Nothing answers.',
      code: 'ECONNREFUSED',
      recoverable: false,
    };
    const gaps = findGaps(
      window,
      [{ from: 10, to: 100 }],
      [
        { from: 10, to: 40 },
        { from: 60, to: 90 },
      ],
      [outage],
    );
    expect(gaps).toEqual([
      { from: 40, to: 60, cause: 'source', sentence: 'Nothing answers.', code: 'ECONNREFUSED', recoverable: false },
      {
        from: 90,
        to: 100,
        cause: 'collector',
        sentence: 'The collector was not running or not configured for this.',
        code: null,
        recoverable: false,
      },
    ]);
  });
  test('do not exist before a tag was in force', () => {
    expect(findGaps(window, [], [], [])).toEqual([]);
  });
});

describe('the coverage of a source and its tags', () => {
  const window = { from: 10, to: 110 };
  const origin = fc.constantFrom('live', 'backfilled' as const);
  const watches = fc.array(fc.tuple(fc.nat(120), fc.nat(40), origin), { maxLength: 8 });
  const outages = fc.array(fc.tuple(fc.nat(120), fc.nat(30), fc.constantFrom(0, 1, 2), fc.boolean()), { maxLength: 8 });
  const outcomes = fc.constantFrom('wanted', 'recovered', 'gone');
  const fetched = fc.array(fc.tuple(fc.nat(120), fc.nat(30), fc.constantFrom(0, 1, 2), outcomes), { maxLength: 8 });
  const known = { cause: 'source', sentence: 'Away.', code: null, recoverable: false } as const;

  test('is for each of them what a drawing on squared paper shows', () => {
    fc.assert(
      fc.property(watches, outages, fetched, spans, spans, fc.nat(130), (watched, away, back, one, both, until) => {
        const groups = [
          { spans: clip(union(one), window), tags: [1] },
          { spans: clip(union(both), window), tags: [2, 3] },
        ];
        const record = {
          watches: watched.map(([from, length, from_]) => ({ from, to: from + length, origin: from_ as 'live' })),
          outages: away.map(([from, length, tag, within]) => ({ ...known, from, to: from + length, tag, within })),
          recoveries: back.map(([from, length, tag, outcome]) => ({
            from,
            to: from + length,
            tag,
            outcome: outcome as 'gone',
            sentence: outcome,
          })),
          explanations: [],
          groups,
          until,
        };
        const said = (tags: readonly number[], outcome: string): boolean[] =>
          cells(record.recoveries.filter((one) => tags.includes(one.tag) && one.outcome === outcome));
        const coverage = new SourceCoverage(window, record);
        for (const { spans: duty, tags } of groups) {
          for (const tag of tags) {
            const row = coverage.tag(tag, duty);
            const inWatch = cells(record.watches);
            const inDuty = cells(duty);
            const unread = cells(
              record.outages.filter((outage) => (outage.tag === 0 ? outage.within : outage.tag === tag)),
            );
            const missing = inDuty.map((due, t) => due && t < until && !(inWatch[t]! && !unread[t]!));
            // What differs from the source is found without looking at all of it.
            const words = (gaps: readonly object[]): string[] => gaps.map((gap) => JSON.stringify(gap));
            const ofSource = words(coverage.gapsOfSource);
            const news = (gaps: readonly object[]): string[] => words(gaps).filter((gap) => !ofSource.includes(gap));
            expect(news(coverage.ownGapsOf(tag, duty))).toEqual(news(coverage.gapsOf(tag, duty)));
            // What is gone of a tag is the exception to what came back of its source.
            const [whole, own] = [said([0], 'recovered'), said([tag], 'recovered')];
            const lost = said([tag], 'gone');
            const recovered = missing.map((is, t) => is && ((whole[t]! && !lost[t]!) || own[t]!));
            const gone = said([0, tag], 'gone').map((is, t) => is && missing[t]! && !recovered[t]!);
            const wanted = said([0, tag], 'wanted').map((is, t) => is && missing[t]! && !recovered[t]! && !gone[t]!);
            const of = (state: string): boolean[] =>
              cells(coverage.gapsOf(tag, duty).filter((gap) => gap.state === state));
            expect([of('recovered'), of('gone'), of('being recovered')]).toEqual([recovered, gone, wanted]);
            const left = missing.map((is, t) => is && !recovered[t]!);
            expect(of('open')).toEqual(left.map((is, t) => is && !gone[t]! && !wanted[t]!));
            expect(cells(row.gaps)).toEqual(left);
            const due = inDuty.filter((is, t) => is && t < until).length;
            expect(row.watchedPercent).toBeCloseTo(due === 0 ? 100 : (1 - left.filter(Boolean).length / due) * 100, 9);
            expect(cells(row.spans)).toEqual(
              inDuty.map((is, t) => (is && inWatch[t]! && !unread[t]!) || recovered[t]!),
            );
          }
        }
        // A tag that is told apart differs by its duty or has an outage of its own, and no other is.
        const differing = [...coverage.differing()].map(({ tag }) => tag);
        for (const tag of [1, 2, 3]) {
          const { spans: duty } = groups.find(({ tags }) => tags.includes(tag))!;
          const own = [...record.outages, ...record.recoveries].some((one) => one.tag === tag);
          const same = JSON.stringify(duty) === JSON.stringify(coverage.duty);
          expect(differing.includes(tag)).toBe(own || !same);
        }
      }),
    );
  });
});

describe('what people said of gaps', () => {
  const gap: LivingGap = {
    from: 10,
    to: 50,
    cause: 'source',
    sentence: 'Away.',
    code: null,
    recoverable: false,
    state: 'open',
    fate: '',
  };
  const said = (from: number, to: number, reason: string): GapExplanation => ({ tag: 0, from, to, by: 'me', reason });
  const told = (gaps: readonly LivingGap[], explanations: readonly GapExplanation[]) =>
    explainedGaps(gaps, explanations).map(({ from, to, explained }) => [from, to, explained?.reason ?? null]);

  test('cuts them at its edges; the later word stands; what came back needs none', () => {
    expect(told([gap], [said(0, 20, 'pump changed'), said(15, 30, 'and the valve')])).toEqual([
      [10, 15, 'pump changed'],
      [15, 30, 'and the valve'],
      [30, 50, null],
    ]);
    expect(told([gap], [said(60, 70, 'planned')])).toEqual([[10, 50, null]]);
    for (const state of ['recovered', 'being recovered'] as const)
      expect(told([{ ...gap, state }], [said(0, 100, 'x')])).toEqual([[10, 50, null]]);
    expect(told([{ ...gap, state: 'gone' }], [said(0, 100, 'x')])).toEqual([[10, 50, 'x']]);
  });

  test('every moment of a gap is told once, whatever was said', () => {
    fc.assert(
      fc.property(spans, spans, (gaps, words) => {
        const own = union(gaps).map((span) => ({ ...gap, ...span }));
        const all = explainedGaps(
          own,
          words.map(({ from, to }, i) => said(from, to, String(i))),
        );
        expect(totalLength(all)).toBe(totalLength(own));
        expect(cells(all)).toEqual(cells(own));
        // The last of those that speak of a moment.
        for (const { from, explained } of all) {
          const last = words.findLastIndex((word) => word.from <= from && from < word.to);
          expect(explained?.reason).toBe(last < 0 ? undefined : String(last));
        }
      }),
    );
  });
});
