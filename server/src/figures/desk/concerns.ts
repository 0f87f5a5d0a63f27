/** What needs a person, most pressing first. Pure. */
import type { Desk } from '@wide-ledger/contract';

type Concern = Desk['concerns'][number];

const failure = (sentence: string, to: string): Concern => ({ weight: 'failure', sentence, to });
const warning = (sentence: string, to: string): Concern => ({ weight: 'warning', sentence, to });
const times = (count: number): string => (count === 1 ? 'once' : `${count} times`);

/** What goes on by itself, and why it waits; null while it does not. */
export interface Troubles {
  readonly posting: string | null;
  readonly deriving: string | null;
}

/** @param leastFree bytes that are to be free on the disk. */
export function concernsOf(desk: Desk, { posting, deriving }: Troubles, leastFree: number): Concern[] {
  return [
    ...(posting === null ? [] : [failure(`Posting is waiting: ${posting}`, '/')]),
    ...(deriving === null ? [] : [failure(`Computed tags are waiting: ${deriving}`, '/tags')]),
    ...ofRoom(desk, leastFree),
    ...ofQuarantine(desk),
    ...ofCollectors(desk),
    ...desk.sources.flatMap(({ name, state }) =>
      state?.state === 'away' ? [failure(`${name} is away. ${state.sentence}`, '/sources')] : [],
    ),
    ...desk.links.map(({ name, sentence }) => failure(`The link ${name}: ${sentence}`, '/links')),
    ...desk.restarts.map(({ program, count, last }) =>
      warning(
        `${program} ended by itself and was started again, ${times(count)}, last at ${last.slice(11, 16)} UTC.`,
        '/',
      ),
    ),
    ...desk.jobs.flatMap(({ state, title, sentence }) =>
      state === 'failed' ? [warning(`${title} failed. ${sentence}`, '/')] : [],
    ),
    ...ofSetAside(desk),
  ];
}

function ofRoom({ freeBytes }: Desk, least: number): Concern[] {
  if (freeBytes === null || freeBytes >= least) return [];
  const megabytes = Math.floor(freeBytes / 1024 / 1024);
  const sentence = `Only ${megabytes} MB are free on the server's disk. When it is full nothing more can be kept: make room.`;
  return [freeBytes < least / 10 ? failure(sentence, '/stores') : warning(sentence, '/stores')];
}

function ofQuarantine({ quarantine }: Desk): Concern[] {
  const [first] = quarantine;
  if (!first) return [];
  const many = quarantine.length === 1 ? 'An entry is' : 'Entries are';
  return [
    failure(
      `${many} in quarantine, with ${first.samples} values of ${first.tags.slice(0, 3).join(', ')}.`,
      '/#quarantine',
    ),
  ];
}

function ofCollectors({ collectors, sources }: Desk): Concern[] {
  if (collectors.length === 0)
    return sources.length === 0 ? [] : [failure('No collector has reported since the server started.', '/sources')];
  return collectors.flatMap(({ name, present, trouble, putAwayEntries, spooledEntries, spooledSamples }) => {
    if (!present) return [failure(`Collector ${name} is silent.`, '/sources')];
    if (trouble !== null) return [failure(trouble, '/sources')];
    if (putAwayEntries > 0) {
      const many = putAwayEntries === 1 ? 'an entry' : `${putAwayEntries} entries`;
      return [failure(`Collector ${name} has put away ${many} that this server refuses for good.`, '/sources')];
    }
    return spooledEntries > 20
      ? [warning(`Collector ${name} holds ${spooledSamples} values on its spool.`, '/sources')]
      : [];
  });
}

function ofSetAside({ setAside: { total } }: Desk): Concern[] {
  if (total === 0) return [];
  return [warning(`${total === 1 ? '1 value was' : `${total} values were`} set aside.`, '/#set-aside')];
}
