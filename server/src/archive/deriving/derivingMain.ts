/** The deriving thread: reads on in the journal, computes, and hands over what is to be written; the server's own thread writes. */
import { parentPort, workerData } from 'node:worker_threads';
import { SECOND, type Frame, type Span } from '@wide-ledger/core';
import type { PoolClient } from 'pg';
import { pino } from 'pino';
import { Seal } from '@wide-ledger/vault';
import { LOCKS, nowMicros, openPool, stepBack, type ThreadSettings } from '../../ground/index.ts';
import { Stores } from '../stores/stores.ts';
import { Deriver } from './deriver.ts';
import { DERIVED_WRITER, entryFrames, type DerivedValues } from './derivedValues.ts';
import { keptSince, readDerivedTags, type DerivedTags } from './derivedTags.ts';
import { nextSeen } from './seenEntries.ts';

/** What the server asks of the thread. */
export type DerivingOrder =
  | { readonly order: 'news' }
  | { readonly order: 'written'; readonly number: number; readonly failure: string | null }
  | { readonly order: 'past'; readonly number: number; readonly tag: number; readonly window: Span }
  | { readonly order: 'stop' };

/** Entries of the journal by their numbers. */
export interface Looked {
  readonly from: number;
  readonly to: number;
}

/** What the thread says. */
export type DerivingReport =
  | {
      readonly says: 'write';
      readonly number: number;
      readonly entries: readonly { readonly frame: Frame; readonly again: boolean }[];
      /** How far the journal had been looked through, and how far it is with these entries; null: there are more to come. */
      readonly looked: Looked | null;
    }
  | { readonly says: 'piece'; readonly number: number; readonly frame: Frame | null; readonly samples: number }
  | { readonly says: 'failed'; readonly number: number; readonly failure: string }
  | { readonly says: 'standing'; readonly failure: string | null; readonly lag: number }
  | { readonly says: 'stopped' };

/** Without news the journal is looked at so often: another server may write into it, too. */
const IDLE_MILLISECONDS = 500;
/** While something waits for another input, so often. */
const WAITING_MILLISECONDS = 100;
const TROUBLE_MILLISECONDS = 2000;
const NICENESS = 10;
/** So often it is looked which months the stores have dropped. */
const KEPT_MILLISECONDS = 30_000;
/** Samples that are computed again before they are written. */
const MANY = 50_000;
/** Key of the advisory lock that one of a site's servers holds: that one derives. */
const DERIVING = 5;

const settings = workerData as ThreadSettings;
const port = parentPort!;
const log = pino({ level: settings.logLevel, base: { process: 'deriving' } });
// What is recorded, and what somebody reads, goes before what can be computed at any time.
stepBack(NICENESS);
const home = openPool(settings.databaseUrl, log);
const stores = new Stores(home, new Seal(settings.sealKey), log);

let stopped = false;
let wake: (() => void) | null = null;
let isNews = false;
let numbers = 0;
let deriver: Deriver | null = null;
const written = new Map<number, { resolve: () => void; reject: (error: Error) => void }>();
/** Pieces of the past and rounds take turns: both use what is in memory. */
let turn: Promise<unknown> = Promise.resolve();

const report = (message: DerivingReport): void => port.postMessage(message);
const inTurn = <Result>(work: () => Promise<Result>): Promise<Result> => {
  const mine = turn.then(work);
  turn = mine.catch(() => undefined);
  return mine;
};

/** @throws Error where it could not be written */
function write(values: readonly DerivedValues[], looked: Looked | null): Promise<void> {
  const number = ++numbers;
  const entries = [false, true].flatMap((again) =>
    entryFrames(values.filter((one) => one.again === again)).map((frame) => ({ frame, again })),
  );
  return new Promise((resolve, reject) => {
    written.set(number, { resolve, reject });
    report({ says: 'write', number, entries, looked });
  });
}

