import type { BrowsedNode } from '@wide-ledger/contract';

/** A node with the names of what it lies in, outermost first. */
export interface Placed {
  readonly node: BrowsedNode;
  readonly path: readonly string[];
}

/** Something that can become a tag: a variable, or one element of it. */
export interface Choice extends Placed {
  readonly element: string;
}
