/** Values of messages as samples of tags. Pure. */
import type { ConfiguredTag } from '@wide-ledger/contract';
import { Status, numberInText, type MessageField, type MessageRow } from '@wide-ledger/core';
import { sampleOfValue } from '../tagLife/conversion.ts';
import type { Sample } from './kind.ts';

/** Every tag that takes something of a message which cannot be taken apart. */
export const refusedAll = <Tag>(fields: readonly MessageField<Tag>[], trouble: string): MessageRow<Tag>[] =>
  fields.map(({ tag }) => ({ tag, value: null, status: Status.BadDecodingError, time: null, trouble }));

/** A row as a sample of its tag: scaled, and checked against what the tag keeps. */
export function sampleOfRow({ tag, value, status, time, trouble }: MessageRow<ConfiguredTag>): Sample {
  const fault = trouble === null ? null : { sentence: trouble, code: value === null ? 'NO_VALUE' : 'DOUBTFUL' };
  if (value === null) return { tag: tag.id, value, status, sourceTime: time, fault };
  const number = typeof value === 'string' && tag.type !== 'text' ? numberInText(value) : undefined;
  const sample = sampleOfValue(tag, number ?? value, status, time);
  return fault === null || sample.fault !== null ? sample : { ...sample, fault };
}
