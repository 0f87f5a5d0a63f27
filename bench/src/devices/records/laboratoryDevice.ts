/** A laboratory that keeps its results in a workbook: saved whole with each sample, beside the ones before. */
import { DateTime } from 'luxon';
import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { LABORATORY, writtenDown } from '../../plant/kilnbank/records.ts';
import { Share } from '../../relay/share.ts';
import type { Device, DeviceState } from '../device.ts';
import { BeatWriter, lastBeat, recorderState } from './writing.ts';

/** Samples that stand in the workbook. */
const SAMPLES = 168;

export class LaboratoryDevice implements Device {
  readonly line: Share;
  private saved = 0;
  private readonly writer: BeatWriter;

  constructor(
    private readonly folder: string,
    private readonly clock: () => number = () => Date.now() / 1000,
  ) {
    this.line = new Share(folder);
    this.writer = new BeatWriter(
      LABORATORY.everySeconds,
      (beats) => this.save(beats.at(-1)!),
      () => this.line.isWhole,
      clock,
    );
  }

  async start(): Promise<void> {
    mkdirSync(this.folder, { recursive: true });
    await this.save(lastBeat(LABORATORY, this.clock()));
    this.writer.start();
  }

  stop(): Promise<void> {
    this.writer.stop();
    this.line.stop();
    return Promise.resolve();
  }

  get state(): DeviceState {
    return recorderState(LABORATORY, this.line.state, this.clock(), { protocol: 'workbook', written: this.saved });
  }

  private async save(newest: number): Promise<void> {
    const { default: exceljs } = await import('exceljs');
    const book = new exceljs.Workbook();
    const sheet = book.addWorksheet(LABORATORY.sheet);
    sheet.addRow(['Sampled', ...LABORATORY.points.map(({ series }) => series)]);
    for (let n = SAMPLES - 1; n >= 0; n--) {
      const sample = newest - n * LABORATORY.everySeconds;
      // A date cell is what a clock shows; the format has no zones.
      const shown = DateTime.fromSeconds(sample, { zone: LABORATORY.zone }).setZone('UTC', { keepLocalTime: true });
      sheet.addRow([shown.toJSDate(), ...LABORATORY.points.map((point) => writtenDown(point, sample))]);
    }
    // Whole or not at all: whoever reads it meanwhile has the one before.
    const draft = join(this.folder, '.laboratory.xlsx');
    await book.xlsx.writeFile(draft);
    renameSync(draft, join(this.folder, 'laboratory.xlsx'));
    this.saved++;
  }
}
