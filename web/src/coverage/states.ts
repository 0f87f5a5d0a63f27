/** What became of a gap, in a word and a colour. */
import type { Gap } from '@wide-ledger/contract';

export interface StateWord {
  readonly word: string;
  readonly colour: string;
  /** In a sentence, for who wants to know what that means. */
  readonly says: string;
}

/** @param gap a stretch that was not watched. */
export function stateOf({ state, cause, recoverable, fate, explained, tags, goneTags = 0 }: Gap): StateWord {
  if (state === 'recovered' && goneTags > 0)
    return {
      word: 'partly recovered',
      colour: 'text-ochre',
      says: `Recovered for ${tags - goneTags} of ${tags} tags. For ${goneTags}, some values are gone for good: the source no longer holds them.`,
    };
  if (state === 'recovered')
    return {
      word: 'recovered',
      colour: 'text-verdigris',
      says: fate || 'The source had kept it: its values are in the archive, of origin backfilled.',
    };
  if (state === 'being recovered')
    return { word: 'being recovered', colour: 'text-ochre', says: 'The collector is fetching it from the source.' };
  if (explained)
    return { word: 'explained', colour: 'text-slate', says: fate || 'Somebody said why nothing was watched.' };
  if (state === 'gone') return { word: 'gone for good', colour: 'text-madder', says: fate };
  if (cause === 'paused')
    return { word: 'not asked for', colour: 'text-ink-2', says: 'Somebody wanted it so: no duty was missed.' };
  if (cause === 'set aside')
    return {
      word: 'set aside',
      colour: 'text-ochre',
      says: 'It was watched: what came could not be kept, and stands in the list of what was set aside.',
    };
  if (cause === 'no values')
    return {
      word: 'estimated',
      colour: 'text-ink-2',
      says: 'An estimate from the times of the values: nobody records what is watched of this tag.',
    };
  if (cause === 'link')
    return {
      word: 'on its way',
      colour: 'text-ochre',
      says: 'It is not known here yet: the other site tells, once its link is there again, what was watched.',
    };
  return recoverable
    ? { word: 'recoverable', colour: 'text-ochre', says: 'The source keeps a past of its own: it may still have it.' }
    : { word: 'not buffered', colour: 'text-ink-2', says: 'The source keeps no past: what was not read is lost.' };
}
