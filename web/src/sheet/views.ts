/** Arrangements of the sheet that somebody gave a name, kept in their browser. */
import { z } from 'zod';
import type { Arrangement } from './rows.ts';

const PLACE = 'wide-ledger-sheet-views';

const views = z.record(
  z.string(),
  z.object({
    columns: z.array(z.string()),
    words: z.string(),
    sort: z.object({ key: z.string(), descending: z.boolean() }).nullable(),
  }),
);
export type Views = Readonly<Record<string, Arrangement>>;

/** What is kept; nothing where it cannot be read, such as from another version. */
export function keptViews(): Views {
  try {
    return views.parse(JSON.parse(localStorage.getItem(PLACE) ?? '{}'));
  } catch {
    return {};
  }
}

export function keepView(name: string, view: Arrangement | null): Views {
  const others = Object.entries(keptViews()).filter(([one]) => one !== name);
  const next = Object.fromEntries(view ? [...others, [name, view] as const] : others);
  localStorage.setItem(PLACE, JSON.stringify(next));
  return next;
}
