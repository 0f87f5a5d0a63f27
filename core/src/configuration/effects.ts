/** What changes will do, in sentences. */
import { describeLength } from '../time/durations.ts';
import { KIND_WORDS } from './check.ts';
import { isObject, type Body, type Change, type DefinitionKind, type Plain } from './definitions.ts';
import { diff, fieldAt, type FieldPath } from './diff.ts';

/** How many tags, as far as they are read, depart in nothing from a pace that changes. */
export interface PaceUse {
  readonly tags: number;
  /** Of these, how many keep an interval of their own. */
  readonly ownInterval: number;
}

/** What is needed beside the changes to say what they do. */
export interface Surroundings {
  /** A pace as it is in force, or as the changes leave it. */
  pace(id: number, when: 'before' | 'after'): Body | undefined;
  /** The tags that have a pace and that the changes do not touch. */
  useOf(pace: number): PaceUse;
  /** A value in words: names instead of numbers of definitions. */
  words(kind: DefinitionKind, path: FieldPath, value: Plain | undefined): string;
  /** What a field is called. */
  title(kind: DefinitionKind, path: FieldPath): string;
}

const DEFAULT_INTERVAL = 1000;
const MOST_SENTENCES = 30;

const plural = (count: number, kind: DefinitionKind): string =>
  `${count} ${count === 1 ? KIND_WORDS[kind] : `${KIND_WORDS[kind]}s`.replace(/ys$/, 'ies')}`;

/** Sentences about changes: what comes and goes, equal changes of many together, and the values per second that differ. */
export function effectsOf(changes: readonly Change[], around: Surroundings): string[] {
  const counted = new Map<string, number>();
  const count = (sentence: string): void => void counted.set(sentence, (counted.get(sentence) ?? 0) + 1);
  for (const { kind, before, after } of changes) {
    if (!before) count(`${kind}\0come new`);
    else if (!after) count(`${kind}\0are retired; their history stays`);
    else {
      for (const { path, from, to } of diff(before, after)) {
        const [a, b] = [around.words(kind, path, from), around.words(kind, path, to)];
        count(`${kind}\0${around.title(kind, path)}: ${a} → ${b}`);
      }
    }
  }
  const sentences = [...counted]
    .sort(([, a], [, b]) => b - a)
    .map(([sentence, times]) => {
      const [kind, what] = sentence.split('\0') as [DefinitionKind, string];
      const verb =
        times === 1 ? what.replace(/^come /, 'comes ').replace(/^are retired; their/, 'is retired; its') : what;
      return `${plural(times, kind)}${/^(comes?|are|is) /.test(verb) ? '' : ':'} ${verb}.`;
    });
  const rate = rateChange(changes, around);
  const shown = sentences.slice(0, MOST_SENTENCES);
  if (sentences.length > MOST_SENTENCES) shown.push(`${sentences.length - MOST_SENTENCES} further kinds of changes.`);
  if (Math.abs(rate) >= 0.005) {
    const figure =
      Math.abs(rate) >= 10 ? String(Math.round(Math.abs(rate))) : Number(Math.abs(rate).toFixed(2)).toString();
    shown.push(`About ${figure} value${figure === '1' ? '' : 's'}/s ${rate > 0 ? 'more' : 'fewer'} are read.`);
  }
  return shown;
}

/** By how many values per second more is read with the changes; deadbands not counted. */
export function rateChange(changes: readonly Change[], around: Surroundings): number {
  let rate = 0;
  for (const { kind, id, before, after } of changes) {
    if (kind === 'tag') rate += rateOf(after, around, 'after') - rateOf(before, around, 'before');
    if (kind === 'pace' && before && after) {
      const { tags, ownInterval } = around.useOf(id);
      rate += (tags - ownInterval) * (perSecond(after.intervalMilliseconds) - perSecond(before.intervalMilliseconds));
    }
  }
  return rate;
}

/** As fast as a source answers, which nobody knows beforehand, counts as the fastest that it is asked. */
const FASTEST_INTERVAL = 5;
const perSecond = (interval: Plain | undefined): number =>
  1000 / Math.max(FASTEST_INTERVAL, typeof interval === 'number' ? interval : DEFAULT_INTERVAL);

function rateOf(tag: Body | null, around: Surroundings, when: 'before' | 'after'): number {
  if (!tag || typeof tag.source !== 'number' || tag.paused === true) return 0;
  const own = fieldAt(tag, ['settings', 'intervalMilliseconds']);
  const pace = typeof tag.pace === 'number' ? around.pace(tag.pace, when) : undefined;
  return perSecond(own ?? pace?.intervalMilliseconds);
}

/** A setting in milliseconds, to its last digit: two that differ are never the same words. */
function exactLength(milliseconds: number): string {
  // What words for a person leave out: the third unit, and fractions of a second.
  const smallest = milliseconds >= 86_400_000 ? 3_600_000 : milliseconds >= 3_600_000 ? 60_000 : 1000;
  const isLeftOut = milliseconds >= 1000 && milliseconds % smallest !== 0;
  return isLeftOut ? `${milliseconds / 1000} s` : describeLength(milliseconds * 1000);
}

/** A field's value in words, where it is no reference. */
export function plainWords(path: FieldPath, value: Plain | undefined): string {
  const last = path.at(-1) ?? '';
  if (value === undefined || value === null || value === '') return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number' && last === 'intervalMilliseconds')
    return value === 0 ? 'as fast as it answers' : `every ${exactLength(value)}`;
  if (typeof value === 'number' && last.endsWith('Milliseconds')) return exactLength(value);
  if (typeof value === 'number' && last.endsWith('Seconds')) return describeLength(value * 1_000_000);
  if (isObject(value)) {
    const parts = Object.entries(value).map(([name, held]) => `${name} ${plainWords([name], held)}`);
    return parts.length === 0 ? 'none' : parts.join(', ');
  }
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : value.map((one) => plainWords([], one as Plain)).join(', ');
  return typeof value === 'string' ? value : JSON.stringify(value);
}
