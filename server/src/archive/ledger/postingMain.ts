/** The posting thread: decoding, merging and encoding happen here, so that the server's own thread stays quick. */
import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import { Seal } from '@wide-ledger/vault';
import { openPool } from '../../ground/index.ts';
import { Stores } from '../stores/stores.ts';
import type { ThreadSettings } from '../../ground/index.ts';
import { Postings } from './postings.ts';

export type PostingOrder = { readonly number: number; readonly order: 'postAll' | 'postBatch' | 'stop' };
export type PostingReport =
  | { readonly number: number; readonly result: number }
  | { readonly number: number; readonly error: string }
  | { readonly failure: string | null; readonly waited: number };

const REPORT_MILLISECONDS = 500;

const settings = workerData as ThreadSettings;
const port = parentPort!;
const log = pino({ level: settings.logLevel, base: { process: 'posting' } });
const home = openPool(settings.databaseUrl, log);
const stores = new Stores(home, new Seal(settings.sealKey), log);
const postings = new Postings(stores, log);

const report = (message: PostingReport): void => port.postMessage(message);

async function obey(order: PostingOrder['order']): Promise<number> {
  switch (order) {
    case 'postAll':
      await postings.postAll();
      return 0;
    case 'postBatch':
      return postings.postBatch();
    case 'stop':
      clearInterval(reporting);
      await postings.stop();
      await stores.close();
      await home.end();
      return 0;
  }
}

port.on('message', ({ number, order }: PostingOrder) => {
  obey(order).then(
    (result) => {
      report({ number, result });
      if (order === 'stop') port.close();
    },
    (error: unknown) => report({ number, error: (error as Error).message }),
  );
});
const reporting = setInterval(
  () => report({ failure: postings.failure, waited: postings.waited }),
  REPORT_MILLISECONDS,
);
await postings.start().catch((error: unknown) => log.warn({ error: (error as Error).message }, 'posting is waiting'));
