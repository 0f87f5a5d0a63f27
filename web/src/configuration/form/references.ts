import type { DefinitionKind } from '@wide-ledger/core';

/** Fields that refer to definitions of a kind. */
export const REFERENCES: Readonly<Record<string, DefinitionKind>> = {
  place: 'place',
  parent: 'place',
  pace: 'pace',
  store: 'store',
  source: 'source',
  family: 'family',
};
