/** Checks of changes as a whole, before they are put in force: the same for the screen, the calls and imports. */
import { isObject, nameIn, type Body, type Change, type DefinitionKey, type DefinitionKind } from './definitions.ts';
import type { FieldPath } from './diff.ts';
import { namingProblems } from '../names/rules.ts';
import { checkFormula } from './formulas.ts';
import { rulesOf } from './places.ts';

/** What is in force beside the changes. */
export interface Standing {
  /** The definition that has a name, be it retired; undefined where the name is free. Of places, the name is their path. */
  idByName(kind: DefinitionKind, name: string): number | undefined;
  /** What is in force; undefined where it is not there, or retired. */
  body(kind: DefinitionKind, id: number): Body | undefined;
  /** Tags in force whose names in small letters are this one. */
  tagsSpelt(spelling: string): readonly number[];
  /** How many definitions in force refer to one. Those that the changes touch are not counted. */
  dependants(key: DefinitionKey): number;
}

export interface Finding extends DefinitionKey {
  readonly path: FieldPath;
  /** One that blocks has to be mended before the changes can be put in force. */
  readonly severity: 'blocks' | 'warns';
  readonly sentence: string;
}

/** As people call the kinds. */
export const KIND_WORDS: Readonly<Record<DefinitionKind, string>> = {
  place: 'place',
  pace: 'pace',
  store: 'store',
  source: 'source',
  family: 'family',
  tag: 'tag',
  link: 'link',
};

/** The fields in which a definition refers to others. */
const REFERENCES: Readonly<Record<DefinitionKind, readonly (readonly [field: string, kind: DefinitionKind])[]>> = {
  place: [['parent', 'place']],
  pace: [],
  store: [],
  source: [],
  family: [],
  tag: [
    ['place', 'place'],
    ['pace', 'pace'],
    ['store', 'store'],
    ['source', 'source'],
    ['family', 'family'],
  ],
  link: [],
};

/** The definitions that a body refers to, by the field. */
export function referencesOf(kind: DefinitionKind, body: Body): { field: string; to: DefinitionKey }[] {
  const references: { field: string; to: DefinitionKey }[] = [];
  // The tags of which another one is computed.
  if (kind === 'tag' && isObject(body.inputs)) {
    for (const id of Object.values(body.inputs)) {
      if (typeof id === 'number') references.push({ field: 'inputs', to: { kind: 'tag', id } });
    }
  }
  for (const [field, of] of REFERENCES[kind]) {
    const id = body[field];
    if (typeof id === 'number') references.push({ field, to: { kind: of, id } });
  }
  return references;
}

/** All that is wrong with changes, or worth a look, those that block first. */
export function check(changes: readonly Change[], standing: Standing): Finding[] {
  const findings: Finding[] = [];
  const after = new AfterChanges(changes, standing);
  for (const change of changes) {
    const { kind, id } = change;
    const note = (severity: Finding['severity'], path: FieldPath, sentence: string): void => {
      findings.push({ kind, id, path, severity, sentence });
    };
    if (change.after === null) checkRetiring(change, after, note);
    else checkBody(change, change.after, after, note);
  }
  return findings.sort((a, b) => Number(b.severity === 'blocks') - Number(a.severity === 'blocks'));
}

type Note = (severity: Finding['severity'], path: FieldPath, sentence: string) => void;

function checkRetiring({ kind, id, before }: Change, after: AfterChanges, note: Note): void {
  if (kind === 'store') {
    note('blocks', [], 'A store is not retired while it holds history.');
    return;
  }
  const referring = after.dependants({ kind, id });
  if (referring > 0) {
    const name = nameIn(before);
    note(
      'blocks',
      [],
      `${referring} in force still refer to the ${KIND_WORDS[kind]} ${name}. Change or retire them too.`,
    );
  }
}

function checkBody({ kind, id, before }: Change, body: Body, after: AfterChanges, note: Note): void {
  const name = nameIn(body);
  // One whose database has been made ready has its number already.
  if (kind === 'store' && before === null && after.ownerOf(kind, name) !== id) {
    note('blocks', [], 'A new store is made by its address, on the Stores screen.');
  }
  const same = after.othersNamed(kind, id, body);
  if (same !== undefined) {
    note(
      'blocks',
      ['name'],
      same === 'retired'
        ? `The name ${name} belongs to a ${KIND_WORDS[kind]} that was retired. Take that one back, or choose another name.`
        : `There is another ${KIND_WORDS[kind]} named ${name}.`,
    );
  }
  for (const { field, to } of referencesOf(kind, body)) {
    if (!after.body(to)) note('blocks', [field], `The ${KIND_WORDS[to.kind]} of ${name} is not there, or retired.`);
  }
  if (kind === 'place' && after.liesInItself(id)) note('blocks', ['parent'], `${name} would lie within itself.`);
  if (kind === 'tag') {
    if (before === null || nameIn(before) !== name || before.place !== body.place) checkName(id, body, after, note);
    checkTag(body, name, after, note);
    checkFormula(id, body, (other) => after.body({ kind: 'tag', id: other }), note);
  }
}

/** A name that is new, or new in its place: by the rules there, and beside names that differ only in capital letters. */
function checkName(id: number, body: Body, after: AfterChanges, note: Note): void {
  const name = nameIn(body);
  const rules = rulesOf(body.place, (place) => after.body({ kind: 'place', id: place }));
  const severity = rules?.binding ? 'blocks' : 'warns';
  for (const problem of rules ? namingProblems(name, rules) : []) note(severity, ['name'], `${name}: ${problem}`);
  const other = after.tagSpelt(id, name);
  if (other !== undefined) note(severity, ['name'], `${name} and ${other} are the same but for capital letters.`);
}

