/** Files brought in: understood, rehearsed, archived, reported; what the archive writes it can read again. */
import type { ImportReport, ImportedFile, RawAnswer } from '@wide-ledger/contract';
import { TestSite } from './testSite.ts';

const site = await TestSite.open();
afterAll(() => site.close());

async function take(name: string, content: string | Buffer, zone = 'Europe/Berlin'): Promise<ImportedFile> {
  const answer = await fetch(`${site.site.url}/api/v1/imports?name=${name}&zone=${zone}`, {
    method: 'POST',
    headers: { cookie: site.cookie, 'content-type': 'application/octet-stream' },
    body: new Uint8Array(Buffer.from(content)),
  });
  return (await answer.json()) as ImportedFile;
}
const planOf = ({ columns, zone }: ImportedFile) => ({
  zone,
  columns: columns.map(({ name, role, time, decimal, tag }) => ({ name, role, time, decimal, tag })),
});
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

test.each(['csv', 'xlsx', 'parquet'])(
  'what the archive writes as %s it reads again, value for value',
  async (format) => {
    const from = `From.${format}`;
    const to = `Into.${format}`;
    for (const name of [from, to]) await site.tag({ name });
    const samples = Array.from({ length: 5000 }, (_, i) => ({
      tag: from,
      time: new Date(Date.UTC(2026, 2, 29) + i * 1000).toISOString(),
      value: Math.round(1000 * Math.sin(i)) / 7,
      status: i % 100 === 3 ? 'Bad_NoCommunication' : 'Good',
    }));
    await site.call('POST', '/samples', { samples });
    const query = `kind=raw&tags=${from}&format=${format}&from=2026-01-01T00:00:00Z&to=2027-01-01T00:00:00Z`;
    const answer = await fetch(`${site.site.url}/api/v1/history/export?${query}`, { headers: { cookie: site.cookie } });
    const file = await take(`history.${format}`, Buffer.from(await answer.arrayBuffer()), 'UTC');
    // The file of one tag does not name it: a person says whose values these are.
    const plan = planOf(file);
    for (const column of plan.columns) {
      if (column.name === 'value') Object.assign(column, { role: 'value', tag: to, decimal: 'point' });
      if (column.name === 'status') Object.assign(column, { role: 'ignored' });
      if (column.name === 'quality') Object.assign(column, { role: 'quality', tag: to });
    }
    await site.call('POST', `/imports/${file.id}/run`, plan);
    const { report, sentence } = await finished(file.id);
    expect([sentence, report]).toMatchObject(['5000 rows are done.', { accepted: 5000, setAside: 0 }]);
    expect(await raw(to)).toEqual(await raw(from));
  },
);

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
    expect.stringContaining('picture.xlsx cannot be read as CSV, XLSX or Parquet'),
  ]);
});
