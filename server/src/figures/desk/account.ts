/** A site as it speaks of itself where its history goes: the desk in short. Pure. */
import type { Desk, SiteAccount } from '@wide-ledger/contract';

const MOST_CONCERNS = 20;
const LONGEST_CONCERN = 500;

export const accountOf = ({ zone, tags, valuesPerSecond, sources, freeBytes, concerns }: Desk): SiteAccount => ({
  zone,
  tags,
  valuesPerSecond,
  sources: sources.length,
  away: sources.filter(({ state }) => state?.state === 'away').length,
  freeBytes,
  concerns: concerns.slice(0, MOST_CONCERNS).map(({ sentence }) => sentence.slice(0, LONGEST_CONCERN)),
});
