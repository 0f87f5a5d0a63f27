/** The engineering range of a tag, in its unit. */
export interface Range {
  readonly low: number;
  readonly high: number;
}
