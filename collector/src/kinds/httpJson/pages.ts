/** Answers that come in pages: each names the next one. */
import type { HttpJsonConnection } from '@wide-ledger/contract';
import { leafAt } from '@wide-ledger/core';
import type { Fault, Surroundings } from '../kind.ts';
import { pathOrNone } from '@wide-ledger/contract';
import { ask } from './service.ts';

/** Pages of one answer; a service that never ends is not followed any further. */
const MOST_PAGES = 100;

/** The pages behind the first, as far as they are given; with the fault where one is not. @throws SourceAway */
export async function furtherPages(
  connection: HttpJsonConnection,
  around: Pick<Surroundings, 'secret'>,
  request: string,
  first: unknown,
): Promise<{ readonly pages: readonly unknown[]; readonly fault: Fault | null }> {
  const way = pathOrNone(connection.next);
  const pages: unknown[] = [];
  if (way === null) return { pages, fault: null };
  const seen = new Set([request]);
  let at = request;
  for (let page = first; ;) {
    const said = leafAt(page, way);
    if (said === undefined || said === null || said === '') return { pages, fault: null };
    const next = typeof said === 'string' ? nextRequest(connection, at, said) : null;
    const refused = (sentence: string): { pages: unknown[]; fault: Fault } => ({
      pages,
      fault: { sentence, code: 'NEXT_PAGE' },
    });
    if (next === null)
      return refused(`The next page of ${request} is said to be at ${shown(said)}, which is not there.`);
    if (seen.has(next)) return refused(`The pages of ${request} go round: ${next} comes twice.`);
    if (seen.size >= MOST_PAGES) return refused(`${request} has more than ${MOST_PAGES} pages.`);
    seen.add(next);
    const answer = await ask(connection, around, next, null);
    if (answer.kind !== 'message')
      return answer.kind === 'refused' ? { pages, fault: answer.fault } : { pages, fault: null };
    pages.push(answer.message);
    [page, at] = [answer.message, next];
  }
}

/** A next page's address as a request to the same service; null where it is none, or somebody else's. */
function nextRequest({ base }: HttpJsonConnection, at: string, said: string): string | null {
  if (!URL.canParse(said, base + at)) return null;
  const { origin, pathname, search } = new URL(said, base + at);
  // Whoever is signed in here tells its secret to nobody else.
  return origin === new URL(base).origin ? pathname + search : null;
}

const shown = (said: unknown): string => (JSON.stringify(said) ?? 'nothing').slice(0, 100);
