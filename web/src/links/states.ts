/** How links stand, in a word and a colour. */
import type { ArrivingLink, SendingLink } from '@wide-ledger/contract';

export const SENDING_COLOURS: Readonly<Record<SendingLink['state'], string>> = {
  carrying: 'text-verdigris',
  level: 'text-verdigris',
  away: 'text-madder',
  paused: 'text-ink-2',
  starting: 'text-ochre',
};

export const ARRIVING_COLOURS: Readonly<Record<ArrivingLink['state'], string>> = {
  invited: 'text-ink-2',
  'never sent anything': 'text-ochre',
  arriving: 'text-verdigris',
  silent: 'text-madder',
  revoked: 'text-madder',
};
