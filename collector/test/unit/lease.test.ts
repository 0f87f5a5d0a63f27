/** Whose turn it is: what of two collectors' readings is handed on, when the lease changes hands, and when nobody says anything. */
import type { LeaseOrder } from '@wide-ledger/contract';
import { SECOND } from '@wide-ledger/core';
import { Gathering, Lease, type SharedSource, type LeaseNotes } from '../../src/index.ts';

const START = 1_800_000_000 * SECOND;
const SOURCE = 1;
const TAG = 7;
const NOTHING = { watchedUntil: null, outage: null, tagOutages: [] };

/** A collector's view of one source, in a time of its own. */
class Stand implements SharedSource {
  readonly shared = new Gathering();
  readonly shift = 0;
  readonly pace = SECOND;
  seconds = 0;
  private watched: number | null = null;
  readonly lease: Lease;

  constructor(remembered: LeaseNotes | null = null) {
    const counter = (): number => this.seconds * 1000;
    this.lease = new Lease(this.shared, remembered, null, counter, () => START + this.seconds * SECOND);
  }

  get now(): number {
    return START + this.seconds * SECOND;
  }

  restate(into: Gathering, at: number): void {
    into.sample(TAG, at + 1, -1, 0);
  }

  joined(from: number, to: number, into: Gathering): void {
    if (to > from) into.watch({ source: SOURCE, version: 1, from, to });
  }

  leftUnwatched(from: number, to: number, into: Gathering): void {
    into.outage({
      source: SOURCE,
      tag: null,
      from,
      to,
      cause: 'collector',
      sentence: '',
      code: null,
      recoverable: false,
      within: false,
    });
  }

  /** Reads once a second for so long: each second a sample, and the watch up to it. */
  read(seconds: number): this {
    for (let n = 0; n < seconds; n++) {
      this.seconds++;
      const { gathering } = this.lease;
      gathering.sample(TAG, this.now, this.seconds, 0);
      if (this.watched !== null) gathering.watch({ source: SOURCE, version: 1, from: this.watched, to: this.now });
      this.watched = this.now;
      this.pass();
    }
    return this;
  }

  /** The source is away for so long, or that is said of the time behind. */
  away(seconds: number, within = false): this {
    const from = this.now;
    const outage = {
      source: SOURCE,
      tag: null,
      from,
      cause: 'source',
      sentence: '',
      code: null,
      recoverable: false,
      within,
    } as const;
    this.lease.gathering.outage({ ...outage, to: within ? from : null });
    this.watched = null;
    return this.idle(seconds);
  }

  /** Beats are missed; they are found when reading goes on. */
  sleep(seconds: number): this {
    const from = this.now;
    this.seconds += seconds - 1;
    const lapse = { source: SOURCE, tag: null, from, to: from + seconds * SECOND, sentence: '', code: null } as const;
    this.lease.gathering.outage({ ...lapse, cause: 'collector', recoverable: false, within: true });
    return this.read(1);
  }

  /** Nothing is read for so long. */
  idle(seconds: number): this {
    for (let n = 0; n < seconds; n++) {
      this.pass();
      this.seconds++;
    }
    return this;
  }

  /** @param ago so many seconds ago it was asked. */
  told(order: Partial<LeaseOrder> | null, ago = 0): this {
    this.lease.told(
      order === null ? undefined : { source: SOURCE, holds: false, epoch: 1, from: null, ready: true, ...order },
      this,
      (this.seconds - ago) * 1000,
    );
    return this;
  }

  private pass(): void {
    this.lease.pass({ ...NOTHING, watchedUntil: this.watched }, this);
  }

  /** What was handed on since it was asked last: the seconds of its samples, of its watches and outages. */
  handedOn() {
    const { frames, watches, outages } = this.shared.take();
    const at = (micros: number): number => Math.round((micros - START) / SECOND);
    return {
      samples: frames.flatMap(({ times, values }) =>
        [...times].map((time, i) => (values[i] === -1 ? 'restated' : at(time))),
      ),
      watched: watches.map(({ from, to }) => [at(from), at(to)]),
      away: outages.map(({ from, to }) => [at(from), to === null ? null : at(to)]),
    };
  }
}

