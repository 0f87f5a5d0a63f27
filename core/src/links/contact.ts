/** When a link had its far end, out of what befell it: what its strip is drawn from. */
import type { Span } from '../coverage/spans.ts';

/** What changed whether it had it. `there`: it did from then on; anything else with a reason: not any more. */
export interface ContactEvent {
  /** Microseconds. */
  readonly at: number;
  readonly there: boolean;
  /** Why not. */
  readonly sentence: string;
}

export interface ContactGap extends Span {
  readonly sentence: string;
}

/**
 * @param events in the order of their time; before the first one there was no link.
 * @param now what lies after it is not known yet.
 * @returns the parts of the window in which it had its far end, and those in which it had not, with why.
 */
export function contactIn(
  events: readonly ContactEvent[],
  window: Span,
  now: number,
): { readonly there: Span[]; readonly gaps: ContactGap[] } {
  const there: Span[] = [];
  const gaps: ContactGap[] = [];
  events.forEach(({ at, there: has, sentence }, i) => {
    const from = Math.max(window.from, at);
    const to = Math.min(window.to, events[i + 1]?.at ?? now, now);
    if (to <= from) return;
    if (!has) gaps.push({ from, to, sentence });
    else if (there.at(-1)?.to === from) there[there.length - 1] = { from: there.at(-1)!.from, to };
    else there.push({ from, to });
  });
  return { there, gaps };
}
