/** What kinds of doubts are called, and what each of them may come of. */
import type { Doubt } from '@wide-ledger/contract';

export const KIND_WORDS: Readonly<Record<Doubt['kind'], { readonly name: string; readonly says: string }>> = {
  stuck: {
    name: 'stands still',
    says: 'An instrument that is stuck, blocked or simulated, or a tag whose deadband hides what moves. Its neighbours are the tags of the same place.',
  },
  standing: {
    name: 'counter stands',
    says: 'A meter whose pulses are lost, or that has stopped. Heat and mass balances over this time do not add up.',
  },
  beyond: {
    name: 'out of range',
    says: 'A sensor that is broken or wired wrongly, a wrong scaling or data type, or a range that is too narrow.',
  },
  doubled: {
    name: 'came twice',
    says: 'Something is delivered by two ways, or a source gives one time stamp to two values.',
  },
  backwards: {
    name: 'stamps run back',
    says: 'A clock that was set back, summer time taken for winter time, or a buffer that is emptied behind newer values.',
  },
  ahead: {
    name: 'stamps ahead',
    says: 'The clock of the source is fast, or its time zone is wrong.',
  },
  'too slow': {
    name: 'read too seldom',
    says: 'Its fastest movement is not drawn by what is read of it: peaks are missed, or another movement seems to be there. What was recorded can tell of none that is faster than two of its samples.',
  },
  wasteful: {
    name: 'read too often',
    says: 'Its fastest movement has so many samples that most of them say nothing new: the line, the source and the archive carry them for nothing.',
  },
  drifting: {
    name: 'clock drifts',
    says: 'The clock of the source is not set by any other. In time its values will stand at wrong moments.',
  },
};
