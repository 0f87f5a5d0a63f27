/**
 * Every call of the description, with requests made from the description itself and from hell: none is answered by a
 * fault of the server, and what is refused is refused by a problem document with a sentence (RFC 9457).
 */
import * as fc from 'fast-check';
import { TestSite } from './testSite.ts';

let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open();
  await site.tag({ name: 'F.1', type: 'real' });
  await site.tag({ name: 'F.2', type: 'text' });
}, 60_000);
afterAll(() => site.close());

interface Schema {
  readonly $ref?: string;
  readonly type?: string | readonly string[];
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly items?: Schema;
}
interface Parameter {
  readonly name: string;
  readonly in: 'query' | 'path';
  readonly schema: Schema;
}
interface Operation {
  readonly parameters?: readonly Parameter[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Schema }>> };
}
interface Document {
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components?: { readonly schemas?: Readonly<Record<string, Schema>> };
}

const TEXTS = [
  '',
  ' ',
  '\0',
  'a\0b',
  '\ud800',
  'ü€😀',
  '__proto__',
  '%',
  "'; DROP TABLE tag; --",
  '../../etc/passwd',
  'F.1',
  'F.2',
  'now',
  'now-6h',
  'now+99999999999w',
  'now-99999999999999999999999s',
  '-999999-01-01T00:00:00Z',
  '2026-02-30T00:00:00Z',
  '2026-01-01T00:00:00Z',
  'P1000Y',
  'P0D',
  '-PT1H',
  'PT0.0000001S',
  'shift:25:00',
  'Mars/Olympus',
  'NaN',
  'x'.repeat(3000),
];
const NUMBERS = [0, -1, 1, 1.5, -0, 2 ** 31, 2 ** 53, -(2 ** 63), 1e308, 1e-308];
const hostile = fc.oneof(
  fc.constantFrom<unknown>(...TEXTS),
  fc.constantFrom<unknown>(...NUMBERS),
  fc.constantFrom<unknown>(null, true, false, [], {}, [[]], [null], { a: { b: {} } }),
  fc.string({ unit: 'binary', maxLength: 20 }),
  fc.jsonValue({ maxDepth: 3 }),
);

/** Values as a schema has them, now and then something else. */
function valuesOf(schema: Schema, document: Document, depth = 0): fc.Arbitrary<unknown> {
  const fitting = (): fc.Arbitrary<unknown> => {
    if (schema.$ref) return valuesOf(document.components!.schemas![schema.$ref.split('/').at(-1)!]!, document, depth);
    if (depth > 6) return hostile;
    if (schema.const !== undefined) return fc.constant(schema.const);
    if (schema.enum) return fc.constantFrom(...schema.enum);
    const choices = schema.anyOf ?? schema.oneOf;
    if (choices) return fc.oneof(...choices.map((one) => valuesOf(one, document, depth + 1)));
    if (schema.allOf) {
      return fc
        .tuple(...schema.allOf.map((one) => valuesOf(one, document, depth + 1)))
        .map((parts) => Object.assign({}, ...parts) as unknown);
    }
    const type = Array.isArray(schema.type) ? (schema.type as string[])[0] : (schema.type as string | undefined);
    switch (type) {
      case 'object':
        return fc.record(
          Object.fromEntries(
            Object.entries(schema.properties ?? {}).map(([name, one]) => [name, valuesOf(one, document, depth + 1)]),
          ),
          { requiredKeys: [] },
        );
      case 'array':
        return fc.array(valuesOf(schema.items ?? {}, document, depth + 1), { maxLength: 3 });
      case 'string':
        return fc.constantFrom(...TEXTS);
      case 'integer':
      case 'number':
        return fc.oneof(fc.constantFrom(...NUMBERS), fc.integer({ min: 0, max: 1000 }));
      case 'boolean':
        return fc.boolean();
      default:
        return hostile;
    }
  };
  return fc.oneof({ weight: 5, arbitrary: fitting() }, { weight: 1, arbitrary: hostile });
}

const PATHS = [
  '1',
  'F.1',
  'abc',
  '-1',
  '1.5',
  '99999999999999999999',
  '%00',
  '%FF',
  '..%2F..',
  '%F0%9F%98%80',
  '%ED%A0%80',
];
const asText = (value: unknown): string => (typeof value === 'string' ? value : (JSON.stringify(value) ?? ''));
const encoded = (text: string): string => encodeURIComponent(Buffer.from(text).toString());

/** What ends the session that the test asks with, holds the line open, or has no JSON. */
const APART = ['delete /api/v1/session', 'get /api/v1/live', 'get /api/v1/collector/questions'];

let document: Document;
beforeAll(async () => {
  document = (await site.call<Document>('GET', '/openapi.json')).body;
});

