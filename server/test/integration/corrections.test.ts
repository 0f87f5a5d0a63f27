/** Corrections, removals, annotations and data types through the interface. */
import type { AnnotationsAnswer, ModifiedAnswer, ProcessedAnswer, RawAnswer } from '@wide-ledger/contract';
import { packEntry, parseInstant } from '@wide-ledger/core';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

const at = (second: number): string => new Date(Date.UTC(2026, 2, 1) + second * 1000).toISOString();
const window = `from=${at(0)}&to=${at(3600)}`;
const write = (tag: string, rows: [number, unknown][]) =>
  site.call<{ accepted: number; setAside: { reason: string }[] }>('POST', '/samples', {
    samples: rows.map(([second, value]) => ({ tag, time: at(second), value })),
  });
const raw = async (tag: string): Promise<unknown[]> =>
  (await site.call<RawAnswer>('GET', `/history/raw?tag=${tag}&${window}`)).body.samples.map(({ value }) => value);
const modified = async (tag: string): Promise<ModifiedAnswer['samples']> =>
  (await site.call<ModifiedAnswer>('GET', `/history/modified?tag=${tag}&${window}`)).body.samples;

describe('a correction', () => {
  test('stands at once, before and after posting, and leaves the old value with when, by whom and why', async () => {
    await site.tag({ name: 'Lab' });
    await write('Lab', [
      [1, 7.1],
      [2, 7.2],
      [3, 7.3],
    ]);
    await site.site.posting.postAll();
    const correction = { tag: 'Lab', reason: 'Wrong bottle', samples: [{ time: at(2), value: 6.9 }] };
    expect((await site.call<{ accepted: number }>('POST', '/history/corrections', correction)).body.accepted).toBe(1);
    const check = async (): Promise<void> => {
      expect(await raw('Lab')).toEqual([7.1, 6.9, 7.3]);
      expect(await modified('Lab')).toMatchObject([
        { time: at(2), value: 7.2, kind: 'replaced', origin: 'entered', modifiedBy: 'admin', reason: 'Wrong bottle' },
      ]);
    };
    await check();
    await site.site.posting.postAll();
    await check();
  });

  test('of the same value again changes nothing', async () => {
    const again = { tag: 'Lab', reason: 'Once more', samples: [{ time: at(2), value: 6.9 }] };
    await site.call('POST', '/history/corrections', again);
    await site.site.posting.postAll();
    expect(await modified('Lab')).toHaveLength(1);
  });

  test('needs a reason', async () => {
    const answer = await site.call<{ detail: string }>('POST', '/history/corrections', {
      tag: 'Lab',
      reason: ' ',
      samples: [{ time: at(2), value: 1 }],
    });
    expect([answer.status, answer.body.detail]).toEqual([400, 'Say why: the reason stays with the old value.']);
  });

  test('of two writers the later entry stands, and each displaced value is kept once with its displacer', async () => {
    const tag = await site.tag({ name: 'Two' });
    const micros = parseInstant(at(5))!;
    for (const [writer, value] of [
      ['first', 1],
      ['second', 2],
      ['third', 3],
    ] as const) {
      const entry = packEntry({ writer, sequence: 1, origin: 'live' }, frameOf(tag, [[micros, value]]));
      await site.call('POST', '/entries', entry);
    }
    const check = async (): Promise<void> => {
      expect(await raw('Two')).toEqual([3]);
      expect((await modified('Two')).map(({ value, modifiedBy }) => [value, modifiedBy])).toEqual([
        [1, 'second'],
        [2, 'third'],
      ]);
    };
    await check();
    await site.site.posting.postAll();
    await check();
  });
});

describe('a removal', () => {
  test('takes the values of a window away and keeps them readable as modified', async () => {
    await site.tag({ name: 'Gone' });
    await write(
      'Gone',
      [1, 2, 3, 4].map((second) => [second, second * 10]),
    );
    await site.site.posting.postAll();
    await write('Gone', [[5, 50]]);
    const removal = { tag: 'Gone', reason: 'Test run', from: at(2), to: at(6) };
    expect((await site.call<{ removed: number }>('POST', '/history/removals', removal)).body.removed).toBe(4);
    const check = async (): Promise<void> => {
      expect(await raw('Gone')).toEqual([10]);
      expect((await modified('Gone')).map(({ value, kind, reason }) => [value, kind, reason])).toEqual(
        [20, 30, 40, 50].map((value) => [value, 'removed', 'Test run']),
      );
      const count = await site.call<{ rows: { value: number }[] }>(
        'GET',
        `/history/processed?tag=Gone&aggregate=Count&interval=PT0S&${window}`,
      );
      expect(count.body.rows[0]!.value).toBe(1);
    };
    await check();
    await site.site.posting.postAll();
    await check();
    expect(await site.query('SELECT value FROM history.sample($1, $2, $3)', ['Gone', at(0), at(3600)])).toEqual([
      { value: 10 },
    ]);
  });

  test('does not hit what comes later at the same time', async () => {
    await write('Gone', [[3, 33]]);
    await site.site.posting.postAll();
    expect(await raw('Gone')).toEqual([10, 33]);
  });

  test('of one microsecond takes one value, though another stands right behind it; an empty window has no trend', async () => {
    await site.tag({ name: 'Close' });
    const times = ['2026-11-02T00:00:00.000100Z', '2026-11-02T00:00:00.000101Z'];
    await site.call('POST', '/samples', { samples: times.map((time, value) => ({ tag: 'Close', time, value })) });
    const removal = { tag: 'Close', reason: 'Not this one', from: times[0], to: times[1] };
    expect((await site.call('POST', '/history/removals', removal)).body).toMatchObject({ removed: 1 });
    const trend = (from: string, to: string) =>
      site.call<{ values: number[] }>('GET', `/history/envelope?tag=Close&columns=100&from=${from}&to=${to}`);
    expect((await trend('2026-11-01T00:00:00Z', '2026-11-03T00:00:00Z')).body.values).toEqual([1]);
    expect((await trend(times[1]!, times[1]!)).body.values).toEqual([]);
  });

  test('cannot be smuggled in as a status', async () => {
    const { body } = await site.call<{ setAside: { reason: string }[] }>('POST', '/samples', {
      samples: [{ tag: 'Gone', time: at(9), value: 1, status: 'Bad_NoEntryExists' }],
    });
    expect(body.setAside[0]!.reason).toContain('Use the call for removals');
  });
});

