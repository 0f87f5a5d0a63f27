/** The path check of another site: name, port, answer, sign-in, its tags, a first value, and its clock. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import { SourceAway, type SourceOf, type Surroundings } from '../kind.ts';
import { knock } from '../knock.ts';
import { resolveName } from '../resolve.ts';
import { Site, placeOf } from './site.ts';

const NOT_LET_IN = ['HTTP_401', 'HTTP_403'];
/** By so much clocks may differ before it is told. Milliseconds. */
const DIFFERS = 2000;

export function walkPath(
  { connection }: SourceOf<'ledger'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const site = new Site(connection, around);
  const place = placeOf(connection);
  let notLetIn: SourceAway | null = null;
  let [total, first] = [0, ''];
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  return walk(
    [
      ['name', () => resolveName(place.host, place.port)],
      [
        'port',
        async () => {
          await knock(place, connection.timeoutMilliseconds);
          return done(`${place.host}:${place.port} accepts connections.`);
        },
      ],
      [
        'answer',
        async () => {
          try {
            const { tags, total: all } = await site.tags('0', 1);
            [total, first] = [all, tags[0]?.name ?? ''];
          } catch (error) {
            if (!(error instanceof SourceAway) || !NOT_LET_IN.includes(error.code)) throw error;
            notLetIn = error;
          }
          const isSafe = connection.url.startsWith('https:');
          return done(
            `A Wide Ledger answers.${isSafe ? '' : ' The line is open: anybody on the way can read what passes.'}`,
          );
        },
      ],
      ['sign-in', () => (notLetIn ? Promise.reject(notLetIn) : Promise.resolve(done('The key may read.')))],
      ['browse', () => Promise.resolve(done(`It has ${total === 1 ? '1 tag' : `${total} tags`}.`))],
      ['value', async () => done(first === '' ? 'It has no tags yet.' : await newestOf(site, first))],
      ['clock', () => Promise.resolve(done(clockWords(site.clockSkew ?? 0)))],
    ],
    told,
  );
}

async function newestOf(site: Site, tag: string): Promise<string> {
  const asked = { tag, from: 0, to: Date.now() * 1000, limit: 1, newestFirst: true };
  const { value } = await site.raw(asked).next();
  const newest = value?.samples[0];
  return newest ? `${tag} was ${String(newest.value)} at ${newest.time}.` : `${tag} has no values yet.`;
}

function clockWords(skew: number): string {
  if (Math.abs(skew) < DIFFERS) return 'Both clocks agree within two seconds.';
  const seconds = Math.round(Math.abs(skew) / 100) / 10;
  return `Its clock is ${seconds} s ${skew > 0 ? 'ahead' : 'behind'}: times are as it has them.`;
}
