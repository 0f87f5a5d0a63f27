/** Reading a collector's own figures, as a source of any other kind is read. */
import { ownerNumber, ownerOf, type ItselfAddress, type OwnFigure, type SourceFigure } from '@wide-ledger/contract';
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

/** The server is told of a collector every second, and answers. */
const SILENT_MILLISECONDS = 10_000;

/** A figure with its quality. */
export function figureOf(
  address: ItselfAddress,
  account: Account,
  load: Load,
): Pick<Sample, 'value' | 'status' | 'fault'> {
  const owner = ownerOf(address);
  const { figure, source } = address;
  if (owner === 'collector') return known(OWN[figure as OwnFigure](account, load, performance.now()));
  if (owner === 'source') {
    const state = account.report.sources.find((one) => one.source === source);
    if (state) return known(OF_SOURCE[figure as SourceFigure](state));
    return unknown(`This collector does not read a source of number ${source} at present.`, 'NOT_READ_HERE');
  }
  const number = ownerNumber(address);
  const { server } = account;
  // What the server said is nothing that stands once it is silent.
  if (server && performance.now() - server.at > SILENT_MILLISECONDS) return known(null);
  const link = server?.links.find((one) => one.kind === owner && one.id === number);
  if (link) return known(link.figures[figure] ?? null);
  return unknown(`The server tells of no ${owner} of number ${number}.`, 'NOT_TOLD');
}

const unknown = (sentence: string, code: string): ReturnType<typeof figureOf> => ({
  value: null,
  status: Status.BadNodeIdUnknown,
  fault: { sentence, code },
});

const known = (value: number | null): ReturnType<typeof figureOf> =>
  value === null ? { value, status: Status.BadNoData, fault: null } : { value, status: Status.Good, fault: null };
