/** The script of faults, as people type it and as the address of the screen holds it. Pure. */
import { FAULTS_OF_SOURCES, REHEARSED_FAULTS, type RehearsedFault, type RehearsedFaultKind } from '@wide-ledger/core';
import { typedNumber } from '../controls/typedNumber.ts';

/** A fault as it is typed, its times in minutes. */
export interface Line {
  readonly kind: RehearsedFaultKind;
  /** The source's name; empty: every one, or the collector. */
  readonly source: string;
  readonly at: string;
  readonly lasts: string;
}

export const FIRST_LINE: Line = { kind: 'line cut', source: '', at: '10', lasts: '60' };

/** What happens, in the words of the screen. */
export const FAULT_NAMES: Readonly<Record<RehearsedFaultKind, string>> = {
  'line cut': 'the line to it is cut',
  'device off': 'the device is off',
  'memory lost': 'the device loses its memory',
  'collector off': 'the collector is off',
  'server away': 'the server is away',
  'disk full': 'the collector’s disk is full',
};

const BETWEEN = ';';
const WITHIN = '|';

export const textOf = (lines: readonly Line[]): string =>
  lines.map(({ kind, source, at, lasts }) => [kind, source, at, lasts].join(WITHIN)).join(BETWEEN);

export function linesOf(text: string): Line[] {
  return text.split(BETWEEN).flatMap((one) => {
    const [kind = '', source = '', at = '', lasts = ''] = one.split(WITHIN);
    const known = REHEARSED_FAULTS.find((name) => name === kind);
    return known ? [{ kind: known, source, at, lasts }] : [];
  });
}

const minutes = (typed: string): number => typedNumber(typed) ?? NaN;

/** Longer scripts are not played. Minutes. */
const LONGEST = 14 * 24 * 60;

/** What is wrong with a line, as a sentence; null where nothing is. */
export function wrongIn({ kind, at, lasts }: Line): string | null {
  const [begin, length] = [minutes(at), kind === 'memory lost' ? 0 : minutes(lasts)];
  if (!(begin >= 0)) return 'From when? Type minutes from the start.';
  if (!(length >= 0)) return 'For how long? Type minutes.';
  return begin + length > LONGEST ? 'A script ends within two weeks.' : null;
}

/** The faults that can be played. @param sources names, in their order. */
export function faultsOf(lines: readonly Line[], sources: readonly string[]): RehearsedFault[] {
  return lines
    .filter((line) => wrongIn(line) === null)
    .flatMap(({ kind, source, at, lasts }) => {
      const place = FAULTS_OF_SOURCES.has(kind) && source !== '' ? sources.indexOf(source) : null;
      if (place === -1) return [];
      return [{ kind, source: place, at: minutes(at) * 60, lasts: kind === 'memory lost' ? 0 : minutes(lasts) * 60 }];
    });
}
