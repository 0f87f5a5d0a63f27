import fc from 'fast-check';
import { BLOCK_SAMPLES, SECOND, encodeFrame, formatInstant, parseInstant, type Frame } from '@wide-ledger/core';
import { journalAgainstLedger, TestSite, frameOf } from './testSite.ts';

interface Sample {
  time: string;
  value: unknown;
  status: number;
  quality: string;
  origin: string;
}

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open();
}, 120_000);
afterAll(() => site.close());

const at = (text: string): number => parseInstant(text)!;
const raw = async (tag: string, from: string, to: string, more = ''): Promise<{ samples: Sample[]; next?: string }> =>
  (await site.call<{ samples: Sample[]; next?: string }>('GET', `/history/raw?tag=${tag}&from=${from}&to=${to}${more}`))
    .body;

describe('samples', () => {
  test('are acknowledged, read back as they were sent, and what cannot be kept is set aside with its reason', async () => {
    await site.tag({ name: 'A.real', type: 'real', unit: 'bar' });
    await site.tag({ name: 'A.flag', type: 'boolean' });
    await site.tag({ name: 'A.note', type: 'text' });
    await site.tag({ name: 'A.state', type: 'state', states: { '0': 'shut', '1': 'open' } });
    const time = '2026-03-01T00:00:00.123456Z';
    const { body } = await site.call<{
      entry: number;
      accepted: number;
      setAside: { index: number; reason: string }[];
    }>('POST', '/samples', {
      samples: [
        { tag: 'A.real', time, value: 1.5 },
        { tag: 'A.real', time: '2026-03-01T01:00:01+01:00', value: null, status: 'Bad_NoCommunication' },
        { tag: 'A.flag', time, value: true },
        { tag: 'A.note', time, value: 'pump oiled, ümlaut' },
        { tag: 'A.state', time, value: 'open' },
        { tag: 'nobody', time, value: 1 },
        { tag: 'A.real', time: '2200-01-01T00:00:00Z', value: 1 },
        { tag: 'A.real', time: 'yesterday', value: 1 },
        { tag: 'A.real', time, value: 'high' },
        { tag: 'A.flag', time, value: 2 },
        { tag: 'A.real', time, value: 1, status: 'Fine' },
        7,
      ],
    });
    expect(body.accepted).toBe(5);
    expect(body.entry).toBeGreaterThan(0);
    expect(body.setAside.map(({ index }) => index)).toEqual([5, 6, 7, 8, 9, 10, 11]);
    expect(body.setAside[0]!.reason).toBe('There is no tag "nobody".');
    expect(body.setAside[1]!.reason).toContain('2200-01-01T00:00:00.000Z lies in the future');
    expect(body.setAside[3]!.reason).toBe('A.real keeps numbers, and "high" is none.');
    const window = ['2026-02-28T00:00:00Z', '2026-03-02T00:00:00Z'] as const;
    expect((await raw('A.real', ...window)).samples).toEqual([
      { time: '2026-03-01T00:00:00.123456Z', value: 1.5, status: 0, quality: 'Good', origin: 'entered' },
      {
        time: '2026-03-01T00:00:01.000Z',
        value: null,
        status: 0x80310000,
        quality: 'Bad_NoCommunication',
        origin: 'entered',
      },
    ]);
    expect((await raw('A.flag', ...window)).samples[0]!.value).toBe(true);
    expect((await raw('A.note', ...window)).samples[0]!.value).toBe('pump oiled, ümlaut');
    expect((await raw('A.state', ...window)).samples[0]!.value).toBe('open');
    const desk = await site.call<{ setAside: { total: number; newest: { reason: string; tag: string }[] } }>(
      'GET',
      '/desk',
    );
    expect(desk.body.setAside.total).toBe(7);
  });

  test('read the same before and after posting, across blocks, with a later entry standing over an earlier', async () => {
    const tag = await site.tag({ name: 'B', type: 'real' });
    const start = at('2026-01-31T22:00:00Z');
    const rows = Array.from({ length: 3 * BLOCK_SAMPLES }, (_, i): [number, number] => [
      start + i * SECOND,
      Math.round(100 * Math.sin(i / 50)) / 10,
    ]);
    await site.entry({ writer: 'w', sequence: 1, origin: 'live' }, frameOf(tag, rows));
    await site.entry(
      { writer: 'w', sequence: 2, origin: 'backfilled' },
      frameOf(tag, [
        [start + 10 * SECOND, 99],
        [start - 5 * SECOND, 1],
      ]),
    );
    const read = async (): Promise<unknown[]> => {
      const { samples } = await raw('B', formatInstant(start - 10 * SECOND), '2026-02-02T00:00:00Z', '&limit=100000');
      return samples.map(({ time, value, origin }) => [time, value, origin]);
    };
    const before = await read();
    await site.site.posting.postAll();
    expect(await read()).toEqual(before);
    expect(before).toHaveLength(3 * BLOCK_SAMPLES + 1);
    expect(before[0]).toEqual([formatInstant(start - 5 * SECOND), 1, 'backfilled']);
    expect(before[11]).toEqual([formatInstant(start + 10 * SECOND), 99, 'backfilled']);
    const months = await site.query<{ n: number }>('SELECT count(*) AS n FROM ledger_month WHERE tag_id = $1', [tag]);
    expect(months[0]!.n).toBe(2);
    const modified = await site.query<{ value: number }>('SELECT value FROM modified_sample WHERE tag_id = $1', [tag]);
    expect(modified).toEqual([{ value: rows[10]![1] }]);
    const [compared] = await site.query<Record<string, number>>(journalAgainstLedger());
    expect(compared).toMatchObject({ missing: 0, extra: 0 });
  });

  async function pages(order: 'oldest' | 'newest', from = '2026-01-31T00:00:00Z'): Promise<string[]> {
    const all: Sample[] = [];
    let cursor = '';
    do {
      const page = await raw('B', from, '2026-02-02T00:00:00Z', `&limit=1000&order=${order}${cursor}`);
      all.push(...page.samples);
      cursor = page.next ? `&cursor=${page.next}` : '';
    } while (cursor);
    return all.map(({ time }) => time);
  }

  test('come page by page without a hole, from either end', async () => {
    const forward = await pages('oldest');
    expect(forward).toHaveLength(3 * BLOCK_SAMPLES + 1);
    expect(new Set(forward).size).toBe(forward.length);
    expect(await pages('newest')).toEqual([...forward].reverse());
    // Removals and values that wait to be posted, inside and before the last page.
    const start = at('2026-01-31T22:00:00Z');
    const time = (second: number): string => formatInstant(start + second * SECOND);
    const removal = { tag: 'B', reason: 'Test', from: time(12_000), to: time(12_100) };
    await site.call('POST', '/history/removals', removal);
    const late = [0.5, 5000.5, 12_050.5].map((second) => ({ tag: 'B', time: time(second), value: 1 }));
    await site.call('POST', '/samples', { samples: late });
    const changed = await pages('oldest');
    expect(changed).toHaveLength(forward.length - 100 + 3);
    expect(await pages('newest')).toEqual([...changed].reverse());
    // A window that begins in the middle of a block ends there.
    const part = await pages('newest', time(6000));
    expect(part).toEqual(changed.filter((one) => one >= time(6000)).reverse());
  });

  test('are delivered exactly once by a writer that counts', async () => {
    const tag = await site.tag({ name: 'C', type: 'real' });
    const frame = frameOf(tag, [[at('2026-05-01T00:00:00Z'), 1]]);
    const first = await site.entry({ writer: 'counting', sequence: 1, origin: 'live' }, frame);
    const again = await site.entry({ writer: 'counting', sequence: 1, origin: 'live' }, frame);
    expect(first.body.repeated).toBe(false);
    expect(again.body).toMatchObject({ repeated: true, entry: null });
    const entries = await site.query("SELECT 1 FROM journal_entry WHERE writer = 'counting'");
    expect(entries).toHaveLength(1);
    expect((await site.call<{ sequence: number }>('GET', '/entries/position?writer=counting')).body.sequence).toBe(1);
  });

  test('of many entries committed at the same time are all posted', async () => {
    const tag = await site.tag({ name: 'D', type: 'real' });
    const start = at('2026-06-01T00:00:00Z');
    await Promise.all(
      Array.from({ length: 8 }, async (_, w) => {
        for (let s = 1; s <= 15; s++) {
          await site.entry(
            { writer: `together-${w}`, sequence: s, origin: 'live' },
            frameOf(tag, [[start + (w * 100 + s) * SECOND, s]]),
          );
          if (s % 5 === 0) await site.site.posting.postBatch();
        }
      }),
    );
    await site.site.posting.postAll();
    expect((await raw('D', '2026-06-01T00:00:00Z', '2026-06-02T00:00:00Z')).samples).toHaveLength(120);
    expect((await site.query<Record<string, number>>(journalAgainstLedger()))[0]).toMatchObject({
      missing: 0,
      extra: 0,
    });
  });
});

