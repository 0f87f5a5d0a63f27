/** Files brought in: understood, rehearsed, archived, reported; what the archive writes it can read again. */
import type { ImportReport, ImportedFile, RawAnswer } from '@wide-ledger/contract';
import exceljs from 'exceljs';
import { TestSite, frameOf } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

async function take(name: string, content: string | Buffer, zone = 'Europe/Berlin', sheet = ''): Promise<ImportedFile> {
  const answer = await fetch(`${site.site.url}/api/v1/imports?name=${name}&zone=${zone}${sheet && `&sheet=${sheet}`}`, {
    method: 'POST',
    headers: { cookie: site.cookie, 'content-type': 'application/octet-stream' },
    body: new Uint8Array(Buffer.from(content)),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()) as ImportedFile;
}
const planOf = ({ columns, zone }: ImportedFile) => ({
  zone,
  columns: columns.map(({ sentence: _sentence, doubtful: _doubtful, examples: _examples, ...plan }) => plan),
});
/** Archives a file by its plan, as it was understood unless a plan is given. */
async function archived(file: ImportedFile, plan: object = planOf(file)): Promise<ImportedFile> {
  await site.call('POST', `/imports/${file.id}/run`, plan);
  return finished(file.id);
}
/** What would be set aside, row by row. */
async function setAside(file: ImportedFile, plan: object = planOf(file)): Promise<[number, string][]> {
  const { body } = await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, plan);
  return body.reasons.map(({ row, reason }) => [row, reason]);
}
async function finished(id: string): Promise<ImportedFile> {
  for (;;) {
    const { body } = await site.call<ImportedFile>('GET', `/imports/${id}`);
    if (body.state !== 'running') return body;
    await new Promise((done) => setTimeout(done, 20));
  }
}
const raw = async (tag: string): Promise<[string, unknown, string][]> => {
  const path = `/history/raw?tag=${tag}&from=2026-01-01T00:00:00Z&to=2027-01-01T00:00:00Z&limit=100000`;
  return (await site.call<RawAnswer>('GET', path)).body.samples.map(({ time, value, quality }) => [
    time,
    value,
    quality,
  ]);
};

const LAB = [
  'Zeit;Lab.pH;Lab.pH quality;Note;Pressure',
  '24.10.2026 23:30;7,12;Good;;1',
  '25.10.2026 02:30;7,15;Good;first;2',
  '25.10.2026 02:30;7,16;Uncertain;second;3',
  '25.10.2026 25:00;7,20;Good;;4',
  '26.10.2026 06:00;;Bad;;5',
].join('\r\n');

test('a laboratory’s CSV: decimal comma, clock of a zone, quality; rehearsed, archived, then unchanged', async () => {
  await site.tag({ name: 'Lab.pH' });
  const file = await take('lab.csv', LAB);
  expect(file.columns.map(({ role, sentence }) => `${role}: ${sentence}`)).toEqual([
    'time: Time: day, month, year, by the clock of Europe/Berlin.',
    'value: Values of Lab.pH: numbers with a decimal comma.',
    'quality: Quality of Lab.pH.',
    'ignored: No tag is named Note.',
    'ignored: No tag is named Pressure.',
  ]);
  const expected = {
    rows: 5,
    values: 5,
    accepted: 4,
    replaced: 0,
    unchanged: 0,
    setAside: 1,
    reasons: [{ row: 5, tag: 'Lab.pH', value: '7,20', reason: expect.stringContaining('is no time') as unknown }],
  };
  const rehearsal = await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, planOf(file));
  expect(rehearsal.body).toEqual(expected);
  expect(await raw('Lab.pH')).toEqual([]);
  await site.call('POST', `/imports/${file.id}/run`, planOf(file));
  expect((await finished(file.id)).report).toEqual(expected);
  // The hour that the clock shows twice: the second time an hour later.
  expect(await raw('Lab.pH')).toEqual([
    ['2026-10-24T21:30:00.000Z', 7.12, 'Good'],
    ['2026-10-25T00:30:00.000Z', 7.15, 'Good'],
    ['2026-10-25T01:30:00.000Z', 7.16, 'Uncertain'],
    ['2026-10-26T05:00:00.000Z', null, 'Bad'],
  ]);
  const again = await take('lab.csv', LAB.replace('7,12', '7,13'));
  const second = await site.call<ImportReport>('POST', `/imports/${again.id}/rehearsal`, planOf(again));
  expect(second.body).toMatchObject({ accepted: 1, replaced: 1, unchanged: 3, setAside: 1 });
});

