/** Names out of where a node lies: `SQ-{2}-{3}.{name}`, its levels counted from the outermost. Pure. */
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

/** @returns the name by a pattern, in the characters that names may have; empty where it holds nothing of the choice. */
export function nameByPattern(pattern: string, choice: Choice): string {
  const { path, node, element } = choice;
  const name = pattern.trim().replace(PLACE, (_, place: string) => {
    if (place === 'name') return plain(node.name);
    if (place === 'element') return plain(element);
    const level = Number(place);
    // Counted from the inside where it is negative: -1 is the folder that it lies in.
    return plain(path[level > 0 ? level - 1 : path.length + level] ?? '');
  });
  return name.replace(/^[^A-Za-z0-9]+|[^A-Za-z0-9]+$/g, '');
}

const plain = (text: string): string => text.replace(/[^A-Za-z0-9_.-]+/g, '-').replace(/^-+|-+$/g, '');
