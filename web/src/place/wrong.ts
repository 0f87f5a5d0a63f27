/** What is wrong at a place, most pressing first. Pure. */
import type { Gap, Tag } from '@wide-ledger/contract';

export interface Wrong {
  readonly tag: string | null;
  /** Several things of one tag are told apart by it. */
  readonly kind: 'refused' | 'not watched' | 'bad' | 'outside' | 'nothing';
  readonly sentence: string;
}

/** A gap that ends so near to the end of the window goes on. Milliseconds. */
const AT_THE_END = 10_000;

/** What the latest sample of a tag is, as far as it matters here. */
export interface Now {
  readonly value: number | string | boolean | null;
  readonly quality: string;
}

function outside({ low, high, unit }: Tag, { value }: Now): string | null {
  if (typeof value !== 'number' || low === null || high === null) return null;
  if (value < low) return `${value} ${unit} lies below its range, which begins at ${low}.`;
  return value > high ? `${value} ${unit} lies above its range, which ends at ${high}.` : null;
}

/**
 * @param nowOf the latest sample of a tag; null where there is none
 * @param gaps those of the window
 * @param end of the window, milliseconds
 */
export function wrongAt(
  tags: readonly Tag[],
  nowOf: (tag: Tag) => Now | null,
  gaps: readonly Gap[],
  end: number,
): Wrong[] {
  const open = gaps.filter(({ to, cause }) => cause !== 'paused' && Date.parse(to) >= end - AT_THE_END);
  // One of a source is told once, for all of its tags.
  const unwatched = open.map(({ tag, source, tags: count, sentence }): Wrong => {
    const who = tag ?? `${source ?? 'a source'}, ${count} tags`;
    return { tag, kind: 'not watched', sentence: tag ? sentence : `${who}: ${sentence}` };
  });
  const refused = new Set(unwatched.flatMap(({ tag }) => tag ?? []));
  const ofTags = tags.flatMap((tag): Wrong[] => {
    if (tag.refusal !== null)
      return refused.has(tag.name) ? [] : [{ tag: tag.name, kind: 'refused', sentence: tag.refusal }];
    const now = nowOf(tag);
    if (now === null) return [{ tag: tag.name, kind: 'nothing', sentence: 'Nothing is archived of it yet.' }];
    if (now.quality.startsWith('Bad')) {
      const isTold = open.some(
        ({ tag: of, source }) => of === tag.name || (of === null && source === tag.collection?.source),
      );
      return isTold ? [] : [{ tag: tag.name, kind: 'bad', sentence: `Its latest value is ${now.quality}.` }];
    }
    const sentence = outside(tag, now);
    return sentence ? [{ tag: tag.name, kind: 'outside', sentence }] : [];
  });
  const rank: Readonly<Record<Wrong['kind'], number>> = {
    'not watched': 0,
    refused: 1,
    bad: 2,
    outside: 3,
    nothing: 4,
  };
  return [...unwatched, ...ofTags].sort((a, b) => rank[a.kind] - rank[b.kind]);
}

/** Where a value lies between the ends of its range, 0 to 1; beyond them it lies at the end. Null: there is nothing to show. */
export function placeInRange(
  { low, high }: Tag,
  value: Now['value'] | undefined,
): { at: number; isOutside: boolean } | null {
  if (typeof value !== 'number' || low === null || high === null) return null;
  const at = (value - low) / (high - low);
  return { at: Math.min(1, Math.max(0, at)), isOutside: at < 0 || at > 1 };
}