test('no call of the description is answered by a fault of the server, whatever is asked', async () => {
  const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods)
      .map(([method, operation]) => ({ path, method, operation }))
      .filter((one) => !APART.includes(`${one.method} ${one.path}`)),
  );
  expect(operations.length).toBeGreaterThan(60);
  const faults: string[] = [];
  for (const { path, method, operation } of operations) {
    const parameters = operation.parameters ?? [];
    const content = operation.requestBody?.content ?? {};
    const body = content['application/json'];
    const inQuery = parameters.filter((one) => one.in === 'query');
    const requests = fc.record({
      path: fc.array(fc.constantFrom(...PATHS), { minLength: 3, maxLength: 3 }),
      query: fc.record(
        Object.fromEntries(inQuery.map(({ name, schema }) => [name, valuesOf(schema, document).map(asText)])),
        { requiredKeys: [] },
      ),
      body: body ? valuesOf(body.schema, document) : fc.constant(undefined),
    });
    const property = fc.asyncProperty(requests, async (request) => {
      let filled = 0;
      const address = path.replace('/api/v1', '').replace(/\{\w+\}/g, () => request.path[filled++]!);
      const query = Object.entries(request.query)
        .map(([name, value]) => `${name}=${encoded(value ?? '')}`)
        .join('&');
      const answer = await site.call<{ title?: string; status?: number; detail?: string }>(
        method.toUpperCase(),
        `${address}${query ? `?${query}` : ''}`,
        content['application/octet-stream'] ? new TextEncoder().encode(asText(request.query)) : request.body,
      );
      const { status } = answer;
      if (status < 400) return;
      expect(answer.headers.get('content-type')).toMatch(/^application\/problem\+json/);
      expect(answer.body.status).toBe(status);
      expect(answer.body.detail).toMatch(/[.…)]$/);
      expect(status === 500 || (status === 401 && path !== '/api/v1/session') ? answer.body : null).toBeNull();
    });
    await fc.assert(property, { numRuns: 25, endOnFailure: true }).catch((error: unknown) => {
      faults.push(`${method} ${path}: ${(error as Error).message}`);
    });
  }
  expect(faults).toEqual([]);
  // All the same the site works, and what was there is there.
  expect((await site.call('GET', '/health')).status).toBe(200);
}, 280_000);

describe('a body or an address that is none', () => {
  const send = (path: string, init: RequestInit): Promise<Response> =>
    fetch(`${site.site.url}/api/v1${path}`, { ...init, headers: { cookie: site.cookie, ...init.headers } });
  test.each<[string, string, RequestInit, number, RegExp]>([
    ['not JSON', '/samples', { body: '{', headers: { 'content-type': 'application/json' } }, 400, /is not JSON/],
    [
      'another type',
      '/samples',
      { body: 'a', headers: { 'content-type': 'text/csv' } },
      415,
      /is text\/csv; this call takes application\/json/,
    ],
    ['without a type', '/samples', { body: new Uint8Array([1]) }, 415, /of no stated type/],
    [
      'another character set',
      '/samples',
      { body: '{}', headers: { 'content-type': 'application/json; charset=latin1' } },
      415,
      /Send UTF-8/,
    ],
    [
      'another encoding',
      '/samples',
      { body: '{}', headers: { 'content-type': 'application/json', 'content-encoding': 'bogus' } },
      415,
      /encoding, bogus/,
    ],
    [
      'said to be packed',
      '/samples',
      { body: '{}', headers: { 'content-type': 'application/json', 'content-encoding': 'gzip' } },
      400,
      /./,
    ],
    [
      'too deep',
      '/samples',
      { body: '['.repeat(100), headers: { 'content-type': 'application/json' } },
      400,
      /nests more than 40 deep/,
    ],
    [
      'too many parts',
      '/samples',
      { body: `{"samples":[${'[],'.repeat(500_000)}[]]}`, headers: { 'content-type': 'application/json' } },
      400,
      /more than 400000 objects and arrays/,
    ],
    [
      'too many values in one place',
      '/samples',
      { body: `[${'1,'.repeat(500_000)}1]`, headers: { 'content-type': 'application/json' } },
      400,
      /more than 400000 values in one member/,
    ],
    [
      'too large',
      '/keys',
      { body: JSON.stringify({ name: 'x'.repeat(300_000) }), headers: { 'content-type': 'application/json' } },
      413,
      /larger than 256 KB/,
    ],
    ['half a character', '/tags/%FF', { method: 'GET' }, 400, /percent-encoding/],
    ['another method', '/tags', { method: 'PUT' }, 405, /takes GET, POST, not PUT/],
  ])('%s is refused with a sentence', async (_what, path, init, status, words) => {
    const answer = await send(path, { method: 'POST', ...init });
    expect(answer.headers.get('content-type')).toMatch(/^application\/problem\+json/);
    const body = (await answer.json()) as { status: number; detail: string };
    expect([body.status, body.detail]).toEqual([status, expect.stringMatching(words)]);
  });

  test('nobody without a key makes the server take a large body in', async () => {
    const body = `[${'[],'.repeat(2_000_000)}[]]`;
    const headers = { 'content-type': 'application/json', cookie: '' };
    // The server answers before it has read; whether the rest is still taken is up to the connection.
    const status = await send('/samples', { method: 'POST', body, headers }).then(
      (answer) => answer.status,
      () => 401,
    );
    expect(status).toBe(401);
  });

  test('what lies outside the interface is a sentence too', async () => {
    const answer = await fetch(`${site.site.url}/nowhere`, { method: 'POST' });
    expect([answer.status, answer.headers.get('content-type')]).toEqual([
      404,
      'application/problem+json; charset=utf-8',
    ]);
    const large = await fetch(`${site.site.url}/api/v1/tags?search=${'x'.repeat(20_000)}`);
    expect([large.status, large.headers.get('content-type')]).toEqual([431, 'application/problem+json; charset=utf-8']);
  });
});
