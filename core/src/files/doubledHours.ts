/**
 * An hour that the clock shows twice, told apart by the order of the rows. A tag's rows run through it once, then the
 * clock goes back and they run through it again; in a file whose newest rows come first it is the other way round.
 */
import { SECOND } from '../time/instants.ts';

/** Doubled hours lie further apart than this. */
const ONE_NIGHT = 12 * 3600 * SECOND;

interface Run {
  /** Its first instant, by the earlier reading; and the last one met. */
  start: number;
  last: number;
  /** How often the rows turned back, up to here. */
  turns: number;
}

const isDoubled = (times: readonly number[]): boolean => times.length === 2;

/** Watches the rows of one tag, or of a table without tags. */
class Track {
  private before = NaN;
  ups = 0;
  downs = 0;
  readonly runs: Run[] = [];

  add(times: readonly number[]): void {
    const [time] = times;
    if (time === undefined) return;
    if (!isDoubled(times)) {
      if (time > this.before) this.ups++;
      if (time < this.before) this.downs++;
    }
    this.before = time;
  }
}

/** Finds out by a walk through the whole file which of its doubled hours the order of the rows tells apart. */
export class DoubledHours {
  private readonly tracks = new Map<string, Track>();
  private readonly doubled: { key: string; time: number }[] = [];

  /** @param key whose row it is. @param times what its time can mean, ascending. */
  add(key: string, times: readonly number[]): void {
    let track = this.tracks.get(key);
    if (!track) this.tracks.set(key, (track = new Track()));
    track.add(times);
    if (isDoubled(times)) this.doubled.push({ key, time: times[0]! });
  }

  /** Whether the file's rows go back in time. */
  private get newestFirst(): boolean {
    let [ups, downs] = [0, 0];
    for (const track of this.tracks.values()) {
      ups += track.ups;
      downs += track.downs;
    }
    return downs > ups;
  }

  /** What tells of each row, in the order of the file, which reading is meant. */
  reader(): DoubledHourReader {
    const { newestFirst } = this;
    const turns = new Map<string, Run[]>();
    for (const { key, time } of this.doubled) follow(turns, key, time, newestFirst);
    return new DoubledHourReader(turns, newestFirst);
  }
}

/** The run that a time belongs to, with the turn that it makes noted. */
function follow(runs: Map<string, Run[]>, key: string, time: number, newestFirst: boolean): Run {
  let known = runs.get(key);
  if (!known) runs.set(key, (known = []));
  const current = known.find(({ start }) => Math.abs(time - start) < ONE_NIGHT);
  if (!current) {
    const run = { start: time, last: time, turns: 0 };
    known.push(run);
    return run;
  }
  // The same clock time twice in a row is the first and the second time.
  if (newestFirst ? time >= current.last : time <= current.last) current.turns++;
  current.last = time;
  return current;
}

/** Says of one row after the other which of two instants its clock time means, by what {@link DoubledHours} found. */
export class DoubledHourReader {
  private readonly passed = new Map<string, Run[]>();

  constructor(
    private readonly turns: ReadonlyMap<string, readonly Run[]>,
    private readonly newestFirst: boolean,
  ) {}

  /** The instant that a row means; null where the order of the rows does not tell. To be asked for every row, in order. */
  choose(key: string, times: readonly number[]): number | null {
    if (!isDoubled(times)) return times[0] ?? null;
    const [first, second] = times as [number, number];
    const whole = this.turns.get(key)?.find(({ start }) => Math.abs(first - start) < ONE_NIGHT);
    const { turns } = follow(this.passed, key, first, this.newestFirst);
    // Once through it does not tell which time; more than twice is no clock.
    if (whole?.turns !== 1) return null;
    return (turns === 0) === this.newestFirst ? second : first;
  }
}