test.each(['csv', 'xlsx', 'parquet', 'json'])(
  'what the archive writes as %s it reads again without being told anything, value for value',
  async (format) => {
    const real = `Back.${format}`;
    const names = { real, whole: `${real}.whole`, text: `${real}.text`, flag: `${real}.flag` };
    await site.tag({ name: names.real });
    await site.tag({ name: names.whole, type: 'integer' });
    await site.tag({ name: names.text, type: 'text' });
    await site.tag({ name: names.flag, type: 'boolean' });
    const samples = Array.from({ length: 1000 }, (_, i) => {
      const time = new Date(Date.UTC(2026, 9, 24, 23) + i * 20_000).toISOString();
      const status = i % 100 === 3 ? 'Bad_NoCommunication' : i % 100 === 4 ? 'Uncertain_LastUsableValue' : 'Good';
      return [
        { tag: names.real, time, value: Math.round(1000 * Math.sin(i)) / 7, status },
        { tag: names.whole, time, value: (9_007_199_254_740_992n + BigInt(i)).toString(), status },
        { tag: names.text, time, value: ['=1+1', '12,5', 'A "B"; C', 'two\nlines', ' '][i % 5], status },
        { tag: names.flag, time, value: i % 3 === 0, status },
      ];
    }).flat();
    const taken = await site.call<{ accepted: number }>('POST', '/samples', { samples });
    expect(taken.body.accepted).toBe(4000);
    const exported = async (): Promise<Buffer> => {
      const query = `kind=raw&tags=${Object.values(names).join(',')}&format=${format}&from=2026-01-01T00:00:00Z&to=2027-01-01T00:00:00Z`;
      const answer = await fetch(`${site.site.url}/api/v1/history/export?${query}`, {
        headers: { cookie: site.cookie },
      });
      return Buffer.from(await answer.arrayBuffer());
    };
    // Read by another zone's clock: the file says for itself which instants it means.
    const file = await take(`history.${format}`, await exported());
    const unchanged = async (): Promise<unknown> =>
      (await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, planOf(file))).body;
    const all = { values: 4000, unchanged: 4000, accepted: 0, setAside: 0 };
    expect(await unchanged()).toMatchObject(all);
    await site.site.posting.postAll();
    expect(await unchanged()).toMatchObject(all);
    // And that this is no matter of comparing nothing: without the values, the file brings all of them back.
    const before = await Promise.all(Object.values(names).map(raw));
    for (const name of Object.values(names)) {
      const removal = {
        tag: name,
        from: '2026-01-01T00:00:00Z',
        to: '2027-01-01T00:00:00Z',
        reason: 'to bring it back',
      };
      const { body } = await site.call<{ removed: number }>('POST', '/history/removals', removal);
      expect(body.removed).toBe(1000);
    }
    expect((await Promise.all(Object.values(names).map(raw))).flat()).toEqual([]);
    expect((await archived(file)).report).toMatchObject({ accepted: 4000, setAside: 0 });
    expect(await Promise.all(Object.values(names).map(raw))).toEqual(before);
  },
);

test('a workbook with a sheet for each tag comes back from all of its sheets', async () => {
  for (const [i, name] of ['Sheet.A', 'Sheet.B'].entries()) {
    await site.tag({ name });
    const samples = [0, 1, 2].map((k) => ({ tag: name, time: `2026-03-0${k + 1}T12:00:00Z`, value: 10 * i + k }));
    await site.call('POST', '/samples', { samples });
  }
  const query =
    'kind=raw&tags=Sheet.A,Sheet.B&format=xlsx&layout=sheets&from=2026-01-01T00:00:00Z&to=2027-01-01T00:00:00Z';
  const answer = await fetch(`${site.site.url}/api/v1/history/export?${query}`, { headers: { cookie: site.cookie } });
  const file = await take('two.xlsx', Buffer.from(await answer.arrayBuffer()));
  expect(file.sentence).toMatch('All 2 sheets');
  const { body } = await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, planOf(file));
  expect(body).toMatchObject({ values: 6, unchanged: 6, setAside: 0 });
});

/** A workbook as a laboratory makes it. */
async function workbook(sheets: Record<string, unknown[][]>): Promise<Buffer> {
  const book = new exceljs.Workbook();
  for (const [name, rows] of Object.entries(sheets)) book.addWorksheet(name).addRows(rows);
  return Buffer.from(await book.xlsx.writeBuffer());
}

