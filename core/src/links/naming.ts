/**
 * How tags are called at the far end of a link: rules, one after the other, and single names that count instead. Two tags
 * never come by one name: a collision is found before anything is carried, and so is a name that cannot be one.
 */

import { TEXT_SUMMARIES, summaryName, type CarriedSummary } from './summaries.ts';

/** What a tag's name may be: letters, digits, dot, dash and underscore, beginning with a letter or a digit. */
export const TAG_NAME = /^[A-Za-z0-9][A-Za-z0-9._-]{0,119}$/;

export type NamingRule =
  /** Put before. */
  | { readonly kind: 'prefix'; readonly text: string }
  /** Every occurrence of a text, as it stands, becomes another. */
  | { readonly kind: 'replace'; readonly find: string; readonly by: string }
  /** With {name} and {place}, whose parts come together with dots, what cannot be in a name left out. */
  | { readonly kind: 'pattern'; readonly pattern: string };

export interface Naming {
  readonly rules: readonly NamingRule[];
  /** By the name here, what it is called there. */
  readonly single: Readonly<Record<string, string>>;
}

/** As much of a tag as its name at the far end depends on. */
export interface NamedTag {
  readonly name: string;
  readonly place: string;
  /** Of its values: text has few summaries. */
  readonly type?: string;
}

export interface FarName<Tag> {
  readonly tag: Tag;
  /** Of the tag; null: every value of it. */
  readonly summary: CarriedSummary | null;
  readonly farName: string;
  /** Whether it has another name there. */
  readonly renamed: boolean;
  /** Why it cannot be carried by this name, as a sentence; null: it can. */
  readonly problem: string | null;
}

/** A place as a part of a name. */
const placeInName = (place: string): string =>
  place
    .split(' / ')
    .map((part) => part.replace(/[^A-Za-z0-9._-]+/g, ''))
    .filter(Boolean)
    .join('.');

function applied(rule: NamingRule, name: string, place: string): string {
  switch (rule.kind) {
    case 'prefix':
      return rule.text + name;
    case 'replace':
      return rule.find === '' ? name : name.replaceAll(rule.find, () => rule.by);
    case 'pattern':
      return rule.pattern.replaceAll(/\{(name|place)\}/g, (_, what) => (what === 'name' ? name : placeInName(place)));
  }
}

/** What a tag is called at the far end. */
export const farNameOf = ({ name, place }: NamedTag, { rules, single }: Naming): string =>
  Object.hasOwn(single, name) ? single[name]! : rules.reduce((so, rule) => applied(rule, so, place), name);

/** What of each tag is carried: every value (null), summaries, or both. */
export const carriedKinds = (detail: boolean, summaries: readonly CarriedSummary[]): (CarriedSummary | null)[] => [
  ...(detail ? [null] : []),
  ...summaries,
];

/** All names side by side, in the order of the tags. @param kinds as {@link carriedKinds} gives them. */
export function farNames<Tag extends NamedTag>(
  tags: readonly Tag[],
  naming: Naming,
  kinds: readonly (CarriedSummary | null)[] = [null],
): FarName<Tag>[] {
  const named = tags.flatMap((tag) => {
    const name = farNameOf(tag, naming);
    return kinds
      .filter((summary) => summary === null || tag.type !== 'text' || TEXT_SUMMARIES.has(summary.aggregate))
      .map((summary) => ({ tag, summary, farName: summary ? `${name}.${summaryName(summary)}` : name }));
  });
  const claimed = new Map<string, Tag[]>();
  for (const { tag, farName } of named) {
    const known = claimed.get(farName);
    if (known) known.push(tag);
    else claimed.set(farName, [tag]);
  }
  return named.map((one) => {
    const { tag, summary, farName } = one;
    const others = claimed.get(farName)!.filter((other) => other !== tag);
    return { ...one, renamed: summary !== null || farName !== tag.name, problem: problemOf(farName, others) };
  });
}

function problemOf(farName: string, others: readonly NamedTag[]): string | null {
  if (!TAG_NAME.test(farName))
    return `"${farName}" cannot be a name: letters, digits, dot, dash and underscore, 120 at most, beginning with a letter or a digit.`;
  if (others.length === 0) return null;
  const [first] = others;
  return others.length === 1
    ? `${first!.name} would be called ${farName}, too.`
    : `${first!.name} and ${others.length - 1} others would be called ${farName}, too.`;
}
