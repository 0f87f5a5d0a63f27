/** What is done to a site: one fault after the other, drawn from a seed. */
import { request } from 'node:http';
import { setTimeout as wait } from 'node:timers/promises';
import { PROGRAMS, type SoakedSite } from './site.ts';

export interface Fault {
  readonly name: string;
  readonly strike: () => Promise<void>;
}

/** Numbers from 0 to 1 that a seed determines (mulberry32, public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Asks for something large and reads nothing of it for a while. */
function idleDownload(url: string, key: string, path: string, seconds: number): Promise<void> {
  return new Promise((done) => {
    const asking = request(url + path, { headers: { authorization: `Bearer ${key}` } }, (answer) => answer.pause());
    asking.on('error', () => undefined);
    asking.on('close', () => done());
    asking.end();
    setTimeout(() => asking.destroy(), seconds * 1000);
  });
}

const HOSTILE: readonly ((url: string) => Promise<unknown>)[] = [
  (url) => fetch(`${url}/api/v1/samples`, { method: 'POST', body: `[${'[],'.repeat(3_000_000)}[]]` }),
  (url) =>
    fetch(`${url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'x'.repeat(90), password: 'y'.repeat(400) }),
    }),
  (url) => fetch(`${url}/api/v1/%FF%00?${'a'.repeat(15_000)}`),
];

const COSTLY = [
  '/api/v1/history/processed?tag=Soak0&aggregate=Average&interval=P1000Y&from=now&to=now%2B99999999999w',
  '/api/v1/history/processed?tag=Soak0&aggregate=Average&interval=PT1S&from=1990-01-01T00:00:00Z&to=now',
  '/api/v1/history/export?kind=raw&tags=TW-FT-101,TW-TT-203,TW-PT-102&from=now-400d&to=now&format=xlsx',
  '/api/v1/coverage?from=now-400d&to=now',
];

export function faultsOf(site: SoakedSite, key: string, random: () => number): Fault[] {
  const seconds = (least: number, most: number): number => least + random() * (most - least);
  const faults: Fault[] = PROGRAMS.flatMap((program): Fault[] => [
    {
      name: `${program} is killed`,
      strike: () => {
        site.signal(program, 'SIGKILL');
        return wait(2000);
      },
    },
    {
      name: `${program} is frozen`,
      strike: async () => {
        site.signal(program, 'SIGSTOP');
        await wait(1000 * seconds(2, 8));
        site.signal(program, 'SIGCONT');
      },
    },
  ]);
  faults.push(
    {
      name: 'twenty downloads are not read',
      strike: async () => {
        const path =
          '/api/v1/history/export?kind=raw&tags=TW-FT-101,TW-TT-203,TW-PT-102&from=now-400d&to=now&format=csv';
        await Promise.all(Array.from({ length: 20 }, () => idleDownload(site.url, key, path, seconds(3, 10))));
      },
    },
    {
      name: 'a hundred streams are not read',
      strike: async () => {
        const path = '/api/v1/live?tags=1,2,3,4,5,6,7,8';
        await Promise.all(Array.from({ length: 100 }, () => idleDownload(site.url, key, path, seconds(3, 10))));
      },
    },
    {
      name: 'strangers send nonsense',
      strike: async () => {
        for (let i = 0; i < 60; i++) await HOSTILE[i % HOSTILE.length]!(site.url).catch(() => undefined);
      },
    },
    {
      name: 'costly questions are asked at once',
      strike: async () => {
        const headers = { authorization: `Bearer ${key}` };
        const ask = async (path: string): Promise<void> => {
          const answer = await fetch(site.url + path, { headers, signal: AbortSignal.timeout(20_000) }).catch(
            () => null,
          );
          await answer?.arrayBuffer().catch(() => undefined);
        };
        await Promise.all(Array.from({ length: 12 }, (_, i) => ask(COSTLY[i % COSTLY.length]!)));
      },
    },
  );
  if (site.hasOwnDisk) {
    faults.push({
      name: 'the disk is full',
      strike: async () => {
        site.fillDisk();
        await wait(1000 * seconds(3, 8));
        site.emptyDisk();
      },
    });
  }
  return faults;
}
