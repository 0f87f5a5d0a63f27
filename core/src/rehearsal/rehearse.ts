/** Plays a script of faults in quick time, second by second, and tells what would be lost and why. */
import type {
  Fate,
  FateReason,
  Rehearsed,
  RehearsedFault,
  RehearsedFaultKind,
  RehearsedOutcome,
  RehearsedSource,
  Scenario,
} from './scenario.ts';

/** After the last fault it is played on until all is caught up, and no longer than this. Seconds. */
const LONGEST_CATCHING_UP = 7 * 86_400;

/** @throws RangeError where a time is negative or not finite. */
export function rehearse({ sources, collector, faults }: Scenario): Rehearsed {
  for (const { at, lasts } of faults)
    if (!(at >= 0 && lasts >= 0 && Number.isFinite(at + lasts)))
      throw new RangeError('A fault begins at a time from 0 on, and lasts for some.');
  const scriptEnds = Math.ceil(Math.max(0, ...faults.map(({ at, lasts }) => at + lasts)));
  const players = sources.map((source, place) => new SourcePlayer(source, place, faults));
  const spool = new SpoolPlayer();
  let second = 0;
  for (; second < scriptEnds + LONGEST_CATCHING_UP; second++) {
    const away = isOn(faults, 'server away', null, second);
    const off = isOn(faults, 'collector off', null, second);
    const room = isOn(faults, 'disk full', null, second) ? 0 : (collector.spoolBytes ?? Infinity);
    const comes = players.reduce((sum, player) => sum + player.step(second, off), 0);
    // What a standby reads goes its own way.
    const isFull = spool.step(off ? 0 : comes, away || off, room, collector, second);
    if (isFull) for (const player of players) player.lose(second);
    if (second >= scriptEnds && spool.isEmpty && players.every((player) => player.isDone)) break;
  }
  return {
    outcomes: players.map((player) => player.finish()),
    spoolPeak: spool.peak,
    deliveredAt: spool.deliveredAt,
    until: Math.max(second, scriptEnds),
  };
}

const isOn = (
  faults: readonly RehearsedFault[],
  kind: RehearsedFaultKind,
  source: number | null,
  second: number,
): boolean =>
  faults.some(
    (fault) =>
      fault.kind === kind &&
      (fault.source === null || fault.source === source) &&
      second >= fault.at &&
      second < fault.at + fault.lasts,
  );

/** What is still to be fetched of a source's past. */
interface Hole {
  from: number;
  to: number;
}

/** One source with its device's memory, its outages, and what is fetched of them. */
class SourcePlayer {
  private readonly fates: Fate[] = [];
  private readonly holes: Hole[] = [];
  /** Values that the device has written by the begin of each second. */
  private readonly written: number[] = [0];
  /** Of these the first that it still has, after it lost its memory. */
  private firstWritten = 0;
  private caughtUpAt: number | null = null;

  constructor(
    private readonly source: RehearsedSource,
    private readonly place: number,
    private readonly faults: readonly RehearsedFault[],
  ) {}

  /** @returns values that come in. */
  step(second: number, collectorOff: boolean): number {
    const { source, faults, place } = this;
    const deviceOff = isOn(faults, 'device off', place, second);
    const cut = isOn(faults, 'line cut', place, second);
    const unread = collectorOff && !source.standby;
    this.written.push(this.written[second]! + (deviceOff ? 0 : source.remembersPerSecond));
    for (const { kind, source: of, at } of faults)
      if (kind === 'memory lost' && (of === null || of === place) && Math.floor(at) === second)
        this.firstWritten = this.written[second]!;
    if (deviceOff) {
      this.tell(second, second + 1, 'nothing to lose', 'device off');
      return 0;
    }
    if (cut || unread) {
      this.miss(second);
      return 0;
    }
    return source.valuesPerSecond + this.fetch(second);
  }

  /** What came in this second could not be kept. */
  lose(second: number): void {
    this.tell(second, second + 1, 'lost', 'no room');
  }

  get isDone(): boolean {
    return this.holes.length === 0;
  }

  finish(): RehearsedOutcome {
    for (const { from, to } of this.holes) this.tell(from, to, 'lost', 'overwritten');
    const fates = [...this.fates].sort((a, b) => a.from - b.from);
    return { fates: joined(fates), caughtUpAt: this.caughtUpAt };
  }

