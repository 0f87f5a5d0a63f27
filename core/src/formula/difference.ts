/** What has to be written so that what stands of a derived tag becomes what its formula gives now. */
import type { Frame } from '../frame/frame.ts';
import { textAt } from '../samples/merge.ts';
import { REMOVED } from '../status/codes.ts';

/** @param standing and @param wanted the same window of one tag, in time order. @returns additions, changes and removals; null for none */
export function derivedDifference(standing: Frame | null, wanted: Frame): Frame | null {
  const times: number[] = [];
  const values: number[] = [];
  const status: number[] = [];
  let at = 0;
  const removeUntil = (time: number): void => {
    for (; standing && at < standing.times.length && standing.times[at]! < time; at++) {
      times.push(standing.times[at]!);
      values.push(NaN);
      status.push(REMOVED);
    }
  };
  for (let i = 0; i < wanted.times.length; i++) {
    const time = wanted.times[i]!;
    removeUntil(time);
    const stands = standing !== null && standing.times[at] === time;
    const same = stands && isSame(standing, at, wanted, i);
    if (stands) at++;
    if (same) continue;
    times.push(time);
    values.push(wanted.values[i]!);
    status.push(wanted.status[i]!);
  }
  removeUntil(Infinity);
  if (times.length === 0) return null;
  return {
    tags: null,
    times: Float64Array.from(times),
    values: Float64Array.from(values),
    status: Uint32Array.from(status),
    origins: null,
    texts: wanted.texts,
  };
}

const isSame = (a: Frame, i: number, b: Frame, k: number): boolean =>
  a.status[i] === b.status[k] &&
  (a.texts.length > 0 || b.texts.length > 0 ? textAt(a, i) === textAt(b, k) : Object.is(a.values[i], b.values[k]));
