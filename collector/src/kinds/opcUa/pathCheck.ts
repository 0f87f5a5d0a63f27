/** The path check of an OPC UA source: name, port, answer, channel, sign-in, browse, first value, clock. */
import type { PathCheck, Rung } from '@wide-ledger/contract';
import { walk, type Outcome } from '../../connection/pathWalk.ts';
import type { SourceOf, Surroundings } from '../kind.ts';
import { resolveName } from '../resolve.ts';
import { browseNode, OBJECTS } from './browse.ts';
import { readSkew } from './clockSkew.ts';
import { Approach } from './connecting.ts';
import { isSecured } from './endpoints.ts';

/** From here on a difference of clocks is said to matter. Milliseconds. */
const SKEW_THAT_MATTERS = 2000;
/** How many folders are opened in search of a first value. */
const MOST_FOLDERS = 40;

export async function walkPath(
  { connection }: SourceOf<'opc-ua'>,
  around: Surroundings,
  told: (rung: Rung) => void,
): Promise<PathCheck> {
  const approach = Approach.begin(connection, around);
  const { host, port } = approach.place;
  const done = (sentence: string): Outcome => ({ passed: true, sentence });
  try {
    return await walk(
      [
        ['name', () => resolveName(host, port)],
        ['port', async () => (await approach.knock(), done(`${host}:${port} accepts connections.`))],
        ['answer', async () => done(`It speaks OPC UA and offers ${(await approach.ask()).join(', ')}.`)],
        [
          'channel',
          async () => {
            await approach.openChannel();
            return done(
              isSecured(connection)
                ? `The channel is open: ${connection.policy}, ${connection.mode}. The server's certificate is trusted, and it took ours, fingerprint ${approach.ownFingerprint}.`
                : 'The channel is open, without security: anybody on the way can read and change what passes.',
            );
          },
        ],
        [
          'sign-in',
          async () => {
            await approach.signIn();
            const who = { anonymous: 'anonymously', user: `as ${connection.user}`, certificate: 'by certificate' };
            return done(`Signed in ${who[connection.signIn]}.`);
          },
        ],
        ['browse', () => browse(approach)],
        ['value', () => firstValue(approach)],
        ['clock', () => clock(approach)],
      ],
      told,
    );
  } finally {
    await approach.close();
  }
}

async function browse(approach: Approach): Promise<Outcome> {
  const { nodes } = await browseNode(approach, OBJECTS);
  const names = nodes.slice(0, 5).map(({ name }) => name);
  if (nodes.length === 0) {
    return {
      passed: false,
      sentence: 'The tree is empty for this user. Check what the server allows it to see.',
      code: 'EMPTY_TREE',
    };
  }
  return {
    passed: true,
    sentence: `The tree begins with ${names.join(', ')}${nodes.length > 5 ? ' and others' : ''}.`,
  };
}

/** The first variable with a Good value outside the server's description of itself. */
async function firstValue(approach: Approach): Promise<Outcome> {
  const waiting = [OBJECTS];
  for (let opened = 0; waiting.length > 0 && opened < MOST_FOLDERS; opened++) {
    const { nodes } = await browseNode(approach, waiting.shift()!);
    const found = nodes.find(({ type, quality }) => type !== null && quality === 'Good');
    if (found)
      return {
        passed: true,
        sentence: `${found.name} (${found.node}) holds ${found.value} ${found.unit}`.trim() + ', Good.',
      };
    waiting.push(...nodes.filter(({ hasBelow, name }) => hasBelow && name !== 'Server').map(({ node }) => node));
  }
  return {
    passed: false,
    sentence: 'No variable with a Good value was found. Check what the server allows this user to read.',
    code: 'NO_VALUE',
  };
}

async function clock({ session }: Approach): Promise<Outcome> {
  const skew = await readSkew(session!);
  if (skew === null) return { passed: true, sentence: 'The server does not tell its time.' };
  const words = `The server's clock is ${Math.abs(skew)} ms ${skew < 0 ? 'behind' : 'ahead of'} the collector's.`;
  return {
    passed: true,
    sentence:
      Math.abs(skew) < SKEW_THAT_MATTERS ? words : `${words} Its time stamps will be off by that much: set its clock.`,
  };
}