  private miss(second: number): void {
    const { remembers, mode } = this.source;
    if (remembers === null) return this.tell(second, second + 1, 'lost', 'no memory');
    if (mode !== 'by itself') return this.tell(second, second + 1, 'lost', 'not asked for');
    const last = this.holes.at(-1);
    if (last?.to === second) last.to = second + 1;
    else this.holes.push({ from: second, to: second + 1 });
  }

  /** Fetches for a second what the device still has. @returns values that come of it. */
  private fetch(second: number): number {
    const { valuesPerCall, callsPerSecond, newestFirst } = this.source;
    let budget = valuesPerCall * callsPerSecond;
    let fetched = 0;
    while (this.holes.length > 0 && budget > 0) {
      this.forgetOverwritten(second);
      const hole = newestFirst ? this.holes.at(-1) : this.holes[0];
      if (!hole) break;
      const perSecond = this.source.remembersPerSecond;
      const length = Math.min(hole.to - hole.from, perSecond > 0 ? budget / perSecond : Infinity);
      if (newestFirst) {
        this.tell(hole.to - length, hole.to, 'recovered', 'fetched');
        hole.to -= length;
      } else {
        this.tell(hole.from, hole.from + length, 'recovered', 'fetched');
        hole.from += length;
      }
      budget -= length * perSecond;
      fetched += length * perSecond;
      if (hole.to - hole.from < 1e-9) this.holes.splice(this.holes.indexOf(hole), 1);
      if (this.isDone) this.caughtUpAt = second + 1;
    }
    return fetched;
  }

  /** What the device had of the holes and has no more. */
  private forgetOverwritten(second: number): void {
    const { remembers, remembersPerSecond } = this.source;
    const pushedOut = this.written[second]! - (remembers ?? 0);
    const first = Math.max(pushedOut, this.firstWritten);
    const why: FateReason = this.firstWritten > pushedOut ? 'memory lost' : 'overwritten';
    for (const hole of [...this.holes]) {
      const end = Math.min(hole.to, this.whenWritten(first, remembersPerSecond));
      if (end <= hole.from) continue;
      this.tell(hole.from, end, 'lost', why);
      hole.from = end;
      if (hole.to - hole.from < 1e-9) this.holes.splice(this.holes.indexOf(hole), 1);
    }
  }

  /** The moment by which so many values had been written. */
  private whenWritten(values: number, perSecond: number): number {
    if (values <= 0 || perSecond === 0) return 0;
    let [low, high] = [0, this.written.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.written[middle]! <= values) low = middle;
      else high = middle - 1;
    }
    return low + (values - this.written[low]!) / perSecond;
  }

  private tell(from: number, to: number, fate: Fate['fate'], why: FateReason): void {
    const last = this.fates.at(-1);
    if (last?.fate === fate && last.why === why && Math.abs(last.to - from) < 1e-9)
      this.fates[this.fates.length - 1] = { ...last, to };
    else this.fates.push({ from, to, fate, why });
  }
}

function joined(fates: readonly Fate[]): Fate[] {
  const found: Fate[] = [];
  for (const one of fates) {
    const last = found.at(-1);
    if (last?.fate === one.fate && last.why === one.why && one.from - last.to < 1e-6)
      found[found.length - 1] = { ...last, to: Math.max(last.to, one.to) };
    else found.push(one);
  }
  return found;
}

/** The collector's spool, and its memory while there is no room for it. */
class SpoolPlayer {
  private waiting = 0;
  private held = 0;
  private wasBehind = false;
  peak = 0;
  deliveredAt: number | null = null;

  /** @param isStuck nothing is delivered. @returns whether what comes is lost. */
  step(
    comes: number,
    isStuck: boolean,
    room: number,
    { bytesPerValue, heldInMemory, deliversPerSecond }: Scenario['collector'],
    second: number,
  ): boolean {
    // Without room nothing is written; what is held is written as soon as there is some.
    const fits = Math.max(0, room / bytesPerValue - this.waiting);
    const writes = Math.min(comes + this.held, fits);
    this.waiting += writes;
    this.held += comes - writes;
    const isLost = this.held > heldInMemory;
    this.held = Math.min(this.held, heldInMemory);
    if (!isStuck) this.waiting = Math.max(0, this.waiting - deliversPerSecond);
    this.peak = Math.max(this.peak, this.waiting * bytesPerValue);
    if (!this.isEmpty) this.wasBehind = true;
    else if (this.wasBehind) {
      this.wasBehind = false;
      this.deliveredAt = second + 1;
    }
    return isLost;
  }

  get isEmpty(): boolean {
    return this.waiting + this.held < 1e-9;
  }
}
