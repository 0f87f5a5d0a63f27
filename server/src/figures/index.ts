/** The figures wing: what is read out. */
import type { Archive } from '../archive/index.ts';
import type { Configuration } from '../configuration/index.ts';
import type { Field } from '../field/index.ts';
import { Calls, type Ground } from '../ground/index.ts';
import { healthCalls } from './desk/health.ts';
import { deskCalls } from './desk/calls.ts';
import { metricsCalls } from './metrics/calls.ts';
import { openMetrics } from './metrics/metrics.ts';

export interface Figures {
  readonly calls: Calls;
}

/** @param version of the programs. */
export function openFigures(
  ground: Ground,
  { catalogue }: Configuration,
  archive: Archive,
  { collectors }: Field,
  version: string,
): Figures {
  const calls = new Calls(
    healthCalls(ground.database, archive.posting, version),
    deskCalls({ ground, catalogue, archive, collectors }),
    metricsCalls(openMetrics(ground, archive, collectors)),
  );
  return { calls };
}