test('64-bit integers come back to the last digit, through journal and ledger, and in SQL', async () => {
  const least = '-9223372036854775808';
  const greatest = '9223372036854775807';
  const values = [greatest, least, '9007199254740993', 5, 1152921504606846976n.toString()];
  await site.tag({ name: 'Wide', type: 'integer' });
  const { body } = await write(
    'Wide',
    values.map((value, i) => [i, value]),
  );
  expect(body.setAside).toEqual([]);
  expect(await raw('Wide')).toEqual(values);
  await site.site.posting.postAll();
  expect(await raw('Wide')).toEqual(values);
  const correction = { tag: 'Wide', reason: 'Off by one', samples: [{ time: at(0), value: '9223372036854775806' }] };
  await site.call('POST', '/history/corrections', correction);
  await site.site.posting.postAll();
  expect((await raw('Wide'))[0]).toBe('9223372036854775806');
  expect((await modified('Wide'))[0]!.value).toBe(greatest);
  const held = await site.call<{ samples: { value: string }[] }>('GET', `/history/at?tag=Wide&times=${at(2)}`);
  expect(held.body.samples[0]!.value).toBe('9007199254740993');
  // Aggregates that give a value of the tag itself give all its digits, too.
  const figure = async (aggregate: string, from: number, to: number): Promise<unknown> => {
    const path = `/history/processed?tag=Wide&aggregate=${aggregate}&from=${at(from)}&to=${at(to)}&interval=PT0S`;
    return (await site.call<ProcessedAnswer>('GET', path)).body.rows[0]!.value;
  };
  expect(await figure('Start', 2, 5)).toBe('9007199254740993');
  expect(await figure('End', 0, 1)).toBe('9223372036854775806');
  expect(await figure('Maximum', 0, 5)).toBe('9223372036854775806');
  expect(await figure('MinimumActualTime', 0, 5)).toBe(least);
  expect(await figure('Maximum2', 2, 4)).toBe('9007199254740993');
  expect(await figure('StartBound', 2, 3)).toBe('9007199254740993');
  const refused = await write('Wide', [[9, '9223372036854775808']]);
  expect(refused.body.setAside[0]!.reason).toContain('64-bit');
});

test('text and states have raw, held at a time, Count, Start, End, transitions and durations', async () => {
  await site.tag({ name: 'Mode', type: 'state', states: { 0: 'idle', 1: 'running' } });
  await site.tag({ name: 'Note', type: 'text' });
  await write('Mode', [
    [0, 'idle'],
    [60, 'running'],
    [180, 'idle'],
    [240, 'idle'],
  ]);
  await write('Note', [
    [0, 'a'],
    [60, 'b'],
    [240, 'a'],
  ]);
  const one = async (tag: string, aggregate: string): Promise<unknown> => {
    const path = `/history/processed?tag=${tag}&aggregate=${aggregate}&interval=PT0S&from=${at(0)}&to=${at(240)}`;
    return (await site.call<{ rows: { value: unknown }[] }>('GET', path)).body.rows[0]!.value;
  };
  for (const aggregate of ['Count', 'Start', 'End', 'NumberOfTransitions', 'DurationGood']) {
    expect([aggregate, await one('Mode', aggregate), await one('Note', aggregate)]).toEqual(
      {
        Count: ['Count', 3, 2],
        Start: ['Start', 'idle', 'a'],
        End: ['End', 'idle', 'b'],
        NumberOfTransitions: ['NumberOfTransitions', 3, 2],
        DurationGood: ['DurationGood', 240_000, 240_000],
      }[aggregate],
    );
  }
  expect(await one('Mode', 'DurationInStateNonZero')).toBe(120_000);
  const held = await site.call<{ samples: { value: string }[] }>('GET', `/history/at?tag=Note&times=${at(100)}`);
  expect(held.body.samples[0]!.value).toBe('b');
});

test('annotations are written, counted by the aggregate and taken away', async () => {
  const { body } = await site.call<{ id: number }>('POST', '/annotations', {
    tag: 'Lab',
    time: at(2),
    text: 'Recalibrated',
  });
  await site.call('POST', '/annotations', { tag: 'Lab', time: at(700), text: 'Bottle 2' });
  const list = await site.call<AnnotationsAnswer>('GET', `/annotations?tags=Lab&${window}`);
  expect(list.body.annotations.map(({ text, writtenBy }) => [text, writtenBy])).toEqual([
    ['Recalibrated', 'admin'],
    ['Bottle 2', 'admin'],
  ]);
  const count = async (): Promise<unknown[]> =>
    (
      await site.call<{ rows: { value: number }[] }>(
        'GET',
        `/history/processed?tag=Lab&aggregate=AnnotationCount&interval=PT30M&${window}`,
      )
    ).body.rows.map(({ value }) => value);
  expect(await count()).toEqual([2, 0]);
  await site.call('DELETE', `/annotations/Lab/${body.id}`);
  expect(await count()).toEqual([1, 0]);
});
