/** The figures wing: what is read out. */
import type { SiteAccount } from '@wide-ledger/contract';
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import type { Exchange } from '../exchange/index.ts';
import type { Field } from '../field/index.ts';
import { Calls, type Ground } from '../ground/index.ts';
import { healthCalls } from './desk/health.ts';
import { accountOf } from './desk/account.ts';
import { deskCalls } from './desk/calls.ts';
import { deskOf } from './desk/desk.ts';
import { metricsCalls } from './metrics/calls.ts';
import { openMetrics } from './metrics/metrics.ts';

export interface Figures {
  readonly calls: Calls;
  /** How the site is, for the sites to which its history goes. */
  readonly account: () => Promise<SiteAccount>;
}

/** @param version of the programs. */
export function openFigures(
  ground: Ground,
  { catalogue }: Configuration,
  archive: Archive,
  { collectors }: Field,
  exchange: Exchange,
  version: string,
): Figures {
  const shown = deskOf({ ground, catalogue, archive, collectors, exchange });
  const calls = new Calls(
    healthCalls(ground.database, archive, version),
    deskCalls(shown),
    metricsCalls(openMetrics(ground, archive, collectors)),
  );
  return { calls, account: async () => accountOf(await shown.get()) };
}
