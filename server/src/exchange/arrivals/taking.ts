/** Entries that a link brings, on their way into the journal: from where it stands to where they reach, once. */
import {
  carriedEntry,
  carriedStretch,
  type CarriedAnswer,
  type CarriedEntry,
  type CarriedStretch,
} from '@wide-ledger/contract';
import { tagsIn, unpackBundle, unpackEntry, type Frame } from '@wide-ledger/core';
import type { Pool } from 'pg';
import { admitFrame, mayRemove, readable, type Journal, type NewEntry } from '../../archive/index.ts';
import type { Catalogue } from '../../configuration/index.ts';
import { ProblemError, Turns, badRequest, nowMicros } from '../../ground/index.ts';
import { goesOn, type Arrival } from './arrivals.ts';
import { numbersOf } from './declaring.ts';

/** Samples that are looked at before others have their turn. */
const SAMPLES_A_TURN = 20_000;

/** @throws ProblemError 409 where the stretch does not go on where the arrival stands: its position is to be asked for. */
export async function take(
  home: Pool,
  journal: Journal,
  catalogue: Catalogue,
  arrival: Arrival,
  self: string,
  body: Uint8Array,
  bytes: number,
): Promise<CarriedAnswer> {
  const { stretch, entries } = unpacked(body);
  if (!goesOn(arrival, stretch)) throw elsewhere(arrival);
  const numbers = await numbersOf(home, arrival, numbersIn(entries));
  await catalogue.refresh();
  const ready: NewEntry[] = [];
  const turns = new Turns(SAMPLES_A_TURN);
  for (const { description, frame } of entries) {
    // Around a ring and back: it is here already.
    if (description.via.includes(self)) continue;
    ready.push(...admitted(catalogue, arrival, numbers, description, frame));
    await turns.after(frame.times.length);
  }
  const { accepted, setAside } = countsOf(ready);
  const figures = [arrival.id, stretch.epoch, stretch.position, stretch.print, accepted, bytes, setAside];
  const moved = `UPDATE arrival SET epoch = $2, position = $3, print = $4, samples = samples + $5, bytes = bytes + $6,
      set_aside = set_aside + $7, contact_at = now(), samples_at = CASE WHEN $5 > 0 THEN now() ELSE samples_at END
    WHERE id = $1 AND epoch = $8 AND position = $9`;
  // The position moves with the entries or not at all; of two requests that go on at one place, one does.
  const move = async (asked: Pick<Pool, 'query'>): Promise<void> => {
    const { rowCount } = await asked.query(moved, [...figures, arrival.epoch, arrival.position]);
    if (rowCount !== 1) throw elsewhere(arrival);
  };
  if (ready.length > 0) await journal.appendAll(ready, move);
  else await move(home);
  return { accepted, setAside };
}

/**
 * Takes history that is no stretch of the journal: what was missing here, or differed. Done again it changes nothing.
 * @param body a bundle of carried entries.
 */
export async function takeHistory(
  home: Pool,
  journal: Journal,
  catalogue: Catalogue,
  arrival: Arrival,
  body: Uint8Array,
): Promise<CarriedAnswer> {
  const entries = readable(() => entriesOf(unpackBundle(body)));
  const numbers = await numbersOf(home, arrival, numbersIn(entries));
  await catalogue.refresh();
  const ready = entries.flatMap(({ description, frame }) => admitted(catalogue, arrival, numbers, description, frame));
  if (ready.length > 0) await journal.appendAll(ready);
  return countsOf(ready);
}

/** The link's numbers of the tags that occur in entries. */
const numbersIn = (entries: readonly Carried[]): number[] => [
  ...new Set(entries.flatMap(({ frame }) => tagsIn(frame.tags!))),
];

const countsOf = (entries: readonly NewEntry[]): CarriedAnswer => ({
  accepted: entries.reduce((sum, { frame }) => sum + (frame?.times.length ?? 0), 0),
  setAside: entries.reduce((sum, { refused }) => sum + refused.length, 0),
});

const elsewhere = ({ name }: Arrival): ProblemError =>
  new ProblemError(
    409,
    'It does not go on here',
    `The link ${name} stands elsewhere in the journal by now. Ask for its position, and go on there.`,
    'ELSEWHERE',
  );

interface Carried {
  readonly description: CarriedEntry;
  readonly frame: Frame;
}

function unpacked(body: Uint8Array): { readonly stretch: CarriedStretch; readonly entries: readonly Carried[] } {
  return readable(() => {
    const [head, ...rest] = unpackBundle(body);
    if (!head) throw badRequest('The bundle is empty: it begins with the stretch of the journal that it is of.');
    return { stretch: carriedStretch.parse(unpackEntry(head).description), entries: entriesOf(rest) };
  });
}

const entriesOf = (packed: readonly Uint8Array[]): Carried[] =>
  packed.map((one, i) => {
    const { description, frame } = unpackEntry(one);
    if (!frame?.tags) throw badRequest(`Entry ${i + 1} holds no samples, or does not say whose they are.`);
    return { description: carriedEntry.parse(description), frame };
  });

/** An entry with this site's numbers for its tags: numbers and texts apart, and what cannot be kept beside them. */
function admitted(
  catalogue: Catalogue,
  arrival: Arrival,
  numbers: ReadonlyMap<number, number>,
  { writer, origin, reason, via }: CarriedEntry,
  frame: Frame,
): NewEntry[] {
  const here = { ...frame, tags: frame.tags!.map((number) => numbers.get(number) ?? 0) };
  const { frames, refused } = admitFrame(here, catalogue.tagById, catalogue.keepsSince, nowMicros(), mayRemove(origin));
  const parts: readonly (Frame | null)[] = frames.length > 0 ? frames : [null];
  return parts.map((part, i) => ({
    writer: `${arrival.site_name}: ${writer}`.slice(0, 200),
    sequence: null,
    origin,
    frame: part,
    watches: [],
    outages: [],
    refused: i === 0 ? refused : [],
    reason: reason ?? undefined,
    via: [...via, arrival.site],
  }));
}