test('alone, everything goes on at once', () => {
  const stand = new Stand().read(3);
  expect(stand.handedOn()).toEqual({ samples: [1, 2, 3], watched: [[1, 3]], away: [] });
  expect(stand.told(null).read(1).handedOn().samples).toEqual([4]);
  expect(stand.lease.isMine).toBe(true);
});

test('a standby hands nothing on; when it is its turn it goes on from where the other’s watch ended', () => {
  const stand = new Stand().read(1).told({});
  stand.handedOn();
  stand.read(9);
  expect([stand.handedOn().samples, stand.lease.isMine]).toEqual([[], false]);
  stand.told({ holds: true, epoch: 2, from: START + 6 * SECOND });
  expect(stand.handedOn()).toEqual({ samples: ['restated', 7, 8, 9, 10], watched: [[6, 10]], away: [] });
  expect(stand.read(1).handedOn()).toEqual({ samples: [11], watched: [[10, 11]], away: [] });
});

test('told again and again that it holds, it takes nothing over again', () => {
  const stand = new Stand().read(1).told({}).read(5).told({ holds: true, epoch: 2, from: START });
  stand.handedOn();
  for (let n = 0; n < 3; n++) stand.read(1).told({ holds: true, epoch: 2, from: START });
  expect(stand.handedOn().samples).toEqual([7, 8, 9]);
});

test('a reserve that begins later than the other’s watch ended leaves a hole, which is told', () => {
  const stand = new Stand({ holds: false, epoch: 1 });
  stand.seconds = 20;
  stand.read(3).told({ holds: true, epoch: 2, from: START + 6 * SECOND });
  expect(stand.handedOn()).toEqual({ samples: [21, 22, 23], watched: [[21, 23]], away: [[6, 21]] });
});

test('a reserve that begins with the next beat leaves none: the watch goes on, and nothing is told', () => {
  const stand = new Stand({ holds: false, epoch: 1 });
  stand.seconds = 20;
  stand.read(3).told({ holds: true, epoch: 2, from: START + 19.9 * SECOND });
  expect(stand.handedOn()).toEqual({ samples: ['restated', 21, 22, 23], watched: [[20, 23]], away: [] });
});

test('a holder that loses the source says so only when no other takes over', () => {
  const lost = new Stand().read(1).told({ holds: true });
  lost.handedOn();
  lost.read(1).away(2);
  expect(lost.handedOn()).toEqual({ samples: [2], watched: [[1, 2]], away: [] });
  lost.idle(4);
  expect(lost.handedOn().away).toEqual([[2, null]]);

  const replaced = new Stand().read(1).told({ holds: true });
  replaced.handedOn();
  replaced.read(1).away(2).told({ holds: false, epoch: 2 });
  replaced.idle(10);
  expect(replaced.handedOn()).toEqual({ samples: [2], watched: [[1, 2]], away: [] });
});

test('beats that a standby missed and the other read were not missed', () => {
  const handedOver = (slept: number, from: number) => {
    const stand = new Stand().read(1).told({}).read(2);
    stand.handedOn();
    return stand
      .sleep(slept)
      .read(1)
      .told({ holds: true, epoch: 2, from: START + from })
      .handedOn();
  };
  // Of the beats 3, 4, 5 and 6 here the fourth was missed; the other ended a moment after it.
  expect(handedOver(2, 4.003 * SECOND)).toMatchObject({ samples: ['restated', 5, 6], away: [] });
  expect(handedOver(3, 4.003 * SECOND)).toMatchObject({ samples: ['restated', 6, 7], away: [[4, 6]] });
  expect(handedOver(2, 3.003 * SECOND)).toMatchObject({ away: [[3, 5]] });
});

