/** Names and labels out of where a node lies: `SQ-{2}-{3}.{name}`, its levels counted from the outermost. Pure. */
import { labelName } from '@wide-ledger/contract';
import type { Choice } from './choice.ts';

const PLACE = /\{(\d+|-\d+|name|element)\}/g;

/** What a pattern may hold, with what each is for one choice. */
export function partsOf({ path, node, element }: Choice): readonly (readonly [place: string, is: string])[] {
  return [
    ...path.map((level, i) => [`{${i + 1}}`, level] as const),
    ['{name}', node.name],
    ...(element === '' ? [] : [['{element}', element] as const]),
  ];
}

/** A pattern with what each of its places is for a choice. @param as how that is written */
function filled(pattern: string, { path, node, element }: Choice, as: (text: string) => string): string {
  return pattern.trim().replace(PLACE, (_, place: string) => {
    if (place === 'name') return as(node.name);
    if (place === 'element') return as(element);
    const level = Number(place);
    // Counted from the inside where it is negative: -1 is the folder that it lies in.
    return as(path[level > 0 ? level - 1 : path.length + level] ?? '');
  });
}

/** @returns the name by a pattern, in the characters that names may have; empty where it holds nothing of the choice. */
export const nameByPattern = (pattern: string, choice: Choice): string =>
  filled(pattern, choice, plain).replace(/^[^A-Za-z0-9]+|[^A-Za-z0-9]+$/g, '');

/** What is wrong with labels as they were written, such as `meter={2}; line=A`; null: nothing. */
export function labelsProblem(pattern: string): string | null {
  const wrong = labelParts(pattern).find(([name, value]) => value === undefined || !labelName.safeParse(name).success);
  return wrong ? `Write labels as meter={2}; line=A: "${wrong.join('=')}" is none.` : null;
}

/** The labels of one choice by a pattern, each as it is there; those that are empty are left out. */
export function labelsByPattern(pattern: string, choice: Choice): Readonly<Record<string, string>> {
  const labels = labelParts(pattern).map(
    ([name, value = '']) => [name, filled(value, choice, (text) => text)] as const,
  );
  return Object.fromEntries(labels.filter(([, value]) => value !== ''));
}

const labelParts = (pattern: string): (readonly [name: string, value?: string])[] =>
  pattern
    .split(';')
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .map((part) => {
      const at = part.indexOf('=');
      return at < 0 ? [part] : [part.slice(0, at).trim(), part.slice(at + 1).trim()];
    });

const plain = (text: string): string => text.replace(/[^A-Za-z0-9_.-]+/g, '-').replace(/^-+|-+$/g, '');