test('date cells of a workbook are by the clock of the zone, not by UTC; sheets left out are named', async () => {
  await site.tag({ name: 'Book.level' });
  const content = await workbook({
    Levels: [
      ['Taken', 'Book.level'],
      [new Date('2026-07-01T12:00:00Z'), 1],
      [new Date('2026-11-01T12:00:00Z'), 2],
    ],
    Notes: [['Who'], ['nobody']],
  });
  const file = await take('book.xlsx', content);
  expect(file.sentence).toBe('The sheet "Levels". Not read: "Notes".');
  await archived(file);
  // Noon in Berlin is 10 o'clock UTC in summer and 11 in winter.
  expect(await raw('Book.level')).toEqual([
    ['2026-07-01T10:00:00.000Z', 1, 'Good'],
    ['2026-11-01T11:00:00.000Z', 2, 'Good'],
  ]);
  expect((await take('book.xlsx', content, 'UTC', 'Notes')).columns.map(({ name }) => name)).toEqual(['Who']);
});

test('50,125 beside 0,345 has a decimal comma; 1,125 alone can be read in two ways and is set aside until a person says', async () => {
  await site.tag({ name: 'Comma.a' });
  const clear = await take('a.csv', 'time;Comma.a\n2026-02-01T00:00:00Z;50,125\n2026-02-01T00:01:00Z;0,345\n');
  expect(clear.columns[1]).toMatchObject({ decimal: 'comma', doubtful: false });
  await archived(clear);
  expect((await raw('Comma.a')).map(([, value]) => value)).toEqual([50.125, 0.345]);

  const unclear = await take('b.csv', 'time;Comma.a\n2026-02-02T00:00:00Z;1,125\n2026-02-02T00:01:00Z;7\n');
  expect(unclear.columns[1]).toMatchObject({ decimal: 'undecided', doubtful: true });
  expect(await setAside(unclear)).toEqual([[2, expect.stringContaining('Say which mark it has')]]);
  const plan = planOf(unclear);
  plan.columns[1]!.decimal = 'comma';
  await archived(unclear, plan);
  expect((await raw('Comma.a')).slice(2).map(([, value]) => value)).toEqual([1.125, 7]);
});

test('the order of day and month is told by any row; where none does, the doubtful dates are set aside', async () => {
  await site.tag({ name: 'Order.a' });
  const lines = Array.from({ length: 12 }, (_, i) => `0${1 + (i % 9)}/04/2026 0${i % 9}:00,${i}`);
  const told = await take('a.csv', `when,Order.a\n${lines.join('\n')}\n13/04/2026 00:00,99\n`);
  expect(told.columns[0]!.time).toMatchObject({ kind: 'clock', order: 'dmy' });
  const untold = await take('b.csv', 'when,Order.a\n03/04/2026 00:00,1\n05/05/2026 00:00,2\n', 'UTC');
  expect(untold.columns[0]).toMatchObject({ time: { order: 'undecided' }, doubtful: true });
  // The fifth of May is the same day either way.
  expect(await setAside(untold)).toEqual([[2, expect.stringContaining('Say which comes first')]]);
});

test('the doubled hour of each tag by itself: rows of two tags take turns, or the newest come first', async () => {
  for (const name of ['Twice.a', 'Twice.b']) await site.tag({ name });
  const clock = ['01:45', '02:15', '02:45', '02:15', '02:45', '03:15'];
  const rows = clock.flatMap((time, i) => ['a', 'b'].map((name) => `25.10.2026 ${time};Twice.${name};${i}`));
  const expected = [
    ['2026-10-24T23:45:00.000Z', 0],
    ['2026-10-25T00:15:00.000Z', 1],
    ['2026-10-25T00:45:00.000Z', 2],
    ['2026-10-25T01:15:00.000Z', 3],
    ['2026-10-25T01:45:00.000Z', 4],
    ['2026-10-25T02:15:00.000Z', 5],
  ];
  const shown = async (tag: string): Promise<unknown[]> => (await raw(tag)).map(([time, value]) => [time, value]);
  const inOrder = await take('a.csv', ['time;tag;value', ...rows].join('\n'));
  expect((await archived(inOrder)).report).toMatchObject({ accepted: 12, replaced: 0 });
  expect(await shown('Twice.a')).toEqual(expected);
  expect(await shown('Twice.b')).toEqual(expected);
  const newestFirst = await take('b.csv', ['time;tag;value', ...rows.reverse()].join('\n'));
  const { body } = await site.call<ImportReport>('POST', `/imports/${newestFirst.id}/rehearsal`, planOf(newestFirst));
  expect(body).toMatchObject({ unchanged: 12, accepted: 0 });
  // One reading in the hour: nothing tells which; a person can.
  const lone = await take('c.csv', 'time;tag;value\n25.10.2026 02:20;Twice.a;1\n');
  expect(await setAside(lone)).toEqual([[2, expect.stringContaining('twice')]]);
  const plan = planOf(lone);
  plan.columns[0]!.time = { ...plan.columns[0]!.time, doubled: 'second' } as never;
  await archived(lone, plan);
  expect(await shown('Twice.a')).toContainEqual(['2026-10-25T01:20:00.000Z', 1]);
});

