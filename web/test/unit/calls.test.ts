/** Calls to the server: what is sent, and every failure as a sentence. */
import { CallFailed, address, get, post, postFile, put, remove } from '../../src/server/calls.ts';
import { Refusal, StandInServer } from './standInServer.tsx';

const failure = async (call: Promise<unknown>): Promise<CallFailed> => {
  const error: unknown = await call.then(
    () => null,
    (thrown: unknown) => thrown,
  );
  expect(error).toBeInstanceOf(CallFailed);
  return error as CallFailed;
};

test('an address carries what was given, leaves out what was not, and escapes the rest', () => {
  expect(address('/tags')).toBe('/api/v1/tags');
  expect(address('/tags', { search: 'a&b=ü', cursor: undefined, limit: 0, exact: false })).toBe(
    '/api/v1/tags?search=a%26b%3D%C3%BC&limit=0&exact=false',
  );
});

test('each method sends its body as JSON, or none', async () => {
  const server = new StandInServer();
  server.on('GET /tags', ({ parameters }) => parameters);
  server.on('POST /jobs', ({ body }) => ({ had: body ?? 'nothing' }));
  server.on('PUT /stores/1/retention', ({ body }) => body);
  server.on('DELETE /tags/A', () => null);
  server.on('POST /imports', ({ parameters }) => parameters);
  expect(await get('/tags', { limit: 2 })).toEqual({ limit: '2' });
  expect(await post('/jobs', { kind: 'x' })).toEqual({ had: { kind: 'x' } });
  expect(await post('/jobs')).toEqual({ had: 'nothing' });
  expect(await put('/stores/1/retention', { months: null })).toEqual({ months: null });
  expect(await remove('/tags/A')).toBeNull();
  expect(await postFile('/imports', { name: 'a b.csv' }, new Blob(['x']))).toEqual({ name: 'a b.csv' });
});

test('a refusal is the server’s own sentence and code', async () => {
  const server = new StandInServer();
  server.on('GET /tags/A', () => new Refusal(404, 'There is no tag A.', 'NO_TAG'));
  expect(await failure(get('/tags/A'))).toMatchObject({ status: 404, message: 'There is no tag A.', code: 'NO_TAG' });
});

test('an answer that is no sentence, and none at all, are told as such', async () => {
  globalThis.fetch = (() =>
    Promise.resolve({
      ok: false,
      status: 502,
      json: () => Promise.reject(new SyntaxError('<')),
    })) as unknown as typeof fetch;
  expect(await failure(get('/tags'))).toMatchObject({ status: 502, message: 'The server answered 502.', code: null });
  globalThis.fetch = () => Promise.reject(new TypeError('refused'));
  const lost = await failure(get('/tags'));
  expect([lost.status, lost.code]).toEqual([0, 'UNREACHABLE']);
  expect(lost.message).toContain('What you see may be old');
});

test('a question that was left is no failure of the server', async () => {
  const left = Object.assign(new Error('left'), { name: 'AbortError' });
  globalThis.fetch = () => Promise.reject(left);
  await expect(get('/tags')).rejects.toBe(left);
});
