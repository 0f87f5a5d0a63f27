/** The examples of the description work as they stand, and calls without parameters are answered in the shape described. */
import { TestSite } from './testSite.ts';

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open();
}, 60_000);
afterAll(() => site.close());

interface Operation {
  readonly summary: string;
  readonly parameters?: readonly { name: string; in: string; required?: boolean; schema: { example?: string } }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly example?: unknown }>> };
  readonly responses: Readonly<Record<string, unknown>>;
}
interface Described {
  readonly call: string;
  readonly method: string;
  readonly path: string;
  readonly operation: Operation;
}

async function described(): Promise<Described[]> {
  const { body } = await site.call<{ paths: Record<string, Record<string, Operation>> }>('GET', '/openapi.json');
  return Object.entries(body.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({
      call: `${method} ${path}`,
      method: method.toUpperCase(),
      path: path.replace('/api/v1', ''),
      operation,
    })),
  );
}

test('every example is a request that works', async () => {
  const calls = await described();
  // What makes the tag of the examples comes first.
  const first = 'post /api/v1/tags';
  calls.sort((a, b) => Number(b.call === first) - Number(a.call === first));
  const run: [string, number][] = [];
  for (const { call, method, path, operation } of calls) {
    const body = operation.requestBody?.content['application/json']?.example;
    const query = (operation.parameters ?? []).filter((one) => one.schema.example !== undefined);
    if (body === undefined && query.length === 0) continue;
    const given = query.map(({ name, schema }) => `${name}=${encodeURIComponent(schema.example!)}`).join('&');
    const { status } = await site.call(method, `${path}${given ? `?${given}` : ''}`, body);
    run.push([call, status]);
  }
  expect(run.length).toBeGreaterThanOrEqual(16);
  expect(run.filter(([, status]) => status >= 300)).toEqual([]);
});

test('every call that needs nothing is answered', async () => {
  const open = (await described()).filter(
    ({ method, path, operation }) =>
      method === 'GET' &&
      !path.includes('{') &&
      // Streams, what the test bench alone has, and what only the key of a link may ask.
      !['/live', '/collector/questions', '/bench', '/carry/position', '/carry/papers'].includes(path) &&
      !(operation.parameters ?? []).some(({ required }) => required),
  );
  expect(open.length).toBeGreaterThan(12);
  for (const { call, path } of open) expect([call, (await site.call('GET', path)).status]).toEqual([call, 200]);
});

test('each call says its scope, what it answers, and no two are the same', async () => {
  const calls = await described();
  expect(new Set(calls.map(({ call }) => call)).size).toBe(calls.length);
  for (const { call, operation } of calls) {
    expect([call, operation.summary.length > 5]).toEqual([call, true]);
    expect([call, Object.keys(operation.responses).length]).toEqual([call, 2]);
  }
});

test('metrics are told in the open text format, here and where they are looked for', async () => {
  const { body, headers } = await site.call<string>('GET', '/metrics');
  expect(headers.get('content-type')).toContain('text/plain; version=0.0.4');
  for (const name of ['values_acknowledged_total', 'posting_lag_seconds', 'read_seconds_bucket', 'pool_connections'])
    expect(body).toMatch(new RegExp(`^wide_ledger_${name}`, 'm'));
  const outside = await fetch(`${site.site.url}/metrics`, { headers: { cookie: site.cookie } });
  expect(await outside.text()).toContain('wide_ledger_values_acknowledged_total');
  expect((await fetch(`${site.site.url}/metrics`)).status).toBe(401);
});