test('qualities as a byte, a status in hexadecimal, or a word', async () => {
  await site.tag({ name: 'Quality.a' });
  const day = (i: number): string => `2026-06-0${i}T00:00:00Z`;
  const bytes = await take(
    'a.csv',
    ['time,Quality.a,quality', `${day(1)},1,192`, `${day(2)},2,64`, `${day(3)},3,0`].join('\n'),
  );
  expect(bytes.columns[2]!.sentence).toBe('Quality of Quality.a: a byte, 192 for Good, 64 for Uncertain, 0 for Bad.');
  await archived(bytes);
  const words = await take(
    'b.csv',
    ['time,Quality.a,status', `${day(4)},4,0x80000000`, `${day(5)},5,0x40000000`, `${day(6)},6,0x00000000`].join('\n'),
  );
  await archived(words);
  expect((await raw('Quality.a')).map(([, value, quality]) => [value, quality])).toEqual([
    [1, 'Good'],
    [2, 'Uncertain'],
    [3, 'Bad'],
    [4, 'Bad'],
    [5, 'Uncertain'],
    [6, 'Good'],
  ]);
  const zeros = await take('c.csv', ['time,Quality.a,quality', `${day(7)},7,0`].join('\n'));
  expect(zeros.columns[2]).toMatchObject({ quality: 'undecided', doubtful: true });
  expect(await setAside(zeros)).toEqual([[2, expect.stringContaining('status or a byte')]]);
});

const UMLAUTS = 'Zeit;Größe;Oil.note\n01.02.2026 12:00;5;Güte: ölig, 20 µS\n';
test.each([
  ['UTF-8 with its mark', Buffer.from(`\uFEFF${UMLAUTS}`)],
  ['Windows-1252', Buffer.from(UMLAUTS, 'latin1')],
  ['UTF-16, little end first', Buffer.from(`\uFEFF${UMLAUTS}`, 'utf16le')],
  ['UTF-16, big end first', Buffer.from(`\uFEFF${UMLAUTS}`, 'utf16le').swap16()],
])('a file in %s is read with its umlauts', async (_name, content) => {
  await site.call('POST', '/tags', { name: 'Oil.note', type: 'text' });
  const file = await take('oil.csv', content, 'UTC');
  expect(file.columns.map(({ name }) => name)).toEqual(['Zeit', 'Größe', 'Oil.note']);
  expect(file.columns[2]).toMatchObject({ role: 'value', examples: ['Güte: ölig, 20 µS'] });
});

test('date and time of day in a column each, half days, and days counted since 1900', async () => {
  for (const name of ['Day.a', 'Day.b', 'Day.c']) await site.tag({ name });
  await archived(await take('a.csv', 'Date;Time;Day.a\n13.02.2026;06:30;1\n', 'UTC'));
  await archived(await take('b.csv', 'time,Day.b\n2/13/2026 12:05:00 AM,1\n2/13/2026 12:05:00 PM,2\n', 'UTC'));
  // Day 46066 since 1899-12-30 is 2026-02-13 by counting days.
  await archived(await take('c.csv', 'time,Day.c\n46066.25,1\n46066.5,2\n', 'UTC'));
  const times = async (tag: string): Promise<string[]> => (await raw(tag)).map(([time]) => time);
  expect(await times('Day.a')).toEqual(['2026-02-13T06:30:00.000Z']);
  expect(await times('Day.b')).toEqual(['2026-02-13T00:05:00.000Z', '2026-02-13T12:05:00.000Z']);
  expect(await times('Day.c')).toEqual(['2026-02-13T06:00:00.000Z', '2026-02-13T12:00:00.000Z']);
});

