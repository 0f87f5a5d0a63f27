/** JSON of many megabytes is read in turns: while a long list is taken apart, others are served. */
import { parseExactJson } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import { Turns } from '../threads/turns.ts';
import { JsonShape, type LongList } from './shape.ts';

/** Walking through so many bytes takes a few milliseconds. */
const WALK_BYTES = 1024 * 1024;

export interface JsonReading {
  /** Objects and arrays in it, at most. */
  readonly parts: number;
  /** Whether whole numbers beyond 2^53 are bigints, rather than the doubles next to them. */
  readonly exact?: boolean | undefined;
  /** Looks at what is read, piece by piece; throws where it may not be so. @param where it stands; empty for the whole. */
  readonly look?: ((value: unknown, where: string) => void) | undefined;
}

/**
 * The value of a JSON text in UTF-8 (RFC 8259). Lists that are members of the whole are read piece by piece, and
 * others have their turn in between.
 * @throws CrowdedJson before anything is taken apart, SyntaxError
 */
export async function readJson(bytes: Buffer, { parts, exact, look }: JsonReading): Promise<unknown> {
  const parse = exact ? parseExactJson : parseJson;
  const turns = new Turns(1);
  const shape = new JsonShape(bytes, parts);
  while (!shape.done) {
    shape.walk(WALK_BYTES);
    if (!shape.done) await turns.after(1);
  }
  if (!shape.closed) throw new SyntaxError('it ends before it is complete');
  const words: string[] = shape.lists.map(() => randomUUID());
  const whole = parse(withoutLists(bytes, shape.lists, words));
  if (shape.lists.length === 0) {
    look?.(whole, '');
    return whole;
  }
  const members: [string, unknown][] = [];
  for (const [name, value] of Object.entries(whole as Record<string, unknown>)) {
    const place = words.indexOf(value as string);
    if (place < 0) {
      look?.({ [name]: value }, '');
      members.push([name, value]);
      continue;
    }
    const list: unknown[] = [];
    for (const piece of piecesOf(bytes, shape.lists[place]!)) {
      for (const one of parse(piece) as unknown[]) {
        look?.(one, `${name}.${list.length}`);
        list.push(one);
      }
      await turns.after(1);
    }
    members.push([name, list]);
  }
  // As JSON.parse does it: a member named __proto__ is a member like any other.
  return Object.fromEntries(members);
}

const parseJson = (text: string): unknown => JSON.parse(text) as unknown;

/** The text with each long list replaced by a word that stands for it. */
function withoutLists(bytes: Buffer, lists: readonly LongList[], words: readonly string[]): string {
  let text = '';
  let at = startOf(bytes);
  lists.forEach(({ open, close }, place) => {
    text += bytes.toString('utf8', at, open) + JSON.stringify(words[place]);
    at = close + 1;
  });
  return text + bytes.toString('utf8', at);
}

/** Behind the mark that some programs put before UTF-8. */
const startOf = (bytes: Buffer): number => (bytes.toString('latin1', 0, 3) === '\u00ef\u00bb\u00bf' ? 3 : 0);

/** The texts of a list's pieces, each a list. */
function* piecesOf(bytes: Buffer, { open, close, cuts }: LongList): Generator<string> {
  const ends = [...cuts, close];
  let begin = open + 1;
  for (const end of ends) {
    const text = bytes.toString('utf8', begin, end);
    // A list that ends with a comma is none; by itself, nothing would be an empty list.
    if (/^\s*$/.test(text)) throw new SyntaxError('a list ends with a comma');
    yield `[${text}]`;
    begin = end + 1;
  }
}
