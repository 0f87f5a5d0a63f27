/** Parts of a collector by themselves: a connection that is tried again, and what is kept of what was read. */
import type { Value } from '../../src/kinds/kind.ts';
import { jest } from '@jest/globals';
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import { Connection, Keeping, SourceAway, kindOf, type PolledSession, type Session } from '../../src/index.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

const away = new SourceAway('Nothing answers.', 'ECONNREFUSED', Status.BadNoCommunication);

class Opened {
  tries: number[] = [];
  tried: number[] = [];
  ways = 1;
  /** Ways that lead nowhere. */
  readonly dead = new Set<number>();
  events: string[] = [];
  closed = 0;
  answers = true;
  proves = true;
  private time = 0;
  readonly connection = new Connection(
    {
      count: () => this.ways,
      after: 4000,
      back: true,
      open: (way) => {
        this.tries.push(this.time);
        this.tried.push(way);
        if (!this.answers || this.dead.has(way)) return Promise.reject(away);
        const session: PolledSession = {
          acquires: 'poll',
          read: () => Promise.resolve([]),
          close: () => void this.closed++,
        };
        return Promise.resolve(session);
      },
    },
    {
      prove: (_: Session) => (this.proves ? Promise.resolve() : Promise.reject(away)),
      opened: () => void this.events.push('opened'),
      lost: ({ code }) => void this.events.push(`lost ${code}`),
    },
  );
  async run(seconds: number): Promise<void> {
    for (let i = 0; i < seconds * 10; i++) {
      this.time += 0.1;
      await jest.advanceTimersByTimeAsync(100);
    }
  }
  /** Seconds between the tries. */
  get pauses(): number[] {
    return this.tries.slice(1).map((at, i) => Math.round(at - this.tries[i]!));
  }
}

describe('a connection', () => {
  test('is tried again with growing pauses, and begins anew with them once it stood', async () => {
    const opened = new Opened();
    opened.answers = false;
    await opened.connection.connect();
    await opened.run(20);
    expect(opened.pauses).toEqual([1, 1, 2, 3, 5, 5]);
    opened.answers = true;
    await opened.run(6);
    expect(opened.events.at(-1)).toBe('opened');
    opened.answers = false;
    opened.tries = [];
    opened.connection.lose(away);
    await opened.run(4);
    expect(opened.pauses.slice(0, 2)).toEqual([1, 2]);
    opened.connection.stop();
  });
  test('that answers nothing is none, and is closed', async () => {
    const opened = new Opened();
    opened.proves = false;
    await opened.connection.connect();
    expect([opened.events, opened.closed]).toEqual([['lost ECONNREFUSED'], 1]);
    opened.connection.stop();
  });
  test('that is not wanted any more is neither opened nor tried', async () => {
    const opened = new Opened();
    const connecting = opened.connection.connect();
    opened.connection.stop();
    await connecting;
    await opened.run(20);
    expect([opened.events, opened.closed, opened.tries.length]).toEqual([[], 1, 1]);
  });
  test('takes the second way once the first has not answered for a while, and goes back when that answers', async () => {
    const opened = new Opened();
    opened.ways = 2;
    await opened.connection.connect();
    await opened.run(1);
    opened.dead.add(0);
    opened.tried = [];
    opened.connection.lose(away);
    await opened.run(5);
    // For four seconds the first, at its pauses.
    expect(opened.tried).toEqual([0, 0, 0, 1]);
    expect([opened.events.at(-1), opened.connection.way]).toEqual(['opened', 1]);
    await opened.run(31);
    // It was looked for, in vain: what stands goes on.
    expect([opened.tried.slice(4), opened.events.at(-1), opened.connection.way]).toEqual([[0], 'opened', 1]);
    opened.dead.clear();
    const closed = opened.closed;
    await opened.run(31);
    expect([opened.connection.way, opened.closed, opened.events.at(-1)]).toEqual([0, closed + 1, 'opened']);
    opened.connection.stop();
  });
  test('tries its ways by turns where none leads there', async () => {
    const opened = new Opened();
    opened.ways = 2;
    opened.answers = false;
    await opened.connection.connect();
    await opened.run(30);
    expect(opened.tried.slice(0, 8)).toEqual([0, 0, 0, 0, 1, 0, 1, 0]);
    opened.connection.stop();
  });
  test('is changed over by hand while it stands, and stays where the other way leads nowhere', async () => {
    const opened = new Opened();
    opened.ways = 2;
    await opened.connection.connect();
    opened.dead.add(1);
    await expect(opened.connection.use(1)).rejects.toThrow(away);
    expect([opened.connection.way, opened.closed, opened.events]).toEqual([0, 0, ['opened']]);
    opened.dead.clear();
    await opened.connection.use(1);
    expect([opened.connection.way, opened.closed, opened.events]).toEqual([1, 1, ['opened', 'opened']]);
    // Somebody wants it so: it does not go back by itself, until that way is lost.
    await opened.run(70);
    expect(opened.connection.way).toBe(1);
    opened.dead.add(1);
    opened.connection.lose(away);
    await opened.run(8);
    expect(opened.connection.way).toBe(0);
    opened.connection.stop();
  });
  test('names what nobody foresaw', async () => {
    const opened = new Opened();
    await opened.connection.connect();
    opened.connection.lose(new Error('odd'));
    expect(opened.events).toEqual(['opened', 'lost UNEXPECTED']);
    opened.connection.stop();
  });
});

