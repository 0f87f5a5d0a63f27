/**
 * A reading thread: queries, decoding, computing and formatting happen here, so that the server's own thread only
 * passes bytes on. A task brings a port; each message on it asks for the next chunk, closing it ends the task.
 */
import { workerData, type MessagePort } from 'node:worker_threads';
import { pino } from 'pino';
import { Seal } from '@wide-ledger/vault';
import { openPool } from '../../ground/index.ts';
import { Stores } from '../stores/stores.ts';
import type { ThreadSettings } from '../../ground/index.ts';
import { answer } from './answers/answer.ts';
import { AskerLeft, type ReadRequest } from './requests.ts';

export interface ReadTask {
  readonly port: MessagePort;
  readonly request: ReadRequest;
}

/** What a thread answers to a request for the next chunk. */
export type ReadMessage =
  | { readonly chunk: string | Uint8Array }
  | { readonly end: true }
  | { readonly failure: { readonly message: string; readonly code: string | undefined } };

const CONNECTIONS = 8;

const settings = workerData as ThreadSettings;
const log = pino({ level: settings.logLevel, base: { process: 'reading' } });
const stores = new Stores(openPool(settings.databaseUrl, log, CONNECTIONS), new Seal(settings.sealKey), log);

export default async function read({ port, request }: ReadTask): Promise<void> {
  const asker = { gone: false };
  let asked = 0;
  let wake: (() => void) | null = null;
  port.on('message', () => {
    asked++;
    wake?.();
  });
  port.once('close', () => {
    asker.gone = true;
    wake?.();
  });
  /** The next request for a chunk, or the news that nobody wants one. */
  const nextRequest = async (): Promise<boolean> => {
    if (asked === 0 && !asker.gone) await new Promise<void>((resolve) => (wake = resolve));
    asked--;
    return !asker.gone;
  };
  const chunks = answer(stores, request, asker);
  try {
    for (;;) {
      if (!(await nextRequest())) break;
      const next = await chunks.next();
      port.postMessage((next.done ? { end: true } : { chunk: next.value }) satisfies ReadMessage);
      if (next.done) break;
    }
  } catch (error) {
    if (!(error instanceof AskerLeft)) {
      const { message, code } = error as Error & { code?: string };
      port.postMessage({ failure: { message, code } } satisfies ReadMessage);
    }
  } finally {
    await chunks.return(undefined).catch(() => undefined);
    port.close();
  }
}
