/**
 * A family: alike tags described once, by a pattern for each of their fields and a roster over which these are expanded. What
 * each of its tags is by the roster are its labels; by them it is known again when the family changes. Pure.
 */
import { expandPattern } from './pattern.ts';
import { assignmentsOf, type Assignment, type RosterWay, type Variable } from './roster.ts';

export interface Family {
  /** Patterns, by what they are patterns of. */
  readonly cells: Readonly<Record<string, string>>;
  readonly roster: readonly Variable[];
  readonly way: RosterWay;
}

/** What a family says of one of its tags. */
export interface FamilyMember {
  readonly labels: Assignment;
  readonly texts: Readonly<Record<string, string>>;
}

/** What becomes of one tag when a family changes; null: it is not there, before or after. */
export interface FamilyStep {
  readonly labels: Assignment;
  readonly before: FamilyMember['texts'] | null;
  readonly after: FamilyMember['texts'] | null;
}

/** By what a tag is known among those of its family, whatever else it is labelled with. */
export function keyOfLabels(labels: Assignment, variables: readonly string[]): string {
  return JSON.stringify(variables.toSorted().map((name) => [name, labels[name] ?? null]));
}

/** Everything that a family says. @throws SyntaxError or RangeError with a sentence where a pattern or the roster is none */
export function membersOf({ cells, roster, way }: Family): FamilyMember[] {
  const patterns = Object.entries(cells);
  return assignmentsOf(roster, way).map((labels) => ({
    labels,
    texts: Object.fromEntries(patterns.map(([key, pattern]) => [key, expandPattern(pattern, labels)])),
  }));
}

/** What becomes of each tag, those that stay first, in the order of the roster. @throws as {@link membersOf} */
export function familySteps(before: Family | null, after: Family): FamilyStep[] {
  const variables = after.roster.map(({ name }) => name);
  const keyOf = ({ labels }: FamilyMember): string => keyOfLabels(labels, variables);
  const known = new Map((before ? membersOf(before) : []).map((member) => [keyOf(member), member]));
  const steps = membersOf(after).map((member): FamilyStep => {
    const old = known.get(keyOf(member));
    known.delete(keyOf(member));
    return { labels: member.labels, before: old?.texts ?? null, after: member.texts };
  });
  const gone = [...known.values()].map(({ labels, texts }): FamilyStep => ({ labels, before: texts, after: null }));
  return [...steps, ...gone];
}
