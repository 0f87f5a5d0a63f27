/** What a request for history has to satisfy, and what is made of its parameters. Each throws a problem for the asker. */
import type { Computation } from '@wide-ledger/contract';
import {
  DEFAULT_CONFIGURATION,
  TEXT_AGGREGATES,
  checkCut,
  isValidConfiguration,
  parseInterval,
  type AggregateConfiguration,
  type AggregateName,
  type Span,
} from '@wide-ledger/core';
import { integralFactor, integralUnit } from '@wide-ledger/core/units';
import { badRequest, instantOf, nowMicros } from '../../ground/index.ts';
import type { TagRow } from '../../configuration/index.ts';
import type { ReadTag } from './readTag.ts';
import { CANNOT_BE_CUT, type Cut } from './requests.ts';

/** @throws a problem naming the text that is no time, or saying that there is none. */
export function resolveTimes(texts: readonly string[]): number[] {
  if (texts.length === 0) throw badRequest('times: give at least one time.');
  const now = nowMicros();
  return texts.map((text) => instantOf('times', text, now));
}

const SECONDS = { s: 1, min: 60, h: 3600 } as const;

/** The unit of a computation's figures, and the factor that brings them there. */
export async function unitOf(
  computation: Computation,
  tag: ReadTag,
  wanted: string | undefined,
): Promise<{ unit: string; factor: number }> {
  switch (computation) {
    case 'counter':
      return { unit: tag.unit, factor: 1 };
    case 'integral': {
      const unit = wanted ?? integralUnit(tag.unit);
      try {
        return { unit, factor: await integralFactor(tag.unit, unit) };
      } catch (error) {
        throw badRequest((error as Error).message);
      }
    }
    case 'rate': {
      const per = wanted ?? 'h';
      if (!(per in SECONDS)) throw badRequest(`unit: a rate is per s, min or h, not per "${per}".`);
      return { unit: `${tag.unit}/${per}`, factor: SECONDS[per as keyof typeof SECONDS] };
    }
    case 'states':
      return { unit: 'ms', factor: 1 };
    case 'onTime':
      return { unit: '%', factor: 1 };
  }
}

/** What a request says otherwise than the tag and the standard. */
export type Override = { [Key in keyof AggregateConfiguration]?: AggregateConfiguration[Key] | undefined };

/** How a tag's values are aggregated: its own settings, overridden by what the request says. @throws ProblemError where the percentages do not go together. */
export function configurationFor(tag: TagRow, override: Override): AggregateConfiguration {
  const own = tag.aggregateConfiguration ?? {};
  const standard = DEFAULT_CONFIGURATION;
  const configuration: AggregateConfiguration = {
    stepped: override.stepped ?? tag.stepped,
    treatUncertainAsBad: override.treatUncertainAsBad ?? own.treatUncertainAsBad ?? standard.treatUncertainAsBad,
    percentDataBad: override.percentDataBad ?? own.percentDataBad ?? standard.percentDataBad,
    percentDataGood: override.percentDataGood ?? own.percentDataGood ?? standard.percentDataGood,
    useSlopedExtrapolation:
      override.useSlopedExtrapolation ?? own.useSlopedExtrapolation ?? standard.useSlopedExtrapolation,
  };
  if (!isValidConfiguration(configuration)) {
    throw badRequest(
      'percentDataGood has to be at least 100 − percentDataBad, both between 0 and 100.',
      'Bad_AggregateInvalidInputs',
    );
  }
  return configuration;
}

/** A tag as the reading threads have to know it. @param watchedUntil beyond its last sample, in microseconds; −∞: it was not. */
export function readTagOf(tag: TagRow, watchedUntil: number, override: Override = {}): ReadTag {
  const { id, name, type, unit, states, storeId: store } = tag;
  return { id, name, type, unit, states, store, configuration: configurationFor(tag, override), watchedUntil };
}

/** Text has no average. */
export function checkAggregates(tags: readonly ReadTag[], aggregates: readonly AggregateName[]): void {
  const textual = tags.find(({ type }) => type === 'text');
  const unfit = aggregates.find((name) => !TEXT_AGGREGATES.has(name));
  if (!textual || !unfit) return;
  throw badRequest(
    `${textual.name} keeps text, and ${unfit} needs numbers. Text has ${[...TEXT_AGGREGATES].join(', ')}.`,
    'Bad_AggregateNotSupported',
  );
}

/** How a window is to be cut into intervals. @throws ProblemError where the interval is none, or there would surely be too many. */
export function cutFor(window: Span, interval: string, zone: string): Cut {
  const parsed = parseInterval(interval);
  if (!parsed) {
    throw badRequest(
      `interval: "${interval}" is none. Use an ISO 8601 duration of one kind (PT1H, P1D, P1M), a calendar unit (hour, 15 minutes, week, quarter) or shifts (shift:06:00/14:00/22:00).`,
    );
  }
  try {
    checkCut(window.from, window.to, parsed, zone);
  } catch (error) {
    if (error instanceof RangeError) throw badRequest(error.message, CANNOT_BE_CUT);
    throw error;
  }
  return { ...window, interval: parsed, zone };
}