describe('processed and at-time reads', () => {
  // OPC 10000-13, example data set 1, from memory; 12:00 on 2002-01-01.
  test('give the rows of the standard’s first example', async () => {
    await site.tag({ name: 'Historian.1', type: 'real' });
    const rows: [string, number, string][] = [
      ['12:00:10', 10, 'Good'],
      ['12:00:20', 20, 'Good'],
      ['12:00:30', 30, 'Good'],
      ['12:00:40', 40, 'Bad'],
      ['12:00:50', 50, 'Good'],
      ['12:01:00', 60, 'Good'],
      ['12:01:10', 70, 'Uncertain'],
      ['12:01:20', 80, 'Good'],
      ['12:01:30', 90, 'Good'],
    ];
    await site.call('POST', '/samples', {
      samples: rows.map(([time, value, status]) => ({
        tag: 'Historian.1',
        time: `2002-01-01T${time}Z`,
        value,
        status,
      })),
    });
    const processed = async (aggregate: string): Promise<[unknown, number][]> => {
      const path = `/history/processed?tag=Historian.1&aggregate=${aggregate}&from=2002-01-01T12:00:00Z&to=2002-01-01T12:01:36Z&interval=PT16S&treatUncertainAsBad=false`;
      const { body } = await site.call<{ rows: Sample[] }>('GET', path);
      return body.rows.map(({ value, status }) => [value, status]);
    };
    expect(await processed('Average')).toEqual([
      [10, 0x405],
      [25, 0x401],
      [null, 0x809b0000],
      [55, 0x401],
      [null, 0x809b0000],
      [85, 0x405],
    ]);
    expect(await processed('Minimum')).toEqual([
      [10, 0x405],
      [20, 0x401],
      [null, 0x809b0000],
      [50, 0x401],
      [null, 0x809b0000],
      [80, 0x404],
    ]);
    expect((await processed('PercentGood'))[0]).toEqual([37.5, 0x405]);
    const times = ['12:00:15', '12:00:45', '12:01:35'].map((time) => `2002-01-01T${time}Z`).join(',');
    const { body } = await site.call<{ samples: Sample[] }>('GET', `/history/at?tag=Historian.1&times=${times}`);
    expect(body.samples.map(({ value }) => value)).toEqual([15, 45, 90]);
  });

  test('cut days of 23 and 25 hours in a zone', async () => {
    await site.tag({ name: 'DST', type: 'real' });
    await site.call('POST', '/samples', {
      samples: [
        { tag: 'DST', time: '2026-03-01T00:00:00Z', value: 1 },
        { tag: 'DST', time: '2026-11-01T00:00:00Z', value: 1 },
      ],
    });
    const hours = async (from: string, to: string): Promise<number[]> => {
      const path = `/history/processed?tag=DST&aggregate=Total&from=${from}&to=${to}&interval=P1D&zone=Europe/Berlin`;
      return (await site.call<{ rows: Sample[] }>('GET', path)).body.rows.map(({ value }) => (value as number) / 3600);
    };
    // The total of a constant 1 is the length of the day. EU rule: last Sundays of March and October.
    expect(await hours('2026-03-28T23:00:00Z', '2026-03-30T22:00:00Z')).toEqual([23, 24]);
    expect(await hours('2026-10-24T22:00:00Z', '2026-10-25T23:00:00Z')).toEqual([25]);
  });

  test('answer CSV where it is asked for', async () => {
    const answer = await site.call<string>(
      'GET',
      '/history/raw?tag=A.note&from=2026-02-28T00:00:00Z&to=2026-03-02T00:00:00Z',
      undefined,
      { accept: 'text/csv' },
    );
    expect(answer.headers.get('content-type')).toContain('text/csv');
    expect(answer.body).toBe(
      'time,value,status,quality,origin\r\n2026-03-01T00:00:00.123456Z,"pump oiled, ümlaut",0,Good,entered\r\n',
    );
  });
});

