/** Nodes of the trees of sources. */
import type { BrowsedNode } from '@wide-ledger/contract';

/** What a node has that holds no value. */
export const NO_VALUE: Omit<BrowsedNode, 'node' | 'name' | 'hasBelow'> = {
  description: '',
  type: null,
  typeWords: '',
  unit: '',
  low: null,
  high: null,
  states: null,
  value: null,
  quality: null,
  elements: [],
  taken: [],
};

/** A node below which others lie. */
export const folder = (node: string, name: string, description: string): BrowsedNode => ({
  ...NO_VALUE,
  node,
  name,
  description,
  hasBelow: true,
});
