/**
 * A reading thread: queries, decoding, computing and formatting happen here, so that the server's own thread only
 * passes bytes on. A task brings a port; each message on it asks for the next chunk, closing it ends the task.
 */
import { workerData, type MessagePort } from 'node:worker_threads';
import { pino } from 'pino';
import { Seal } from '@wide-ledger/vault';
import { openPool, stepBack } from '../../ground/index.ts';
import { Stores } from '../stores/stores.ts';
import type { ThreadSettings } from '../../ground/index.ts';
import { coverageAnswer, isAboutCoverage } from '../coverage/answers.ts';
import { isAboutCompleteness } from '../coverage/completeness.ts';
import { answer } from './answers/answer.ts';
import { completenessAnswer } from './answers/completeness.ts';
import { examiningAnswer } from './answers/examining.ts';
import { filledAnswer } from './answers/filled.ts';
import { presenceOf } from './answers/presence.ts';
import { summariesAnswer } from './answers/summaries.ts';
import { talliesAnswer } from './answers/tallies.ts';
import { isExamining } from './examining.ts';
import { isAboutFilled } from './filled.ts';
import type { Chunk } from './formats/table.ts';
import { AskerLeft, cutRequest, type AnyRequest } from './requests.ts';
import { isAboutSummaries } from './summaries.ts';
import { isAboutTallies } from './tallies.ts';

export interface ReadTask {
  readonly port: MessagePort;
  readonly request: AnyRequest;
}

/** What a thread answers to a request for the next chunk. */
export type ReadMessage =
  | { readonly chunk: string | Uint8Array }
  | { readonly end: true }
  | { readonly failure: { readonly message: string; readonly code: string | undefined } };

/** What a reading thread is started with. */
export interface ReadingSettings extends ThreadSettings {
  readonly connections: number;
  /** How much the system puts it after other threads, 0 to 19: writing goes before reading. */
  readonly niceness: number;
}

/** Milliseconds: blocks are read a few at a time, so what takes longer has gone astray, and would hold a place for good. */
const LONGEST_STATEMENT = 60_000;

const settings = workerData as ReadingSettings;
stepBack(settings.niceness);
const log = pino({ level: settings.logLevel, base: { process: 'reading' } });
const home = openPool(settings.databaseUrl, log, settings.connections, LONGEST_STATEMENT);
const stores = new Stores(home, new Seal(settings.sealKey), log);

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
  let chunks: AsyncGenerator<Chunk> | null = null;
  try {
    if (isExamining(request)) chunks = examiningAnswer(stores, request, asker);
    else if (isAboutFilled(request)) chunks = filledAnswer(stores, request, asker);
    else if (isAboutTallies(request)) chunks = talliesAnswer(stores, request, asker);
    else if (isAboutSummaries(request)) chunks = summariesAnswer(stores, request, asker);
    else if (isAboutCompleteness(request)) chunks = completenessAnswer(stores, request);
    else if (isAboutCoverage(request))
      chunks = coverageAnswer(stores.home, request, (tag, window) => presenceOf(stores, tag, window));
    else chunks = answer(stores, cutRequest(request), asker);
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
    await chunks?.return(undefined).catch(() => undefined);
    port.close();
  }
}
