/** The field wing: towards the plant. */
import type { Configuration } from '../configuration/index.ts';
import { Calls, type Ground } from '../ground/index.ts';
import type { People } from '../people/index.ts';
import type { Archive } from '../archive/index.ts';
import { Backfills } from './backfills/backfills.ts';
import { backfillCalls } from './backfills/calls.ts';
import { benchCalls } from './bench/calls.ts';
import { Bursts } from './bursts/bursts.ts';
import { burstCalls } from './bursts/calls.ts';
import { Collectors } from './collectors/collectors.ts';
import { Questions } from './questions/questions.ts';
import { collectorCalls } from './collectors/calls.ts';
import { operatingCalls } from './operating/calls.ts';
import { wayCalls } from './sources/wayCalls.ts';
import { sourceCalls } from './sources/calls.ts';

export { type Collectors } from './collectors/collectors.ts';
export { sourcesWithState } from './sources/calls.ts';

export interface Field {
  readonly collectors: Collectors;
  readonly calls: Calls;
}

/** What the collectors say is kept before anything else is opened: the archive asks whether a source is being watched. */
export const openCollectors = (): Collectors => new Collectors();

/** Opens the field wing: collectors and sources. */
export function openField(
  { settings, database, jobs }: Ground,
  { keys, logbook }: People,
  { catalogue, forcing, secrets }: Configuration,
  { coverage }: Archive,
  collectors: Collectors,
): Field {
  const questions = new Questions();
  const backfills = new Backfills(catalogue, coverage, collectors, questions, jobs);
  const bursts = new Bursts(catalogue, questions, jobs);
  const calls = new Calls(
    sourceCalls(forcing, secrets, collectors, questions),
    collectorCalls(database.pool, catalogue, secrets, collectors, questions, keys, settings.WIDE_LEDGER_DATA),
    backfillCalls(catalogue, backfills, logbook),
    burstCalls(catalogue, bursts, logbook),
    operatingCalls(catalogue, questions, logbook),
    wayCalls(catalogue, questions, logbook),
    benchCalls(settings.WIDE_LEDGER_BENCH_URL, settings.WIDE_LEDGER_BENCH_TOKEN, logbook),
  );
  return { collectors, calls };
}
