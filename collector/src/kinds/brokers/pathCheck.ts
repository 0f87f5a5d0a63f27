/** The path check of a broker: name, port, answer, sign-in, whether anything may be read, and what came first. */
import type { BrokerConnection, PathCheck, Rung } from '@wide-ledger/contract';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import { SourceAway } from '../kind.ts';
import { knock } from '../knock.ts';
import { resolveName } from '../resolve.ts';
import { placeOf } from './broker.ts';

/** Codes that say that a broker is there, and lets nobody in so. */
const REFUSED = 'MQTT_';

/**
 * @param topics that are subscribed to. @param catchSome what passes there. @throws SourceAway
 * @param first what came of that, in words.
 */
export function walkToBroker<Caught>(
  connection: BrokerConnection,
  topics: readonly string[],
  catchSome: () => Promise<Caught>,
  first: (caught: Caught) => Outcome,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const { host, port } = placeOf(connection);
  const { encrypted, version, user, timeoutMilliseconds } = connection;
  let refusal: SourceAway | null = null;
  let caught: Caught;
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  return walk(
    [
      ['name', () => resolveName(host, port)],
      [
        'port',
        async () => (await knock({ host, port }, timeoutMilliseconds), done(`${host}:${port} accepts connections.`)),
      ],
      [
        'answer',
        async () => {
          try {
            caught = await catchSome();
          } catch (error) {
            if (!(error instanceof SourceAway) || !error.code.startsWith(REFUSED)) throw error;
            refusal = error;
          }
          const open = encrypted ? '' : ' The line is open: anybody on the way can read what passes.';
          return done(`A broker answers, by MQTT ${version}.${open}`);
        },
      ],
      [
        'sign-in',
        () =>
          refusal
            ? Promise.reject(refusal)
            : Promise.resolve(done(user === '' ? 'It lets anybody in.' : `Signed in as ${user}.`)),
      ],
      ['browse', () => Promise.resolve(done(`It takes the subscription to ${topics.join(', ')}.`))],
      ['value', () => Promise.resolve(first(caught))],
    ],
    told,
  );
}
