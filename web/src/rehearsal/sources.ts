/** The sources of a rehearsal: as they stand in the draft or in force, with the rates of today. */
import { KINDS, recoverySettings, type Desk, type SourceKind } from '@wide-ledger/contract';
import type { RehearsedSource } from '@wide-ledger/core';
import { typedNumber } from '../controls/typedNumber.ts';
import type { Standing } from '../configuration/drafting.ts';

/** Figures that a person may set otherwise, by the source's name. */
export interface Figures {
  readonly valuesPerSecond: string;
  readonly remembers: string;
}

/** What is not measured yet is taken for this. */
const A_VALUE_A_SECOND = 1;

/** @param desk what the collectors say of today. */
export function sourcesOf(standings: readonly Standing[], desk: Desk | undefined): RehearsedSource[] {
  return standings.flatMap(({ id, body }) => {
    if (!body || body.paused === true) return [];
    const { kind, name } = body;
    if (typeof name !== 'string' || typeof kind !== 'string' || kind === 'collector' || !(kind in KINDS)) return [];
    const state = desk?.sources.find((source) => source.id === id)?.state ?? null;
    const settings = recoverySettings(body.connection as object, KINDS[kind as SourceKind].offers.history);
    const rate = Math.round((state?.keptPerSecond ?? 0) * 10) / 10 || A_VALUE_A_SECOND;
    const reachesBack = state?.recovery?.reachesBack ?? null;
    const reach = reachesBack === null ? null : Math.max(1, (Date.now() - reachesBack) / 1000);
    const { bufferValues } = settings;
    // A device may remember more than what is kept of it: once it is full, how far back it reaches tells how fast it
    // writes. It is full when it reaches less far back than it has been watched for.
    const isFull = reach !== null && state !== null && reach < (Date.now() - state.since) / 1000;
    const writes = bufferValues !== null && isFull ? Math.max(rate, bufferValues / reach) : rate;
    return [
      {
        name,
        valuesPerSecond: rate,
        remembers: settings.keepsHistory ? (bufferValues ?? (reach === null ? null : Math.round(reach * rate))) : null,
        remembersPerSecond: writes,
        mode: settings.mode,
        valuesPerCall: settings.valuesPerCall,
        callsPerSecond: settings.callsPerSecond,
        newestFirst: settings.newestFirst,
        standby: typeof body.standby === 'string' && body.standby !== '',
      },
    ];
  });
}

/** A source with what a person typed. What is no number is passed over. */
export function withFigures(source: RehearsedSource, typed: Figures | undefined): RehearsedSource {
  const [rate, remembers] = [typed?.valuesPerSecond, typed?.remembers].map(
    (text) => typedNumber(text ?? '') ?? NaN,
  ) as [number, number];
  const perSecond = rate > 0 ? rate : source.valuesPerSecond;
  return {
    ...source,
    valuesPerSecond: perSecond,
    remembersPerSecond: (source.remembersPerSecond * perSecond) / source.valuesPerSecond,
    remembers: remembers > 0 ? remembers : remembers === 0 ? null : source.remembers,
  };
}
