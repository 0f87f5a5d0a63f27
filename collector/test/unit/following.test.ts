/** A record that is read on: what is told, how far it is noted, tags that come later, and whose turn it is. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { setImmediate as turn } from 'node:timers/promises';
import type { Read } from '../../src/acquisition/acquisition.ts';
import { Following } from '../../src/acquisition/following.ts';
import { Clock, type Cursor, type Reached, type RecordSession } from '../../src/index.ts';
import { tagAt } from '../tags.ts';

const tag = (id: number): ConfiguredTag => tagAt(id, { series: `s${id}` });
/** Rows a part. */
const PART = 3;

/** A record of so many rows, each with a value for every tag that is asked for. */
class Record {
  now = 1_800_000_000_000;
  rows = 0;
  mine = true;
  waiting = 0;
  readsAll = true;
  readonly reads: Read[] = [];
  readonly failures: unknown[] = [];
  looked = 0;
  readonly vouched: unknown[] = [];
  readonly following: Following;
  readonly session: RecordSession;

  constructor(reached: Reached | null = null) {
    const clock = new Clock(
      () => this.now,
      () => this.now,
    );
    this.following = new Following(
      clock,
      {
        read: (read) => this.reads.push(read),
        failed: (error) => this.failures.push(error),
        trouble: () => undefined,
        vouched: (from, to, tags) => this.vouched.push([(to - from) / 1e6, tags]),
      },
      { waiting: () => this.waiting, reads: () => this.mine },
      reached,
    );
    this.session = {
      acquires: 'record',
      readsAll: true,
      look: () => Promise.resolve(void this.looked++),
      begin: () => Promise.resolve(this.readsAll ? {} : { at: this.rows }),
      readOn: (tags, { at = 0 }: Cursor & { at?: number }) => {
        const to = Math.min(this.rows, at + PART);
        const samples = Array.from({ length: to - at }, (_, i) => i + at).flatMap((row) =>
          tags.map(({ id }) => ({ tag: id, value: row, status: Status.Good, sourceTime: row, fault: null })),
        );
        return Promise.resolve({ samples, cursor: { at: to }, more: to < this.rows, troubles: [] });
      },
      close: () => undefined,
    };
    Object.defineProperty(this.session, 'readsAll', { get: () => this.readsAll });
  }

  /** Starts, and stops when it has looked through once. */
  async through(...tags: number[]): Promise<this> {
    this.following.arrange(tags.map(tag));
    this.following.start(this.session);
    const told = this.reads.length;
    for (let turns = 0; turns < 500 && !this.reads.slice(told).some(({ until }) => until !== null); turns++)
      await turn();
    this.following.stop();
    return this;
  }

  valuesOf(id: number): unknown[] {
    return this.reads.flatMap(({ samples }) => samples.filter((one) => one.tag === id).map(({ value }) => value));
  }
}

const upTo = (rows: number): number[] => Array.from({ length: rows }, (_, i) => i);

test('all that is there is told once, part by part; only when it is through it vouches for the time', async () => {
  const record = new Record();
  record.rows = 7;
  await record.through(1);
  expect(record.valuesOf(1)).toEqual(upTo(7));
  expect(record.reads.map(({ until }) => until !== null)).toEqual([false, false, true]);
  record.rows = 8;
  await record.through(1);
  expect(record.valuesOf(1)).toEqual(upTo(8));
});

test('it goes on after a restart from what was noted with what was told', async () => {
  const record = new Record();
  record.rows = 5;
  await record.through(1);
  const again = new Record(record.following.notes);
  again.rows = 6;
  await again.through(1);
  expect(again.valuesOf(1)).toEqual([5]);
});

test('a tag that comes later gets what was there before, and the others nothing twice', async () => {
  const record = new Record();
  record.rows = 7;
  await record.through(1);
  record.rows = 9;
  await record.through(1, 2);
  expect(record.valuesOf(1)).toEqual(upTo(9));
  expect([...new Set(record.valuesOf(2))]).toEqual(upTo(9));
  expect(record.following.notes).toMatchObject({ tags: [1, 2], behind: null, cursor: { at: 9 }, vouches: null });
  // Since a minute before they were heard of nothing is missing of them: of all, then of the one that came later.
  expect(record.vouched).toEqual([
    [60, null],
    [60, [2]],
  ]);
});

test('where only what comes is wanted, nothing that was there is read', async () => {
  const record = new Record();
  Object.assign(record, { rows: 4, readsAll: false });
  await record.through(1);
  record.rows = 6;
  await record.through(1, 2);
  expect([record.valuesOf(1), record.valuesOf(2)]).toEqual([
    [4, 5],
    [4, 5],
  ]);
});

test('while it is another one’s turn, or nobody takes anything, it is looked at and left where it is', async () => {
  const record = new Record();
  Object.assign(record, { rows: 4, mine: false });
  await record.through(1);
  expect([record.valuesOf(1), record.looked]).toEqual([[], 1]);
  record.mine = true;
  await record.through();
  expect(record.looked).toBe(2);
  await record.through(1);
  expect(record.valuesOf(1)).toEqual(upTo(4));
});

test('while too much waits to be written, nothing more is read', async () => {
  const record = new Record();
  Object.assign(record, { rows: 4, waiting: 50_000 });
  record.following.arrange([tag(1)]);
  record.following.start(record.session);
  for (let turns = 0; turns < 50; turns++) await turn();
  expect(record.valuesOf(1)).toEqual([]);
  record.following.stop();
});