test('microseconds of a Parquet file stay what they are', async () => {
  for (const name of ['Micro.a']) await site.tag({ name });
  const times = ['2026-02-13T06:30:00.123456Z', '2026-02-13T06:30:00.123457Z'];
  await site.call('POST', '/samples', { samples: times.map((time, i) => ({ tag: 'Micro.a', time, value: i })) });
  const query = 'kind=raw&tags=Micro.a&format=parquet&from=2026-01-01T00:00:00Z&to=2027-01-01T00:00:00Z';
  const answer = await fetch(`${site.site.url}/api/v1/history/export?${query}`, { headers: { cookie: site.cookie } });
  const file = await take('micro.parquet', Buffer.from(await answer.arrayBuffer()));
  const { body } = await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, planOf(file));
  expect(body).toMatchObject({ values: 2, unchanged: 2 });
});

test('a file that a restart cuts off goes on where it was, and nothing of it is there twice', async () => {
  const tag = 'Cut.off';
  await site.tag({ name: tag });
  const ROWS = 60_000;
  const start = Date.UTC(2026, 4, 1);
  const lines = Array.from({ length: ROWS }, (_, i) => `${new Date(start + i * 1000).toISOString()},${i % 977}`);
  const file = await take('long.csv', `time,${tag}\n${lines.join('\n')}`);
  await site.call('POST', `/imports/${file.id}/run`, planOf(file));
  let before: ImportedFile;
  do before = (await site.call<ImportedFile>('GET', `/imports/${file.id}`)).body;
  while (before.report!.rows === 0);
  await site.restart();
  expect(before.report!.rows).toBeLessThan(ROWS);
  const { state, report } = await finished(file.id);
  expect([state, report]).toMatchObject([
    'done',
    { rows: ROWS, accepted: ROWS, replaced: 0, unchanged: 0, setAside: 0 },
  ]);
  const [kept] = await site.query<Record<string, number>>(
    `SELECT count(*) AS entries, count(DISTINCT sequence) AS sequences, sum(samples)::bigint AS samples
     FROM journal_entry WHERE writer = $1`,
    [`import ${file.id}`],
  );
  expect(kept).toEqual({ entries: ROWS / 2000, sequences: ROWS / 2000, samples: ROWS });
  const [there] = await site.query<Record<string, number>>(
    "SELECT count(*) AS samples, count(DISTINCT time) AS times FROM history.sample($1, '2026-01-01Z', '2027-01-01Z')",
    [tag],
  );
  expect(there).toEqual({ samples: ROWS, times: ROWS });
});

test('what is no table gets a sentence', async () => {
  const answer = await fetch(`${site.site.url}/api/v1/imports?name=picture.xlsx`, {
    method: 'POST',
    headers: { cookie: site.cookie },
    body: new Uint8Array(Buffer.from('PK\u0003\u0004 but nothing else')),
  });
  const { detail } = (await answer.json()) as { detail: string };
  expect([answer.status, detail]).toEqual([
    400,
    expect.stringContaining('picture.xlsx cannot be read as CSV, XLSX, Parquet or JSON'),
  ]);
});

