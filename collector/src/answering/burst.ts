/**
 * Reads one tag as often as asked for a short while, over a connection of its own: whatever else is read goes on as it
 * does, and nothing of it is archived.
 */
import type { Burst, BurstPace, ConfiguredTag, NewSource } from '@wide-ledger/contract';
import { isBad } from '@wide-ledger/core';
import { SourceAway, type Kind, type Sample, type Session, type Surroundings } from '../kinds/kind.ts';

/** @throws SourceAway where the source does not answer, or is none that is asked for values */
export async function readBurst(
  kind: Kind,
  source: NewSource,
  around: Surroundings,
  tag: ConfiguredTag,
  { everyMilliseconds, seconds }: BurstPace,
): Promise<Burst> {
  const session = await kind.open(source, around);
  try {
    const read = readerOf(session, tag);
    const startedAt = new Date().toISOString();
    const times: number[] = [];
    const values: (number | null)[] = [];
    const begun = performance.now();
    const since = (): number => performance.now() - begun;
    for (let beat = 0; beat * everyMilliseconds < 1000 * seconds;) {
      const { value, status, fault } = await read();
      if (fault) throw new SourceAway(fault.sentence, fault.code, status);
      times.push(Math.round(since() * 1000) / 1000);
      values.push(isBad(status) || value === null || typeof value === 'string' ? null : Number(value));
      // Beats that pass while an answer is on its way are left out: nothing is asked twice at once.
      beat = Math.max(beat + 1, Math.ceil(since() / everyMilliseconds));
      const pause = beat * everyMilliseconds - since();
      if (pause > 0) await new Promise((done) => setTimeout(done, pause));
    }
    return { startedAt, times, values };
  } finally {
    session.close();
  }
}

/** How a session is asked for the tag once. @throws SourceAway where it cannot be */
function readerOf(session: Session, tag: ConfiguredTag): () => Promise<Sample> {
  if (session.acquires === 'poll') return async () => (await session.read([tag]))[0]!;
  if (!session.readNow)
    throw new SourceAway('A source of this kind is not asked for values: it tells them.', 'NOT_ASKED', 0);
  return () => session.readNow!(tag);
}
