/** Reading a collector's own figures, as a source of any other kind is read. */
import type { ItselfAddress, OwnFigure, SourceFigure } from '@wide-ledger/contract';
import { Status } from '@wide-ledger/core';
import type { Account } from '../../account/account.ts';
import type { PolledSession, Sample, Surroundings, TagOf } from '../kind.ts';
import { OF_SOURCE, OWN, type Load } from './figures.ts';

export class ItselfSession implements PolledSession<'collector'> {
  readonly acquires = 'poll';
  private readonly meter = new LoadMeter();

  constructor(private readonly around: Surroundings) {}

  async read(tags: readonly TagOf<'collector'>[]): Promise<Sample[]> {
    const account = await this.around.account();
    const load = this.meter.look();
    return tags.map(({ id, reading: { address } }) => ({
      tag: id,
      sourceTime: null,
      ...figureOf(address, account, load),
    }));
  }

  close(): void {
    // Nothing is held open.
  }
}

/** What this process takes of the machine. */
export class LoadMeter {
  private at = performance.now();
  private used = used();

  /** The share of a core is since the last look, or since the meter was made. */
  look(): Load {
    const before = { at: this.at, used: this.used };
    this.at = performance.now();
    this.used = used();
    const passed = this.at - before.at;
    return {
      processor: passed > 0 ? (this.used - before.used) / passed : null,
      memory: process.memoryUsage.rss(),
    };
  }
}

/** Milliseconds of all its threads. */
function used(): number {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
}

/** A figure with its quality. An address has a figure of a source where it names one, else one of the whole. */
export function figureOf(
  { figure, source }: ItselfAddress,
  account: Account,
  load: Load,
): Pick<Sample, 'value' | 'status' | 'fault'> {
  if (source === undefined) return known(OWN[figure as OwnFigure](account, load, performance.now()));
  const state = account.report.sources.find((one) => one.source === source);
  if (state) return known(OF_SOURCE[figure as SourceFigure](state));
  const sentence = `This collector does not read a source of number ${source} at present.`;
  return { value: null, status: Status.BadNodeIdUnknown, fault: { sentence, code: 'NOT_READ_HERE' } };
}

const known = (value: number | null): ReturnType<typeof figureOf> =>
  value === null ? { value, status: Status.BadNoData, fault: null } : { value, status: Status.Good, fault: null };