test('one that was frozen does not tell of it when another has gone on', () => {
  const stand = new Stand().read(1).told({ holds: true });
  stand.handedOn();
  stand.seconds += 10;
  stand.away(0, true).read(1).told({ holds: false, epoch: 2 });
  expect(stand.read(5).handedOn()).toEqual({ samples: [], watched: [], away: [] });
});

test('where nobody else watches, an outage is told at once', () => {
  const stand = new Stand().read(1).told({ holds: true, ready: false });
  stand.handedOn();
  expect(stand.away(1).handedOn().away).toEqual([[1, null]]);
});

test('a standby that hears nothing of the server hands on what came since', () => {
  const stand = new Stand().read(1).told({}).read(31);
  // Up to when it was heard of, the other was there.
  expect(stand.handedOn().samples).toEqual([1, 'restated', ...Array.from({ length: 31 }, (_, i) => i + 2)]);
  expect(stand.lease.isMine).toBe(true);
});

test('after a start the holder waits a moment for the server, and goes on without it', () => {
  const stand = new Stand({ holds: true, epoch: 1 }).read(3);
  expect([stand.handedOn().samples, stand.lease.isMine]).toEqual([[], true]);
  expect(stand.read(1).handedOn().samples).toEqual([1, 2, 3, 4]);
});

test('after a start, what was read meanwhile is the other’s where the lease went on', () => {
  const same = new Stand({ holds: true, epoch: 3 }).read(2).told({ holds: true, epoch: 3, from: START + SECOND });
  expect(same.read(1).handedOn().samples).toEqual([1, 2, 3]);
  const moved = new Stand({ holds: true, epoch: 3 }).read(2).told({ holds: false, epoch: 4 });
  expect(moved.read(1).handedOn().samples).toEqual([]);
  const back = new Stand({ holds: true, epoch: 3 }).read(3).told({ holds: true, epoch: 5, from: START + SECOND });
  expect(back.handedOn().samples).toEqual(['restated', 2, 3]);
});

test('a holder that slept hands on nothing before it has asked anew: another one may have had its turn meanwhile', () => {
  const slept = (): Stand => {
    const stand = new Stand().read(1).told({ holds: true, ready: false }).read(3);
    stand.handedOn();
    stand.seconds += 14;
    return stand.read(1);
  };
  const lost = slept();
  // What the server answered before it slept says nothing.
  lost.told({ holds: true, ready: false }, 5).read(1).told({ holds: false, epoch: 2 }).read(2);
  expect(lost.handedOn().samples).toEqual([]);
  const kept = slept().told({ holds: true, ready: false });
  expect(kept.read(1).handedOn().samples).toEqual([19, 20]);
  // A server that says nothing is waited for a moment.
  const alone = slept();
  expect(alone.read(3).handedOn().samples).toEqual([]);
  expect(alone.read(1).handedOn().samples).toEqual([19, 20, 21, 22, 23]);
});

test('notes know no more than what was handed on', () => {
  const stand = new Stand().read(2);
  expect(stand.lease.noted({ ...NOTHING, watchedUntil: 5 })).toEqual({ ...NOTHING, watchedUntil: 5 });
  stand.told({ holds: true }).read(2);
  expect(stand.lease.noted({ ...NOTHING, watchedUntil: 5 })).toMatchObject({
    watchedUntil: stand.now,
    lease: { holds: true, epoch: 1 },
  });
  const handedOn = stand.now;
  stand.told({ epoch: 2 }).read(5);
  expect(stand.lease.noted({ ...NOTHING, watchedUntil: 5 })).toMatchObject({
    watchedUntil: handedOn,
    lease: { holds: false, epoch: 2 },
  });
});

test('a server that knows nothing of it any more gets everything', () => {
  const stand = new Stand().read(1).told({}).read(3).told(null);
  expect(stand.handedOn().samples).toEqual([1, 2, 3, 4]);
  expect(stand.lease.noted(NOTHING)).toBe(NOTHING);
});