describe('keeping', () => {
  const tag = (reading: Partial<ConfiguredTag['reading']>, range: [number, number] | null = null): ConfiguredTag => ({
    id: 1,
    name: 'T',
    type: 'real',
    low: range?.[0] ?? null,
    high: range?.[1] ?? null,
    reading: {
      address: { area: 'holding', address: 0, type: 'uint16', order: 'ABCD' },
      intervalMilliseconds: 1000,
      aligned: true,
      deadband: { kind: 'none' },
      longestSilenceSeconds: null,
      ...reading,
    },
  });
  /** Which of some values, a second apart, are kept. */
  const kept = (of: ConfiguredTag, values: readonly (number | bigint | string | null)[]): boolean[] => {
    const keeping = new Keeping();
    return values.map((value, i) => keeping.take(of, i * 1_000_000, value, Status.Good, null).length > 0);
  };
  test('takes everything without a deadband, and what has moved with one', () => {
    expect(kept(tag({}), [1, 1, 1])).toEqual([true, true, true]);
    expect(kept(tag({ deadband: { kind: 'absolute', width: 1 } }), [1, 2, 2.5, 2.6, 1])).toEqual([
      true,
      false,
      true,
      false,
      true,
    ]);
    expect(kept(tag({ deadband: { kind: 'percent', percent: 10 } }, [0, 50]), [0, 4, 6])).toEqual([true, false, true]);
  });
  test('takes something after the longest silence', () => {
    const silent = tag({ deadband: { kind: 'absolute', width: 1 }, longestSilenceSeconds: 3 });
    expect(kept(silent, [1, 1, 1, 1, 1])).toEqual([true, false, false, true, false]);
  });
  test('knows texts, 64-bit integers and no value', () => {
    const banded = tag({ deadband: { kind: 'absolute', width: 5 } });
    expect(kept(banded, ['a', 'a', 'b'])).toEqual([true, false, true]);
    expect(kept(banded, [10n, 12n, 20n])).toEqual([true, false, true]);
    expect(kept(banded, [1, null, null, 1])).toEqual([true, true, false, true]);
  });
  test('takes every change of status, and the same fault once', () => {
    const keeping = new Keeping();
    const banded = tag({ deadband: { kind: 'absolute', width: 5 } });
    const fault = { sentence: 'Refused.', code: 'MODBUS_02' };
    const keeps = (at: number, status: number, wrong: typeof fault | null): boolean =>
      keeping.take(banded, at, wrong ? null : 1, status, wrong).length > 0;
    expect([
      keeps(1, Status.Good, null),
      keeps(2, Status.BadNodeIdUnknown, fault),
      keeps(3, Status.BadNodeIdUnknown, fault),
      keeps(4, Status.Good, null),
    ]).toEqual([true, true, false, true]);
    keeping.forget(1);
    expect(keeps(5, Status.Good, null)).toBe(true);
  });

  const line = (width: number) => tag({ deadband: { kind: 'line', width } });
  const take = (keeping: Keeping, of: ConfiguredTag, second: number, value: Value): unknown[] =>
    keeping.take(of, second * 1_000_000, value, Status.Good, null).map(({ time, given }) => [time / 1_000_000, given]);

  test('along lines, what is held back is kept when the line bends, as it came, and when the series is interrupted', () => {
    const keeping = new Keeping();
    const of = line(0.5);
    expect([10n, 11n, 12n, 5n].map((value, i) => take(keeping, of, i, value))).toEqual([
      [[0, 10n]],
      [],
      [],
      [[2, 12n]],
    ]);
    expect(keeping.forget(1)).toMatchObject({ time: 3_000_000, given: 5n });
    expect(keeping.forget(1)).toBeNull();
    take(keeping, of, 4, 1);
    take(keeping, of, 5, 2);
    expect(keeping.forgetAll()).toMatchObject([{ given: 2 }]);
  });

  test('where a new version filters otherwise, what was held back is kept; where not, the line goes on', () => {
    const keeping = new Keeping();
    for (const second of [0, 1, 2]) take(keeping, line(0.5), second, second);
    expect(take(keeping, line(0.5), 3, 3)).toEqual([]);
    expect(take(keeping, line(0.25), 4, 4)).toEqual([
      [3, 3],
      [4, 4],
    ]);
  });

  test('what is known is said anew for who takes over: what was held back, as of then or as it is', () => {
    const keeping = new Keeping();
    const of = line(0.5);
    for (const second of [0, 1, 2]) take(keeping, of, second, second);
    expect(keeping.restated(5_000_000)).toMatchObject([{ time: 5_000_000, given: 2 }]);
    for (const second of [6, 7]) take(keeping, of, second, second);
    expect(keeping.restated(6_500_000)).toMatchObject([{ time: 7_000_000, given: 7 }]);
    // From there on lines begin anew.
    expect([8, 9, 0].map((value, i) => take(keeping, of, 8 + i, value))).toEqual([[], [], [[9, 9]]]);
    const plain = tag({ deadband: { kind: 'absolute', width: 5 } });
    const other = new Keeping();
    take(other, plain, 3, 1);
    expect([other.restated(2_000_000), other.restated(4_000_000)]).toMatchObject([[], [{ time: 4_000_000, given: 1 }]]);
  });
});

test('a kind is known by its name alone, not by what every object has', () => {
  expect(kindOf({ kind: 'modbus-tcp' })).not.toBeNull();
  for (const kind of ['carrier-pigeon', 'constructor', '__proto__', '']) expect(kindOf({ kind })).toBeNull();
});
