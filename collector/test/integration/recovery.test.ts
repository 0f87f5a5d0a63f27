/**
 * What was missed comes back from a controller's own memory, over real sockets (history read raw, OPC 10000-11): all that
 * it still holds, once, with what it holds no more said.
 * @jest-environment ./collector/test/oneRealm.mjs
 */
import type { ConfiguredSource, OutageSpan, RecoverySpan } from '@wide-ledger/contract';
import { REMOVED, subtract, union, type Span } from '@wide-ledger/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { KILNBANK, OpcUaDevice, nodeIdOf, type OpcUaOptions, type Variable } from '../../../bench/src/index.ts';
import { freePort } from '../../../launch/ground.mjs';
import { SourceWatcher, kindOf, type Gathered, type WatcherNotes } from '../../src/index.ts';
import { ALONE } from '../alone.ts';
import { TestOutlet } from '../outlet.ts';
import { opcUaTo, tagAt } from '../tags.ts';

const BEAT = 100;
const FLOW = KILNBANK.variables.find(({ tag }) => tag === 'KB-FT-401')!;
const SUPPLY = KILNBANK.variables.find(({ tag }) => tag === 'KB-TT-402')!;
/** A variable that the controller does not remember. */
const UNKEPT = KILNBANK.variables.find(({ tag, type }) => tag === undefined && type === 'Double')!;

