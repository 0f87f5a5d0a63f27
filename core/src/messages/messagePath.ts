/** Ways into a message: `flow`, `meter.values[3]`, `["odd name"].x`, and `rows[*].v`, which is each of a list. */

/** A step: the name of a field, a place in a list, or each of a list (null). */
export type Step = string | number | null;
export type MessagePath = readonly Step[];

const STEP = /^(?:\.?([A-Za-z_$][\w$-]*)|\[(\d+)\]|\[(\*)\]|\[("(?:[^"\\]|\\.)*")\])/;

/** Reads a path; the empty one is the message itself. @returns undefined where it is none. */
export function parseMessagePath(text: string): MessagePath | undefined {
  const steps: Step[] = [];
  for (let rest = text.trim(); rest !== '';) {
    const found = STEP.exec(rest);
    if (!found || (steps.length === 0 && rest.startsWith('.'))) return undefined;
    const [whole, name, place, each, quoted] = found;
    if (quoted !== undefined) {
      const said = unquoted(quoted);
      if (said === undefined) return undefined;
      steps.push(said);
    } else steps.push(name ?? (each === undefined ? Number(place) : null));
    rest = rest.slice(whole.length);
  }
  // One list is gone through, not lists of lists.
  return steps.filter((step) => step === null).length > 1 ? undefined : steps;
}

function unquoted(quoted: string): string | undefined {
  try {
    return JSON.parse(quoted) as string;
  } catch {
    return undefined;
  }
}

/** A path as it is written. */
export const messagePathText = (path: MessagePath): string =>
  path.reduce<string>((text, step) => {
    if (step === null) return `${text}[*]`;
    if (typeof step === 'number') return `${text}[${step}]`;
    if (!/^[A-Za-z_$][\w$-]*$/.test(step)) return `${text}[${JSON.stringify(step)}]`;
    return text === '' ? step : `${text}.${step}`;
  }, '');

/** What lies at the end of a way; undefined where it does not lead anywhere. A step of null is not gone. */
export function leafAt(message: unknown, path: MessagePath): unknown {
  let at = message;
  for (const step of path) {
    if (typeof at !== 'object' || at === null || step === null) return undefined;
    // Nothing that an object has by birth is a field of a message, nor is the length of a list.
    if ((typeof step === 'number') !== Array.isArray(at) || !Object.hasOwn(at, step)) return undefined;
    at = (at as Record<string | number, unknown>)[step];
  }
  return at;
}

const MOST_LEAVES = 2_000;
const DEEPEST = 32;

/** The ways to everything in a message that is a value by itself, in the order in which they stand. */
export function leavesOf(message: unknown): MessagePath[] {
  const leaves: MessagePath[] = [];
  const look = (at: unknown, path: MessagePath): void => {
    if (leaves.length >= MOST_LEAVES) return;
    if (typeof at !== 'object' || at === null || path.length >= DEEPEST) leaves.push(path);
    else if (Array.isArray(at)) at.forEach((one, i) => look(one, [...path, i]));
    else for (const [name, one] of Object.entries(at)) look(one, [...path, name]);
  };
  look(message, []);
  return leaves;
}
