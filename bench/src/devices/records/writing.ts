/** Writing down what is due, beat by beat; while the way is not whole it is kept, and written when it is. */
import { writtenDown, type RecordedPoint } from '../../plant/kilnbank/records.ts';
import type { LineState } from '../../relay/fault.ts';
import type { DeviceState } from '../device.ts';

/** Of what was kept so long is the longest. Beats. */
const MOST_BEATS = 5000;
const TICK_MILLISECONDS = 250;

export class BeatWriter {
  private timer: NodeJS.Timeout | null = null;
  private written: number;
  private writing = false;

  /**
   * @param everySeconds from beat to beat. @param write what is due: beats in seconds since 1970, in their order; what it
   * throws is tried again.
   */
  constructor(
    private readonly everySeconds: number,
    private readonly write: (beats: readonly number[]) => void | Promise<void>,
    private readonly isWhole: () => boolean,
    private readonly clock: () => number,
  ) {
    this.written = Math.floor(clock() / everySeconds) * everySeconds;
  }

  start(): void {
    this.timer = setInterval(() => void this.tick(), TICK_MILLISECONDS);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  private async tick(): Promise<void> {
    if (this.writing || !this.isWhole()) return;
    const due: number[] = [];
    for (let beat = this.written + this.everySeconds; beat <= this.clock() && due.length < MOST_BEATS;) {
      due.push(beat);
      beat += this.everySeconds;
    }
    if (due.length === 0) return;
    this.writing = true;
    try {
      await this.write(due);
      this.written = due.at(-1)!;
    } catch {
      // What it is written to is away: it stays due.
    } finally {
      this.writing = false;
    }
  }
}

/** Something that writes down its points by itself. */
export interface Recorder {
  readonly name: string;
  readonly place: string;
  readonly everySeconds: number;
  readonly points: readonly RecordedPoint[];
}

/** The last beat of a recorder. Seconds since 1970. */
export const lastBeat = ({ everySeconds }: Pick<Recorder, 'everySeconds'>, now: number): number =>
  Math.floor(now / everySeconds) * everySeconds;

/** How a recorder stands. @param written so many rows, or times. @param shown a value as it stands in the record. */
export function recorderState(
  recorder: Recorder,
  line: LineState,
  now: number,
  { protocol, written, shown = String }: { protocol: string; written: number; shown?: (value: number) => string },
): DeviceState {
  const beat = lastBeat(recorder, now);
  return {
    name: recorder.name,
    place: recorder.place,
    protocol,
    ...line,
    requests: written,
    memory: null,
    clockError: null,
    points: recorder.points.map((point) => ({
      name: point.tag,
      address: point.series,
      raw: shown(writtenDown(point, beat)),
      value: `${writtenDown(point, beat)} ${point.unit}`,
    })),
  };
}
