/** Expressions over messages: in a process that is ended when one of them takes too much. */
import { readAll, reshapingBy } from '../../src/kinds/expressions/expressions.ts';

test('what an expression makes of messages comes in their order, whole numbers with all their digits', async () => {
  const reshaping = reshapingBy('{"v": rows[0].v, "big": big, "of": $topic}')!;
  const made = await Promise.all(
    [1, 2, 3].map((v) => reshaping.reshape({ message: { rows: [{ v }], big: 2n ** 63n - 1n } }, `t${v}`)),
  );
  expect(made).toEqual([1, 2, 3].map((v) => ({ message: { v, big: '9223372036854775807', of: `t${v}` } })));
  reshaping.close();
  expect(reshapingBy('  ')).toBeNull();
});

test('one that takes too long, or too much memory, is ended with a sentence and used no more; others go on', async () => {
  // A regular expression that tries 2^n ways (common practice, no source); one list that doubles again and again.
  const slow = '$match("aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa!", /^(a+)+$/)';
  const large =
    '($double := function($x, $n) { $n = 0 ? $x : $double($x & $x, $n - 1) }; $length($split($double("ab", 27), "")))';
  for (const [expression, why] of [
    [slow, /took longer than 1 s for one message/],
    [large, /more than the 96 MB of memory/],
  ] as const) {
    const limit = expression === slow ? 1000 : 30_000;
    const first = reshapingBy(expression, limit)!;
    expect(await first.reshape({ message: {} }, 'a')).toMatchObject({ trouble: expect.stringMatching(why) as unknown });
    const begun = performance.now();
    const again = reshapingBy(expression, limit)!;
    expect(await again.reshape({ message: {} }, 'a')).toMatchObject({ trouble: expect.stringMatching(why) as unknown });
    // Nothing was evaluated.
    expect(performance.now() - begun).toBeLessThan(limit);
    first.close();
    again.close();
  }
  expect(
    (
      await readAll(
        [
          ['a', '{"v": 1}'],
          ['b', 'x'],
        ],
        'json',
        '{"w": v + 1}',
      )
    ).get('a'),
  ).toEqual({ message: { w: 2 } });
}, 60_000);
