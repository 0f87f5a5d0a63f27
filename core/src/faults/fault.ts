/** What went wrong on the way to a source or another system, told so that a person can do something about it. */
import type { Status } from '../status/codes.ts';

export interface Explanation {
  /** What happened, as a sentence. */
  readonly what: string;
  /** What to do about it, as a sentence. */
  readonly advice: string;
  /** OPC UA status of the values that are missing for it; absent where none are. */
  readonly status?: (typeof Status)[keyof typeof Status];
}

/** Explanations by the codes of one protocol. */
export type Catalogue<Code extends string | number> = Readonly<Record<Code, Explanation>>;

/** Both sentences as one text. */
export const explain = ({ what, advice }: Explanation): string => `${what} ${advice}`;
