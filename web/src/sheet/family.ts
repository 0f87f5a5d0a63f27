/** What a family that is described, or changed, makes of tags: what is new, changed or leaves, and what stays as somebody set it by hand. Pure. */
import type { DraftChange } from '@wide-ledger/contract';
import { familySteps, isObject, keyOfLabels, nameIn, type Body, type Family, type FamilyStep } from '@wide-ledger/core';
import type { Standing } from '../configuration/drafting.ts';
import { cellOf, fieldsThatDiffer, troublesOf, withCells, type CellTrouble, type References } from './cells.ts';
import type { SheetColumn } from './columns.ts';

/** A field of one tag that is not as its family had it: it stays. */
export interface Exception {
  readonly key: string;
  readonly holds: string;
}

export interface FamilyRow {
  readonly name: string;
  readonly does: 'new' | 'changed' | 'same' | 'leaves' | 'refused';
  readonly exceptions: readonly Exception[];
  readonly troubles: readonly CellTrouble[];
  /** The tag as it would be; null where it cannot, or leaves. */
  readonly body: Body | null;
}

export interface FamilyEffects {
  readonly rows: readonly FamilyRow[];
  /** Of the rows without trouble. @param family its number */
  changes(family: number): readonly DraftChange[];
}

/** Where a family's tags are looked for. */
export interface AmongTags {
  readonly standings: readonly Standing[];
  readonly columns: readonly SheetColumn[];
  readonly references: References;
}

const labelsOf = (body: Body): Readonly<Record<string, string>> =>
  isObject(body.labels) ? (body.labels as Readonly<Record<string, string>>) : {};

/**
 * @param id of the family; null: it is new
 * @param before as it was when its tags were made of it last; null: they never were
 * @throws SyntaxError or RangeError with a sentence where a pattern or the roster is none
 */
export function familyEffects(
  id: number | null,
  before: Family | null,
  after: Family,
  among: AmongTags,
): FamilyEffects {
  const variables = after.roster.map(({ name }) => name);
  const members = new Map(
    among.standings.flatMap((standing): [string, Standing][] =>
      id !== null && standing.body?.family === id ? [[keyOfLabels(labelsOf(standing.body), variables), standing]] : [],
    ),
  );
  const named = new Map(among.standings.map((standing) => [nameIn(standing.body), standing]));
  const rows: FamilyRow[] = [];
  const made: ((family: number) => DraftChange)[] = [];
  for (const step of familySteps(before, after)) {
    const name = (step.after ?? step.before)!.name?.trim() ?? '';
    // One that is there by the name, and of no family, comes into this one.
    const stranger = named.get(name);
    const member = members.get(keyOfLabels(step.labels, variables)) ?? (stranger?.body?.family ? undefined : stranger);
    if (step.after === null) {
      if (!member || member.body?.family !== id) continue;
      rows.push({ name: nameIn(member.body), does: 'leaves', exceptions: [], troubles: [], body: null });
      made.push(() => ({ kind: 'tag', id: member.id, retire: true }));
      continue;
    }
    const { row, change } = memberRow(step, member, id, among);
    rows.push(row);
    if (change) made.push(change);
  }
  return { rows, changes: (family) => made.map((make) => make(family)) };
}

function memberRow(
  step: FamilyStep,
  member: Standing | undefined,
  id: number | null,
  { columns, references }: AmongTags,
): { readonly row: FamilyRow; readonly change: ((family: number) => DraftChange) | null } {
  const held = member?.body ?? {};
  const isOwn = member !== undefined && member.body?.family === id;
  const exceptions: Exception[] = [];
  const said = columns.flatMap((column): (readonly [SheetColumn, string])[] => {
    const text = step.after![column.key];
    if (text === undefined || (!member && text.trim() === '')) return [];
    const old = isOwn ? step.before?.[column.key] : undefined;
    // What is not as the family had it was changed by hand: it stays, unless the family says the same by now.
    if (old !== undefined && differs(held, column, old, references)) {
      if (differs(held, column, text, references))
        exceptions.push({ key: column.key, holds: cellOf(held, column, references) });
      return [];
    }
    return [[column, text]];
  });
  const { body, troubles } = withCells(held, said, references);
  const name = nameIn(body) || (step.after!.name ?? '');
  const all = troubles.length > 0 ? troubles : troublesOf(body, references);
  if (all.length > 0) return { row: { name, does: 'refused', exceptions, troubles: all, body: null }, change: null };
  const labelled = (family: number): Body => ({ ...body, labels: { ...labelsOf(held), ...step.labels }, family });
  if (!member)
    return {
      row: { name, does: 'new', exceptions, troubles: [], body },
      change: (family) => ({ kind: 'tag', create: labelled(family) }),
    };
  const isSame = isOwn && Object.keys(fieldsThatDiffer(held, labelled(id!))).length === 0;
  return {
    row: { name, does: isSame ? 'same' : 'changed', exceptions, troubles: [], body },
    change: isSame ? null : (family) => ({ kind: 'tag', id: member.id, set: fieldsThatDiffer(held, labelled(family)) }),
  };
}

/** Whether a field of a tag is another one than a text says. */
function differs(held: Body, column: SheetColumn, text: string, references: References): boolean {
  const { body, troubles } = withCells(held, [[column, text]], references);
  return troubles.length > 0 || Object.keys(fieldsThatDiffer(held, body)).length > 0;
}
