/** A reading gives its place back, whenever whoever asked leaves. */
import type { Request, Response } from 'express';
import { PassThrough } from 'node:stream';
import { noteVisitor, type Visitor } from '../../src/people/visitors/visitor.ts';
import { sendReading } from '../../src/archive/reading/sending.ts';
import type { ReadingPool } from '../../src/archive/reading/pool.ts';

const asker = {} as Request;
noteVisitor(asker, { name: 'somebody' } as Visitor);
const request = { kind: 'raw' } as never;

/** A pool whose reading says when it is over. */
function poolOf(chunks: readonly string[], before: (index: number) => void) {
  const state = { open: 0, over: 0 };
  const pool = {
    async *read() {
      state.open++;
      try {
        for (const [i, chunk] of chunks.entries()) {
          await Promise.resolve();
          before(i);
          yield chunk;
        }
      } finally {
        state.over++;
      }
    },
  } as unknown as ReadingPool;
  return { pool, state };
}

const responseOf = (): Response & PassThrough =>
  Object.assign(new PassThrough(), { type: () => undefined, attachment: () => undefined }) as never;

test.each([
  ['before the first chunk', 0],
  ['between the first chunk and the next', 1],
])('who leaves %s takes the reading along', async (_when, leavesAt) => {
  const response = responseOf();
  const { pool, state } = poolOf(['a', 'b', 'c'], (i) => i === leavesAt && response.destroy());
  await sendReading(pool, asker, response, request).catch(() => undefined);
  expect(state).toEqual({ open: 1, over: 1 });
});

test('who leaves when the first chunk has come, and nothing was passed on yet', async () => {
  const response = responseOf();
  const { pool, state } = poolOf(['a', 'b'], () => undefined);
  // The moment at which its head is written.
  response.type = (() => response.destroy()) as never;
  await sendReading(pool, asker, response, request).catch(() => undefined);
  expect(state).toEqual({ open: 1, over: 1 });
});

test('an answer that is taken to its end ends its reading, too', async () => {
  const response = responseOf();
  const { pool, state } = poolOf(['a', 'b'], () => undefined);
  const sent = sendReading(pool, asker, response, request);
  let text = '';
  for await (const chunk of response) text += String(chunk);
  await sent;
  expect([text, state]).toEqual(['ab', { open: 1, over: 1 }]);
});
