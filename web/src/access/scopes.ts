/** What a key may do, in words. */
import type { Scope } from '@wide-ledger/contract';

export const SCOPE_WORDS: Readonly<Record<Scope, string>> = {
  read: 'read history, and everything that is shown',
  write: 'add values, bring files in, annotate',
  correct: 'correct and remove values',
  collect: 'deliver as a collector',
  carry: 'carry history from another site',
  operate: 'write values to devices',
  admin: 'change the configuration, and who may what',
};
