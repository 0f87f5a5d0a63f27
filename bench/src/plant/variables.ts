/** Variables as a controller's tree holds them. */

/** A variable in a controller's tree. */
export interface Variable {
  /** The folders in which it lies, outermost first. */
  readonly path: readonly string[];
  readonly name: string;
  /** The tag as which the demo keeps it; most are left for people to take. */
  readonly tag?: string;
  readonly description: string;
  readonly unit: string;
  readonly low: number | null;
  readonly high: number | null;
  readonly type: 'Double' | 'Float' | 'Int32' | 'UInt16' | 'Int64' | 'Boolean' | 'String' | 'DoubleArray';
  readonly states?: readonly string[];
  /** A setting that holds what is written to it; at first, its formula. */
  readonly writable?: boolean;
  /** What it holds at a time (seconds since 1970). */
  readonly at: (seconds: number) => number | string | boolean | bigint | readonly number[];
}

/** A controller of the plant that speaks OPC UA. */
export interface Controller {
  readonly name: string;
  readonly place: string;
  readonly variables: readonly Variable[];
}

export type Draft = Partial<Variable> & Pick<Variable, 'name' | 'description' | 'at'>;

/** Variables of one folder. */
export const within = (path: readonly string[], drafts: readonly Draft[]): Variable[] =>
  drafts.map((draft) => ({ path, unit: '', low: null, high: null, type: 'Double', ...draft }));