function checkTag(body: Body, name: string, after: AfterChanges, note: Note): void {
  const { source, address, settings, pace, low, high, type, stepped } = body;
  if (typeof source === 'number' && address === null) {
    note('blocks', ['address'], `${name} has a source, but no address in it.`);
  }
  const shared = typeof pace === 'number' ? after.body({ kind: 'pace', id: pace }) : undefined;
  const deadband = ((settings as Body | undefined)?.deadband ?? shared?.deadband) as Body | undefined;
  const isPercent = deadband?.kind === 'percent' || deadband?.kind === 'line percent';
  if (isPercent && (low === null || high === null)) {
    note('warns', ['settings', 'deadband'], `${name} has a deadband in percent and no range: every value is kept.`);
  }
  const alongLines = deadband?.kind === 'line' || deadband?.kind === 'line percent';
  if (alongLines && stepped === true && type !== 'text') {
    note(
      'warns',
      ['settings', 'deadband'],
      `${name} is kept along lines, and read as if each value held until the next: what is left out is not seen.`,
    );
  }
  if (type === 'text' && typeof deadband?.kind === 'string' && deadband.kind !== 'none') {
    note('warns', ['settings', 'deadband'], `${name} holds texts: a deadband has no effect.`);
  }
  if (typeof source === 'number' && after.body({ kind: 'source', id: source })?.paused === true) {
    note('warns', ['source'], `The source of ${name} is paused: nothing is read.`);
  }
}

/** What would be in force with the changes. */
class AfterChanges {
  private readonly changed = new Map<string, Change>();
  /** Names within the changes; of places, name and parent. */
  private readonly named = new Map<string, number[]>();
  /** Tags within the changes by their names in small letters. */
  private readonly spelt = new Map<string, number[]>();

  constructor(
    changes: readonly Change[],
    private readonly standing: Standing,
  ) {
    for (const change of changes) {
      this.changed.set(keyOf(change), change);
      if (!change.after) continue;
      const name = this.uniqueName(change.kind, change.after);
      addTo(this.named, name, change.id);
      if (change.kind === 'tag') addTo(this.spelt, nameIn(change.after).toLowerCase(), change.id);
    }
  }

  body(key: DefinitionKey): Body | undefined {
    const change = this.changed.get(keyOf(key));
    return change ? (change.after ?? undefined) : this.standing.body(key.kind, key.id);
  }

  /** Whether another definition has the name that a body claims, or had it until it was retired. */
  othersNamed(kind: DefinitionKind, id: number, body: Body): 'in force' | 'retired' | undefined {
    if (this.named.get(this.uniqueName(kind, body))!.some((other) => other !== id)) return 'in force';
    const other = this.standing.idByName(kind, kind === 'place' ? this.pathOf(body) : nameIn(body));
    // One that the changes rename, or retire, gives its name up; tags and sources that are retired keep theirs.
    if (other === undefined || other === id) return undefined;
    const change = this.changed.get(keyOf({ kind, id: other }));
    if (change) return change.after === null && kind !== 'place' ? 'retired' : undefined;
    return this.standing.body(kind, other) ? 'in force' : 'retired';
  }

  /** The name of another tag that is the same but for capital letters; undefined where there is none. */
  tagSpelt(id: number, name: string): string | undefined {
    const spelling = name.toLowerCase();
    const others = [...(this.spelt.get(spelling) ?? []), ...this.standing.tagsSpelt(spelling)];
    return others
      .filter((other) => other !== id)
      .map((other) => nameIn(this.body({ kind: 'tag', id: other })))
      .find((own) => own !== name && own.toLowerCase() === spelling);
  }

  ownerOf(kind: DefinitionKind, name: string): number | undefined {
    return this.standing.idByName(kind, name);
  }

  dependants(key: DefinitionKey): number {
    let referring = this.standing.dependants(key);
    for (const { kind, after } of this.changed.values()) {
      if (after && referencesOf(kind, after).some(({ to }) => to.kind === key.kind && to.id === key.id)) referring++;
    }
    return referring;
  }

  liesInItself(place: number): boolean {
    const met = new Set<number>();
    for (let at: number | null = place; at !== null;) {
      if (met.has(at)) return true;
      met.add(at);
      const parent: unknown = this.body({ kind: 'place', id: at })?.parent;
      at = typeof parent === 'number' ? parent : null;
    }
    return false;
  }

  /** `site / area / unit`, as far as it is no circle. */
  private pathOf(body: Body): string {
    const names = [nameIn(body)];
    const met = new Set<number>();
    for (let parent = body.parent; typeof parent === 'number' && !met.has(parent);) {
      met.add(parent);
      const above: Body | undefined = this.body({ kind: 'place', id: parent });
      if (!above) break;
      names.unshift(nameIn(above));
      parent = above.parent ?? null;
    }
    return names.join(' / ');
  }

  private uniqueName(kind: DefinitionKind, body: Body): string {
    return kind === 'place'
      ? `place ${JSON.stringify(body.parent ?? null)} ${nameIn(body)}`
      : `${kind} ${nameIn(body)}`;
  }
}

function addTo(among: Map<string, number[]>, key: string, id: number): void {
  const known = among.get(key);
  if (known) known.push(id);
  else among.set(key, [id]);
}

const keyOf = ({ kind, id }: DefinitionKey): string => `${kind} ${id}`;
