/** Walking the way to a far end, rung by rung, until the first that fails. */
import type { LinkRung, LinkRungName } from '@wide-ledger/contract';
import { clockAhead, explain, networkFault } from '@wide-ledger/core';
import { lookup } from 'node:dns/promises';
import { connect as connectTcp } from 'node:net';
import { connect as connectTls } from 'node:tls';
import { FarAway } from './farEnd.ts';

/** What was found on a rung; with `but` it is to be minded. Where it fails, FarAway is thrown. */
export interface Found {
  readonly sentence: string;
  readonly but?: boolean;
}
export type LinkSteps = readonly (readonly [rung: LinkRungName, step: () => Promise<Found> | Found])[];

export async function* walkRungs(steps: LinkSteps): AsyncGenerator<LinkRung> {
  let broken = false;
  for (const [rung, step] of steps) {
    const one: LinkRung = broken
      ? { rung, outcome: 'not reached', sentence: '', code: null, milliseconds: null }
      : await climb(rung, step);
    broken ||= one.outcome === 'failed';
    yield one;
  }
}

async function climb(rung: LinkRungName, step: () => Promise<Found> | Found): Promise<LinkRung> {
  const began = performance.now();
  const so = (outcome: LinkRung['outcome'], sentence: string, code: string | null): LinkRung => ({
    rung,
    outcome,
    sentence,
    code,
    milliseconds: Math.round((performance.now() - began) * 10) / 10,
  });
  try {
    const { sentence, but } = await step();
    return so(but ? 'passed, but' : 'passed', sentence, null);
  } catch (error) {
    const { message, code } = error as Error & { code?: string };
    return so('failed', error instanceof FarAway ? message : `This rung failed: ${message}`, code ?? null);
  }
}

export interface Place {
  readonly host: string;
  readonly port: number;
}

/** Milliseconds. */
const PATIENCE = 5_000;

const farAway = (error: unknown, place: Place): FarAway => {
  const { code = 'UNEXPECTED' } = error as { code?: string };
  return Object.assign(new FarAway(explain(networkFault(code, place))), { code });
};

/** The rungs of the network itself: the name resolves, and somebody listens at the port. */
export const networkSteps = (place: Place): LinkSteps => [
  [
    'name',
    async () => {
      const { host } = place;
      const found = await lookup(bare(host), { all: true }).catch((error: unknown) => {
        throw farAway(error, place);
      });
      const addresses = found.map(({ address }) => address).join(', ');
      return { sentence: addresses === host ? `${host} is an address.` : `${host} is ${addresses}.` };
    },
  ],
  [
    'port',
    () =>
      new Promise<Found>((done, fail) => {
        const socket = connectTcp({ host: bare(place.host), port: place.port, timeout: PATIENCE });
        const leave = (end: () => void): void => {
          socket.destroy();
          end();
        };
        socket.once('connect', () => leave(() => done({ sentence: `Port ${place.port} accepts connections.` })));
        socket.once('timeout', () => leave(() => fail(farAway({ code: 'ETIMEDOUT' }, place))));
        socket.once('error', (error) => leave(() => fail(farAway(error, place))));
      }),
  ],
];

/** Names of addresses of version 6 stand in brackets in a URL. */
const bare = (host: string): string => host.replace(/^\[(.*)\]$/, '$1');
const onThisMachine = (host: string): boolean => /^(localhost|127\..*|::1)$/.test(bare(host));

/** Whether what is said is encrypted, and for whom the certificate is. */
export const encryptionStep =
  ({ host, port }: Place, encrypted: boolean) =>
  (): Promise<Found> | Found => {
    if (!encrypted)
      return onThisMachine(host)
        ? { sentence: 'The line is open; it does not leave this machine.' }
        : {
            sentence:
              'The line is open: keys and history can be read, and changed, on the way. Use TLS, or a tunnel between the sites.',
            but: true,
          };
    return new Promise<Found>((done, fail) => {
      const name = bare(host);
      const socket = connectTls({ host: name, port, servername: name, timeout: PATIENCE }, () => {
        const { subject, valid_to: ends } = socket.getPeerCertificate();
        const days = Math.floor((Date.parse(ends) - Date.now()) / 86_400_000);
        const owner = String(subject.CN ?? name);
        socket.destroy();
        done(
          days < 30
            ? { sentence: `The certificate of ${owner} ends in ${days} days. Renew it there.`, but: true }
            : { sentence: `Encrypted; the certificate of ${owner} is good for ${days} days.` },
        );
      });
      const refuse = (sentence: string, code: string): void => {
        socket.destroy();
        fail(Object.assign(new FarAway(sentence), { code }));
      };
      socket.once('timeout', () => refuse(`${host}:${port} does not speak TLS in time.`, 'ETIMEDOUT'));
      socket.once('error', (error: NodeJS.ErrnoException) =>
        refuse(
          `The encrypted channel to ${host}:${port} does not come about: ${error.message}. Put the authority of its certificate into NODE_EXTRA_CA_CERTS, or mend the certificate there.`,
          error.code ?? 'TLS',
        ),
      );
    });
  };

/** By how many milliseconds another clock is ahead, by what it showed between two moments of this one. */
export const clockOf = (shown: string, asked: number, answered: number): { ahead: number; uncertain: number } => ({
  ahead: clockAhead(Date.parse(shown), asked, answered),
  uncertain: (answered - asked) / 2,
});

/** Milliseconds by which two clocks may differ. */
const CLOCKS_DIFFER = 2_000;

/** Whether two clocks differ by more than can be measured, and more than matters. */
export const clocksDiffer = ({ ahead, uncertain }: ReturnType<typeof clockOf>): boolean =>
  Math.abs(ahead) > CLOCKS_DIFFER + uncertain;

/** What a difference of clocks means. */
export function clockFound(clock: ReturnType<typeof clockOf>): Found {
  const seconds = Math.abs(clock.ahead) / 1000;
  const about = `${seconds.toFixed(seconds < 10 ? 1 : 0)} s`;
  if (!clocksDiffer(clock)) return { sentence: `Both clocks agree within ${about}.` };
  return {
    sentence: `The clock there is ${about} ${clock.ahead > 0 ? 'ahead' : 'behind'}. Values keep their own times; but what lies ahead of the clock there is set aside. Set both clocks by one time server.`,
    but: true,
  };
}