port.on('message', (order: DerivingOrder) => {
  switch (order.order) {
    case 'news':
      isNews = true;
      wake?.();
      break;
    case 'written': {
      const waiting = written.get(order.number);
      written.delete(order.number);
      if (order.failure === null) waiting?.resolve();
      else waiting?.reject(new Error(order.failure));
      break;
    }
    case 'past':
      inTurn(() => piece(order.number, order.tag, order.window)).catch((error: Error) =>
        report({ says: 'failed', number: order.number, failure: error.message }),
      );
      break;
    case 'stop':
      stopped = true;
      wake?.();
      break;
  }
});

async function piece(number: number, tag: number, window: Span): Promise<void> {
  const found = deriver?.past(tag, window);
  if (!found) throw new Error('It is not computed, or not yet.');
  const { frame, samples } = await found;
  const all = frame && entryFrames([{ tag, frame, again: true }])[0]!;
  report({ says: 'piece', number, frame: all, samples });
}

const pause = (milliseconds: number): Promise<void> =>
  new Promise((resolve) => {
    if (isNews || stopped) return resolve();
    const timer = setTimeout(resolve, milliseconds);
    wake = () => {
      clearTimeout(timer);
      resolve();
    };
  });

/** One look at the journal. @returns whether there is more */
async function look(tags: DerivedTags, own: Deriver): Promise<boolean> {
  const { entries, from, to, more, oldest } = await nextSeen(home, [...own.watched], own.horizon);
  const values: DerivedValues[] = [];
  let samples = 0;
  await own.take(entries, async (one) => {
    values.push(one);
    samples += one.frame.times.length;
    // A long past is written on the way; how far the journal is looked through is noted only at the end.
    if (samples < MANY) return;
    await write(values.splice(0), null);
    samples = 0;
  });
  if (values.length > 0 || to > from) await write(values, { from, to });
  report({ says: 'standing', failure: null, lag: more ? (nowMicros() - oldest) / SECOND : 0 });
  return more && tags.all.length > 0;
}

/** Derives for as long as nobody else does, and nothing fails. */
async function derive(): Promise<void> {
  // At the first time nothing is caught up with. Before anything is read: what comes from now on is seen.
  await home.query('UPDATE derivation SET entry = journal_frontier() WHERE entry IS NULL');
  let tags = await readDerivedTags(home, null);
  let keptAsked = -Infinity;
  deriver = await inTurn(() => Deriver.begin(stores, tags, () => performance.now(), nowMicros()));
  while (!stopped) {
    isNews = false;
    if (performance.now() >= keptAsked + KEPT_MILLISECONDS) {
      deriver.keep(await keptSince(home));
      keptAsked = performance.now();
    }
    const newest = await readDerivedTags(home, tags);
    if (newest !== tags) await inTurn(() => deriver!.follow(newest, nowMicros()));
    tags = newest;
    const more = await inTurn(() => look(tags, deriver!));
    if (!more) await pause(deriver.waits ? WAITING_MILLISECONDS : IDLE_MILLISECONDS);
  }
}

/** Holds the lock while something is done. @returns false where another one holds it */
async function locked(work: () => Promise<void>): Promise<boolean> {
  const client: PoolClient = await home.connect();
  let broken: Error | undefined;
  client.on('error', (error: Error) => (broken = error));
  try {
    const { rows } = await client.query<{ held: boolean }>('SELECT pg_try_advisory_lock($1, $2) AS held', [
      LOCKS,
      DERIVING,
    ]);
    if (!rows[0]!.held) return false;
    await work();
    await client.query('SELECT pg_advisory_unlock($1, $2)', [LOCKS, DERIVING]);
    return true;
  } catch (error) {
    broken = error as Error;
    throw error;
  } finally {
    client.release(broken);
  }
}

while (!stopped) {
  try {
    if (!(await locked(derive))) await pause(TROUBLE_MILLISECONDS);
  } catch (error) {
    const failure = (error as Error).message;
    // What is in memory may be ahead of what was written: it is read anew.
    deriver = null;
    log.warn({ error: failure, writer: DERIVED_WRITER }, 'deriving is waiting');
    report({ says: 'standing', failure, lag: 0 });
    isNews = false;
    await pause(TROUBLE_MILLISECONDS);
  }
}
await stores.close();
await home.end();
report({ says: 'stopped' });
port.close();
