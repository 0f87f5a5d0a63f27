/** The way to another site: what is on it, and whether the site there can take what is carried. */
import type { CarryPosition, LinkRung } from '@wide-ledger/contract';
import { z } from 'zod';
import { FarAway } from './farEnd.ts';
import type { Outward } from './outward.ts';
import { clockFound, clockOf, encryptionStep, networkSteps, walkRungs, type Found } from './rungs.ts';

/** Milliseconds. */
const PATIENCE = 5_000;
/** Bytes below which a far end is nearly full. */
const NEARLY_FULL = 2e9;

const health = z.object({ status: z.string(), version: z.string() });

/**
 * Through a proxy its name and its port are all that can be seen of the network.
 * @param version of this site. @param position asks there with the link's key; null where the link is not made yet.
 */
export async function* walkToSite(
  url: string,
  version: string,
  outward: Outward,
  position: (() => Promise<CarryPosition>) | null,
): AsyncGenerator<LinkRung> {
  const { hostname: host, port, protocol } = new URL(url);
  const encrypted = protocol === 'https:';
  const place = { host, port: Number(port || (encrypted ? 443 : 80)) };
  let there: string | null = null;
  let standing: { readonly told: CarryPosition; readonly clock: ReturnType<typeof clockOf> } | null = null;
  const told = (say: (standing: CarryPosition) => Found) => (): Found =>
    standing ? say(standing.told) : { sentence: 'Is seen when the site has joined.' };
  yield* walkRungs([
    ...networkSteps(outward.through ?? place),
    [
      'encryption',
      outward.through
        ? () => ({
            sentence: `Through the proxy ${outward.through!.host}; ${encrypted ? 'encrypted to the far end' : 'the line is open'}.`,
            but: !encrypted,
          })
        : encryptionStep(place, encrypted),
    ],
    [
      'answer',
      async () => {
        const answer = await outward.fetch(`${url.replace(/\/$/, '')}/api/v1/health`, {
          redirect: 'manual',
          signal: AbortSignal.timeout(PATIENCE),
        });
        if (answer.status >= 300 && answer.status < 400)
          throw new FarAway(`It sends on to ${answer.headers.get('location')}. Use that address.`);
        const said = health.safeParse(await answer.json().catch(() => null)).data;
        if (!said) throw new FarAway('Something answers there, but it is no site of Wide Ledger. Check the address.');
        there = said.version;
        if (said.status !== 'ok') return { sentence: 'A site answers there, but it is not well.', but: true };
        return { sentence: 'A site of Wide Ledger answers.' };
      },
    ],
    [
      'sign-in',
      async () => {
        if (!position) return { sentence: 'Is seen when the site has joined, with the code.' };
        const asked = Date.now();
        const said = await position();
        standing = { told: said, clock: clockOf(said.now ?? new Date().toISOString(), asked, Date.now()) };
        return { sentence: `${said.site.name} knows this link.` };
      },
    ],
    ['permission', told(() => ({ sentence: 'The key may carry, and nothing else.' }))],
    [
      'clock',
      () =>
        standing?.told.now === undefined
          ? {
              sentence: position
                ? 'The far end is older and does not tell its time.'
                : 'Is seen when the site has joined.',
            }
          : clockFound(standing.clock),
    ],
    ['space', told(spaceFound)],
    ['version', () => versionFound(version, there!)],
  ]);
}

function spaceFound({ freeBytes: free = null, retentionMonths: months }: CarryPosition): Found {
  const kept =
    months === undefined || months === null
      ? 'Nothing is let go there by age.'
      : `History is kept there for ${months} ${months === 1 ? 'month' : 'months'}: what is older is not carried.`;
  if (free === null) return { sentence: kept };
  const room = `${(free / 1e9).toFixed(1)} GB are free there.`;
  return free < NEARLY_FULL
    ? { sentence: `${room} Make room before history is carried. ${kept}`, but: true }
    : { sentence: `${room} ${kept}` };
}

/** Versions as numbers, so that 0.10 is behind 0.9. */
function versionFound(here: string, there: string): Found {
  if (here === there) return { sentence: `Both are of version ${here}.` };
  const newer = here.localeCompare(there, 'en', { numeric: true }) > 0;
  return {
    sentence: `The far end is of version ${there}, this one of ${here}. ${newer ? 'Bring the far end up to date first' : 'This is well: the far end is the newer one'}.`,
    ...(newer ? { but: true } : {}),
  };
}
