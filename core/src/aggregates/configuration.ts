import { isBad, isGood } from '../status/codes.ts';

/** The aggregate configuration of OPC 10000-13 (4.2.1) together with whether a tag's values hold or slope. */
export interface AggregateConfiguration {
  readonly treatUncertainAsBad: boolean;
  readonly percentDataBad: number;
  readonly percentDataGood: number;
  readonly useSlopedExtrapolation: boolean;
  /** Property of the tag, not of the standard's structure: true holds a value until the next one. */
  readonly stepped: boolean;
}

/** The standard's defaults. */
export const DEFAULT_CONFIGURATION: AggregateConfiguration = {
  treatUncertainAsBad: true,
  percentDataBad: 100,
  percentDataGood: 100,
  useSlopedExtrapolation: false,
  stepped: false,
};

/** Whether the percentages go together; if not the answer is Bad_AggregateInvalidInputs. */
export function isValidConfiguration({ percentDataBad, percentDataGood }: AggregateConfiguration): boolean {
  const inRange = [percentDataBad, percentDataGood].every((percent) => percent >= 0 && percent <= 100);
  return inRange && percentDataGood >= 100 - percentDataBad;
}

/** Whether a status counts as Bad in a calculation: Bad itself, and Uncertain where it is to be treated as Bad. */
export const countsAsBad = (status: number, { treatUncertainAsBad }: AggregateConfiguration): boolean =>
  status !== 0 && (isBad(status) || (treatUncertainAsBad && !isGood(status)));
