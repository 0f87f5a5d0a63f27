/** Readings on their way to whoever asked. */
import type { Request, Response } from 'express';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { visitorOf } from '../../people/index.ts';
import type { Chunk } from './formats/table.ts';
import { MEDIA_TYPES } from './formats/write.ts';
import type { ReadingPool } from './pool.ts';
import type { AnyRequest } from './requests.ts';

/** Nobody holds a reading, and the snapshot that it reads, by not taking what it has to say. Milliseconds. */
const IDLE_MILLISECONDS = 30_000;

/** A chunk on its way; a response from which nothing is taken for a while ends. */
function* taken(chunk: Chunk, response: Response): Generator<Chunk> {
  const impatience = setTimeout(() => response.destroy(), IDLE_MILLISECONDS);
  try {
    yield chunk;
  } finally {
    clearTimeout(impatience);
  }
}

/** Passes an answer on as it is made; when the asker leaves, its making ends. */
export async function sendReading(
  pool: ReadingPool,
  asker: Request,
  response: Response,
  request: AnyRequest,
  filename?: string,
): Promise<void> {
  const left = new AbortController();
  response.once('close', () => left.abort());
  const chunks = pool.read(request, visitorOf(asker).name, left.signal);
  try {
    // Only when the first chunk is there is it sure that this is no error.
    const first = await chunks.next();
    const format = 'format' in request ? request.format : 'json';
    response.type(MEDIA_TYPES[format]);
    if (filename) response.attachment(`${filename}.${format}`);
    await pipeline(
      Readable.from(
        (async function* () {
          if (!first.done) yield* taken(first.value, response);
          for await (const chunk of chunks) yield* taken(chunk, response);
        })(),
        { objectMode: true },
      ),
      response,
    );
  } catch (error) {
    if (!left.signal.aborted) throw error;
  } finally {
    // Who leaves between the first chunk and the pipeline has begun a reading that nothing else would end.
    await chunks.return(undefined);
  }
}
