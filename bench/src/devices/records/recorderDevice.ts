/** A recorder that writes a log into a shared folder: a row a beat, a file an hour, as its own clock shows the time. */
import { DateTime } from 'luxon';
import { appendFileSync, existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { RECORDER, writtenDown } from '../../plant/kilnbank/records.ts';
import { Share } from '../../relay/share.ts';
import type { Device, DeviceState } from '../device.ts';
import { BeatWriter, recorderState } from './writing.ts';

/** Files that stay; the oldest goes. */
const FILES = 48;

export class RecorderDevice implements Device {
  readonly line: Share;
  private rows = 0;
  private readonly writer: BeatWriter;

  constructor(
    private readonly folder: string,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Share(folder);
    this.writer = new BeatWriter(
      RECORDER.everySeconds,
      (beats) => this.write(beats),
      () => this.line.isWhole,
      clock,
    );
  }

  start(): Promise<void> {
    mkdirSync(this.folder, { recursive: true });
    this.writer.start();
    return Promise.resolve();
  }

  stop(): Promise<void> {
    this.writer.stop();
    this.line.stop();
    return Promise.resolve();
  }

  get state(): DeviceState {
    return recorderState(RECORDER, this.line.state, this.clock(), {
      protocol: 'files',
      written: this.rows,
      shown: decimalComma,
    });
  }

  private write(beats: readonly number[]): void {
    for (const beat of beats) {
      const at = DateTime.fromSeconds(beat, { zone: RECORDER.zone });
      const file = join(this.folder, `recorder-${at.toFormat('yyyyMMdd-HH')}.csv`);
      if (!existsSync(file)) this.begin(file);
      const cells = RECORDER.points.map((point) => decimalComma(writtenDown(point, beat)));
      appendFileSync(file, `${at.toFormat('dd.MM.yyyy HH:mm:ss')};${cells.join(';')}\r\n`);
      this.rows++;
    }
  }

  private begin(file: string): void {
    appendFileSync(file, `Zeit;${RECORDER.points.map(({ series }) => series).join(';')}\r\n`);
    const all = readdirSync(this.folder)
      .filter((name) => /^recorder-.*\.csv$/.test(name))
      .sort();
    for (const old of all.slice(0, -FILES)) rmSync(join(this.folder, old), { force: true });
  }
}

const decimalComma = (value: number): string => String(value).replace('.', ',');
