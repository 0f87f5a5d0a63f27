/** Values of another site as samples of tags. Pure. */
import type { RawAnswer } from '@wide-ledger/contract';
import { parseInstant } from '@wide-ledger/core';
import { sampleOfValue } from '../../tagLife/conversion.ts';
import type { Sample, TagOf, Value } from '../kind.ts';

type Given = RawAnswer['samples'][number];

/** What is no number in JSON is a text there: infinities, and whole numbers beyond a double. */
function valueOf(given: Given['value'], isText: boolean): Value {
  if (given === null || typeof given === 'number') return given;
  if (typeof given === 'boolean') return Number(given);
  if (isText) return given;
  if (/^-?\d+$/.test(given)) return BigInt(given);
  const number = Number(given);
  return Number.isNaN(number) && given !== 'NaN' ? given : number;
}

/** As it is there: its time and its status, also where it has no value. */
export function sampleOfGiven(tag: TagOf<'ledger'>, { time, value: given, status }: Given): Sample {
  const sourceTime = parseInstant(time)!;
  const value = valueOf(given, tag.type === 'text');
  if (value === null) return { tag: tag.id, value, status, sourceTime, fault: null };
  return sampleOfValue(tag, value, status, sourceTime);
}
