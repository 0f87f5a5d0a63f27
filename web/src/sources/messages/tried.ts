/** A message tried: what each of its fields would be as a value, and who takes it. Pure. */
import { messageTerms } from '@wide-ledger/contract';
import {
  describeStatus,
  formatInstant,
  leavesOf,
  messagePathText,
  parseMessagePath,
  rowsOfMessage,
  type ReadMessage,
} from '@wide-ledger/core';

export interface TriedRow {
  /** Its way in the message; empty: all of it. */
  readonly field: string;
  readonly value: string;
  readonly time: string;
  readonly status: string;
  readonly trouble: string | null;
  /** The tags that take it; none: it is ignored. */
  readonly tags: readonly string[];
}

/**
 * @param takers names of tags by the field that they take, of the message's topic.
 * @returns a row for each leaf, and for each field that a tag takes and that is not there; or why it cannot be read.
 */
export function triedRows(
  read: ReadMessage,
  connection: Parameters<typeof messageTerms>[0],
  takers: ReadonlyMap<string, readonly string[]>,
): readonly TriedRow[] | string {
  if ('trouble' in read) return read.trouble;
  const { message } = read;
  const there = leavesOf(message).map(messagePathText);
  const missing = [...takers.keys()].filter((field) => !there.includes(field));
  const terms = messageTerms(connection);
  return [...there, ...missing].flatMap((field) => {
    const path = parseMessagePath(field);
    if (!path) return [];
    return rowsOfMessage(message, [{ tag: field, field: path }], terms, { retained: false }).map((row) => ({
      field,
      value: row.value === null ? '' : String(row.value),
      time: row.time === null ? 'when it comes' : formatInstant(row.time),
      status: describeStatus(row.status),
      trouble: row.trouble,
      tags: takers.get(field) ?? [],
    }));
  });
}