const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-recovery-'));
const devices: OpcUaDevice[] = [];
afterAll(async () => {
  for (const device of devices) await device.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

/** A controller with a ring, and a collector's watch over some of its variables. */
class Stand {
  readonly outlet = new TestOutlet();
  readonly outages: OutageSpan[] = [];
  readonly recoveries: RecoverySpan[] = [];
  /** By tag: what was fetched, and the marks that were taken away. */
  readonly fetched = new Map<number, Map<number, number>>();
  readonly removed: [tag: number, time: number][] = [];
  readonly marked: [tag: number, time: number][] = [];
  doubled = 0;
  watcher!: SourceWatcher;

  private constructor(
    readonly device: OpcUaDevice,
    private readonly port: number,
    private readonly variables: readonly Variable[],
    private readonly settings: Partial<ReturnType<typeof opcUaTo>>,
  ) {}

  static async open(
    variables: readonly Variable[],
    ring: NonNullable<OpcUaOptions['ring']>,
    settings: Partial<ReturnType<typeof opcUaTo>> = {},
    options: OpcUaOptions = {},
  ): Promise<Stand> {
    const port = await freePort();
    const inner = await freePort();
    const device = new OpcUaDevice(KILNBANK, '127.0.0.1', port, inner, {
      folder: join(folder, `device ${port}`),
      ring,
      ...options,
    });
    devices.push(device);
    await device.start();
    const stand = new Stand(device, port, variables, settings);
    stand.watch(null);
    return stand;
  }

  watch(notes: WatcherNotes | null): void {
    const source: ConfiguredSource = {
      id: 1,
      name: 'Kilnbank',
      kind: 'opc-ua',
      connection: opcUaTo(this.port, { callsPerSecond: 1000, ...this.settings }),
      tags: this.variables.map((variable, i) =>
        tagAt(i + 1, { node: nodeIdOf(variable), element: '' }, { reading: { intervalMilliseconds: BEAT } }),
      ),
    };
    const around = { ...ALONE, folder: join(folder, 'collector') };
    this.watcher = new SourceWatcher(source, 1, kindOf(source)!, around, this.outlet, notes);
    this.watcher.open();
  }

  private take({ frames, outages, recoveries }: Gathered, fetched: boolean): void {
    this.outages.push(...outages);
    this.recoveries.push(...recoveries);
    for (const { tags, times, values, status } of frames)
      times.forEach((time, i) => {
        const tag = tags![i]!;
        if (!fetched) {
          if (Number.isNaN(values[i])) this.marked.push([tag, time]);
        } else if (status[i] === REMOVED) this.removed.push([tag, time]);
        else {
          const own = this.fetched.get(tag) ?? new Map<number, number>();
          this.fetched.set(tag, own);
          if (own.has(time)) this.doubled++;
          own.set(time, values[i]!);
        }
      });
  }

  async until(check: () => boolean): Promise<void> {
    for (;;) {
      this.watcher.report();
      this.take(this.outlet.gathering.take(), false);
      for (const fetched of this.outlet.fetched.splice(0)) this.take(fetched, true);
      if (check()) return;
      await wait(20);
    }
  }

  /**
   * Cuts the line for so long.
   * @param meanwhile what happens in the middle of it. @returns the outage, as it was told when it was over.
   */
  async cut(milliseconds: number, meanwhile: () => void = () => undefined): Promise<Span> {
    await this.until(() => this.watcher.summary.state === 'watching');
    await wait(500);
    await this.device.line.set({ kind: 'cut' });
    await wait(milliseconds / 2);
    meanwhile();
    await wait(milliseconds / 2);
    const before = this.outages.length;
    await this.device.line.set(null);
    const closed = (): OutageSpan | undefined =>
      this.outages.slice(before).find(({ to, cause }) => to !== null && cause === 'source');
    await this.until(() => closed() !== undefined);
    return { from: closed()!.from, to: closed()!.to! };
  }

  settled = (): boolean => this.watcher.notes.holes!.length === 0;

  spans = (outcome: RecoverySpan['outcome'], tag: number | null): Span[] =>
    union(this.recoveries.filter((span) => span.outcome === outcome && span.tag === tag));

  /** What the controller wrote into its memory between two moments. Microseconds, by its clock. */
  written(variable: Variable, { from, to }: Span): Map<number, number> {
    const found = new Map<number, number>();
    for (let time = Math.ceil(from / 1000 / BEAT) * BEAT; time * 1000 < to; time += BEAT)
      found.set(time * 1000, variable.at(time / 1000) as number);
    return found;
  }

  end(): void {
    this.watcher.stop('The test is over.');
  }
}

const byTime = { by: 'time', milliseconds: BEAT } as const;

test.each([
  ['oldest first, three values a call', { valuesPerCall: 3 }, 0],
  ['newest first, three values a call', { valuesPerCall: 3, recoverFirst: 'newest' }, 0],
  ['all in one call', {}, 0],
  ['from a controller whose clock is an hour ahead', { valuesPerCall: 7 }, 3600],
] as const)(
  'a short outage is fetched whole: %s',
  async (_how, settings, clockError) => {
    const stand = await Stand.open([FLOW, SUPPLY], { capacity: 20_000, feeding: byTime }, settings, { clockError });
    const outage = await stand.cut(1500);
    await stand.until(stand.settled);
    stand.end();
    const shift = clockError * 1_000_000;
    for (const [i, variable] of [FLOW, SUPPLY].entries()) {
      const own = stand.fetched.get(i + 1) ?? new Map<number, number>();
      const shifted = { from: outage.from + shift, to: outage.to + shift };
      const written = stand.written(variable, shifted);
      expect(written.size).toBeGreaterThan(10);
      for (const [time, value] of written) expect([time, own.get(time)]).toEqual([time, value]);
      // Beside it no more than what lies right at its ends.
      expect(own.size - written.size).toBeLessThanOrEqual(2);
      expect(stand.spans('recovered', i + 1)).toEqual([outage]);
    }
    expect(stand.doubled).toBe(0);
    expect(stand.spans('recovered', null)).toEqual([outage]);
    expect(stand.spans('wanted', null)).toEqual([outage]);
    expect(stand.spans('gone', 1)).toEqual([]);
    // Nothing says any more that there was no value.
    const marks = stand.marked.map(([tag, time]) => `${tag} ${time}`);
    expect(marks).toEqual(expect.arrayContaining(stand.removed.map(([tag, time]) => `${tag} ${time}`)));
    // The marks were set by the controller's clock, as its values are.
    for (const [, time] of stand.removed) expect(Math.abs(time - shift - outage.from)).toBeLessThan(2_000_000);
    expect(stand.removed.map(([tag]) => tag)).toEqual([1, 2]);
  },
  60_000,
);

test.each(['oldest', 'newest'] as const)(
  'a ring that was overwritten, %s first: what is left is fetched, the rest is gone up to where it begins',
  async (recoverFirst) => {
    // Of 37 variables so many values: about a second of each.
    const capacity = 370;
    const stand = await Stand.open([FLOW, UNKEPT], { capacity, feeding: byTime }, { valuesPerCall: 4, recoverFirst });
    const outage = await stand.cut(3000);
    await stand.until(stand.settled);
    stand.end();
    const fetched = [...stand.fetched.get(1)!.keys()].sort((a, b) => a - b);
    const own = fetched.filter((time) => time < outage.to);
    const [gone] = stand.spans('gone', 1);
    const [recovered] = stand.spans('recovered', 1);
    expect(own.length).toBeGreaterThan(2);
    // Where it begins, as far as the clocks agree.
    expect(Math.abs(gone!.to - own[0]!)).toBeLessThan(20_000);
    expect(gone).toEqual({ from: outage.from, to: recovered!.from });
    expect(recovered!.to).toBe(outage.to);
    // From there on nothing is missing.
    expect(own).toEqual([...stand.written(FLOW, { from: own[0]!, to: outage.to }).keys()]);
    // What lies before still says that there is no value.
    expect(stand.removed).toEqual([]);
    // Of a variable that it does not remember it gives nothing, and says why.
    expect(stand.spans('gone', 2)).toEqual([outage]);
    const refusal = stand.recoveries.find(({ tag, outcome }) => tag === 2 && outcome === 'gone')!;
    expect(refusal.sentence.length).toBeGreaterThan(20);
  },
  60_000,
);

test('a controller that was restarted has an empty ring: everything before is gone', async () => {
  const stand = await Stand.open([FLOW], { capacity: 20_000, feeding: byTime });
  let forgot = 0;
  const outage = await stand.cut(1500, () => {
    forgot = Date.now() * 1000;
    stand.device.forget();
  });
  await stand.until(stand.settled);
  stand.end();
  expect(forgot).toBeGreaterThan(outage.from);
  expect(forgot).toBeLessThan(outage.to);
  const [gone] = stand.spans('gone', 1);
  expect(gone!.from).toBe(outage.from);
  // Up to the first value that it wrote after that.
  expect(gone!.to).toBeGreaterThan(forgot - 200_000);
  expect(subtract([outage], [...stand.spans('gone', 1), ...stand.spans('recovered', 1)])).toEqual([]);
}, 60_000);

test('a collector that ends in the middle goes on where it was, also after the line was cut once more', async () => {
  const settings = { valuesPerCall: 2, callsPerSecond: 20 };
  const stand = await Stand.open([FLOW, SUPPLY], { capacity: 20_000, feeding: byTime }, settings);
  const first = await stand.cut(2000);
  await stand.until(() => (stand.fetched.get(1)?.size ?? 0) > 6);
  // Ended without notice: what is known of it is what was written with the last that was fetched.
  const notes = JSON.parse(JSON.stringify(stand.watcher.notes)) as WatcherNotes;
  expect(notes.holes).toHaveLength(1);
  expect(notes.holes![0]!.cursor).toBeGreaterThan(first.from);
  stand.end();
  stand.watch(notes);
  await stand.until(() => (stand.fetched.get(1)?.size ?? 0) > 12);
  const second = await stand.cut(500);
  await stand.until(stand.settled);
  stand.end();
  for (const [i, variable] of [FLOW, SUPPLY].entries())
    for (const outage of [first, second])
      for (const [time, value] of stand.written(variable, outage))
        expect([time, stand.fetched.get(i + 1)!.get(time)]).toEqual([time, value]);
  // Where it went on it asks for the last once more, to see that it is still there.
  expect(stand.doubled).toBeLessThanOrEqual(4);
}, 60_000);