describe('SQL', () => {
  const numbers = fc.oneof(
    fc.array(fc.double({ noNaN: false }), { minLength: 1, maxLength: 40 }),
    fc.array(fc.float(), { minLength: 1, maxLength: 40 }),
    fc.array(
      fc.integer({ min: -1e6, max: 1e6 }).map((n) => n / 1000),
      { minLength: 1, maxLength: 60 },
    ),
    fc.array(fc.constantFrom(1 / 3, 2 / 3, NaN), { minLength: 30, maxLength: 60 }),
  );
  const frames = numbers.chain((values) =>
    fc.record({
      tags: fc.constant(null),
      times: fc
        .array(fc.integer({ min: -(2 ** 46), max: 2 ** 51 }), { minLength: values.length, maxLength: values.length })
        .map((t) => Float64Array.from(t)),
      values: fc.constant(Float64Array.from(values)),
      status: fc
        .array(fc.constantFrom(0, 0x80310000), { minLength: values.length, maxLength: values.length })
        .map((s) => Uint32Array.from(s)),
      origins: fc
        .array(fc.nat(6), { minLength: values.length, maxLength: values.length })
        .map((o) => Uint8Array.from(o)),
      texts: fc.constant([]),
    }),
  );

  test('decodes every frame to the very numbers that were encoded', async () => {
    await fc.assert(
      fc.asyncProperty(frames, async (frame: Frame) => {
        const rows = await site.query<{ micros: number; value: number | null; status: number; origin: number }>(
          'SELECT * FROM history.decode_frame($1)',
          [Buffer.from(encodeFrame(frame))],
        );
        expect(rows.map((row) => row.micros)).toEqual([...frame.times]);
        rows.forEach((row, i) =>
          expect(row.value ?? NaN).toBe(Object.is(frame.values[i], -0) ? row.value : frame.values[i]),
        );
        expect(rows.map((row) => row.status)).toEqual([...frame.status]);
        expect(rows.map((row) => row.origin)).toEqual([...frame.origins!]);
      }),
      { numRuns: 60 },
    );
  });

  test('gives the rows of a tag, posted or not, to a role that may read and nothing else', async () => {
    const { default: pg } = await import('pg');
    const url = new URL(site.databaseUrl);
    url.username = 'history_reader';
    url.password = 'reader-for-tests';
    const reader = new pg.Client(url.href);
    await reader.connect();
    try {
      await site.call('POST', '/samples', { samples: [{ tag: 'D', time: '2026-06-01T12:00:00Z', value: 42.5 }] });
      const { rows } = await reader.query<{ value: number; quality: string; origin: string }>(
        "SELECT value, quality, origin FROM history.sample('D', '2026-06-01', '2026-06-02') ORDER BY time",
      );
      expect(rows).toHaveLength(121);
      expect(rows.at(-1)).toEqual({ value: 42.5, quality: 'Good', origin: 'entered' });
      expect((await reader.query('SELECT tag FROM history.tag')).rows.length).toBeGreaterThan(3);
      await expect(reader.query('SELECT * FROM account')).rejects.toThrow('permission denied');
      await expect(reader.query("INSERT INTO history.tag (tag) VALUES ('x')")).rejects.toThrow();
      // What a session may set for itself gives it no more rights.
      for (const setting of ['default_transaction_read_only', 'transaction_read_only'])
        await reader.query(`SET ${setting} = off`);
      await reader.query('SET statement_timeout = 0');
      for (const change of [
        "UPDATE tag SET name = 'x'",
        'DELETE FROM journal_entry',
        'INSERT INTO posting (entry) VALUES (0)',
        'DROP VIEW history.tag',
        'CREATE TABLE public.mine (a int)',
        'CREATE TABLE history.mine (a int)',
        'SELECT ensure_ledger_month(0)',
        'SELECT append_entry(NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL)',
        'SET ROLE wide_ledger',
        'ALTER ROLE history_reader SUPERUSER',
      ]) {
        await expect(reader.query(change)).rejects.toThrow(/permission denied|must be|superuser/);
      }
      await expect(reader.query("SELECT * FROM history.sample('nobody', now(), now())")).rejects.toThrow(
        'there is no tag "nobody"',
      );
    } finally {
      await reader.end();
    }
  });
});