test('a file fills holes alone: what nobody watched, and where nothing stands; the rest is left alone', async () => {
  const at = (minute: number): string => new Date(Date.UTC(2026, 5, 1, 8, minute)).toISOString();
  const micros = (minute: number): number => Date.parse(at(minute)) * 1000;
  await site.call('PUT', '/sources', {
    name: 'Logger',
    kind: 'modbus-tcp',
    connection: { host: '10.2.2.2', port: 502, unit: 1 },
  });
  const address = { area: 'holding', address: 1, type: 'float32', order: 'ABCD' };
  const collection = { source: 'Logger', address, intervalMilliseconds: 60_000 };
  const id = await site.tag({ name: 'Held', type: 'real', inForceSince: at(-60), collection });
  await site.tag({ name: 'Loose', type: 'real' });
  const { body } = await site.call<{ sources: { id: number; name: string }[] }>('GET', '/sources');
  const source = body.sources.find(({ name }) => name === 'Logger')!.id;
  // Watched for ten minutes, away for ten, watched again; a mark says that nothing is known meanwhile.
  const watches = [
    { source, version: 1, from: micros(0), to: micros(10) },
    { source, version: 1, from: micros(20), to: micros(30) },
  ];
  const frame = frameOf(id, [
    [micros(0), 1],
    [micros(10) + 1, NaN, 0x80310000],
    [micros(20), 2],
  ]);
  expect((await site.entry({ writer: 'logger', sequence: 1, origin: 'live', watches }, frame)).status).toBe(200);
  await site.call('POST', '/samples', { samples: [{ tag: 'Loose', time: at(5), value: 9 }] });
  const rows = [5, 12, 15, 25].map((minute) => `${at(minute)},${100 + minute},${minute}`);
  const file = await take('logger.csv', ['time,Held,Loose', ...rows].join('\n'), 'UTC');
  const plan = { ...planOf(file), overlap: 'fill' };
  const expected = { values: 8, accepted: 5, replaced: 0, unchanged: 0, setAside: 0, leftAlone: 3 };
  expect((await site.call<ImportReport>('POST', `/imports/${file.id}/rehearsal`, plan)).body).toMatchObject(expected);
  expect((await archived(file, plan)).report).toMatchObject(expected);
  const values = async (tag: string) =>
    (await raw(tag)).filter(([, value]) => value !== null).map(([time, value]) => [Date.parse(time), value]);
  expect(await values('Held')).toEqual(
    [0, 12, 15, 20].map((minute, i) => [Date.parse(at(minute)), [1, 112, 115, 2][i]]),
  );
  expect(await values('Loose')).toEqual(
    [5, 12, 15, 25].map((minute) => [Date.parse(at(minute)), minute === 5 ? 9 : minute]),
  );
  // Brought in once more, nothing is a hole any more where something stands.
  const again = await take('logger.csv', ['time,Held,Loose', ...rows].join('\n'), 'UTC');
  expect((await archived(again, { ...planOf(again), overlap: 'fill' })).report).toMatchObject({
    accepted: 0,
    leftAlone: 8,
  });
});

test('a gap that a file filled is told as recovered, as far as its values reach; what they leave stays open', async () => {
  const at = (minute: number): string => new Date(Date.UTC(2026, 5, 2, 8, minute)).toISOString();
  const micros = (minute: number): number => Date.parse(at(minute)) * 1000;
  const connection = { host: '10.2.2.3', port: 502, unit: 1 };
  await site.call('PUT', '/sources', { name: 'Chart', kind: 'modbus-tcp', connection });
  const address = { area: 'holding', address: 1, type: 'float32', order: 'ABCD' };
  const collection = { source: 'Chart', address, intervalMilliseconds: 60_000 };
  const ids = [
    await site.tag({ name: 'Filled', type: 'real', inForceSince: at(0), collection }),
    await site.tag({ name: 'Untouched', type: 'real', inForceSince: at(0), collection }),
  ];
  const { body } = await site.call<{ sources: { id: number; name: string }[] }>('GET', '/sources');
  const source = body.sources.find(({ name }) => name === 'Chart')!.id;
  // Read every minute, but for twenty in the middle.
  const beats = Array.from({ length: 60 }, (_, minute) => minute).filter((minute) => minute < 20 || minute >= 40);
  const watches = [
    { source, version: 1, from: micros(0), to: micros(20) },
    { source, version: 1, from: micros(40), to: micros(60) },
  ];
  for (const [i, id] of ids.entries()) {
    const frame = frameOf(
      id,
      beats.map((minute) => [micros(minute), minute]),
    );
    const entry = { writer: 'chart', sequence: i + 1, origin: 'live', watches: i === 0 ? watches : [] };
    expect((await site.entry(entry, frame)).status).toBe(200);
  }
  const minutes = [20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30];
  const file = await take('chart.csv', ['time,Filled', ...minutes.map((one) => `${at(one)},${one}`)].join('\n'), 'UTC');
  expect((await archived(file, { ...planOf(file), overlap: 'fill' })).report).toMatchObject({ accepted: 11 });
  const gapsOf = async (tag: string) => {
    const path = `/gaps?tag=${tag}&from=${at(0)}&to=${at(60)}&recovered=true`;
    const { gaps } = (
      await site.call<{ gaps: { from: string; to: string; state: string; fate: string }[] }>('GET', path)
    ).body;
    return gaps
      .map(({ from, to, state, fate }) => ({ from: Date.parse(from), to: Date.parse(to), state, fate }))
      .sort((a, b) => a.from - b.from);
  };
  const minute = (one: number): number => Date.parse(at(one));
  expect(await gapsOf('Filled')).toEqual([
    { from: minute(20), to: minute(30), state: 'recovered', fate: expect.stringContaining('Filled from chart.csv') },
    expect.objectContaining({ from: minute(30), to: minute(40), state: 'open' }),
  ]);
  expect(await gapsOf('Untouched')).toMatchObject([{ from: minute(20), to: minute(40), state: 'open' }]);
});
