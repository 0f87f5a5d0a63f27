/** The demo with all of its sites: each reads what is its own, and the region gets it over a line that can fail. */
import type { LinksAnswer } from '@wide-ledger/contract';
import { setTimeout as wait } from 'node:timers/promises';
import { forgetDemo, startDemo, type Demo, type DemoSettings } from '../../launch/demo.mjs';
import { demoSettings } from '../src/demoSettings.ts';

let settings: DemoSettings;
let demo: Demo;

beforeAll(async () => {
  settings = await demoSettings({ withNeighbours: true, withPast: false });
  demo = await startDemo(settings);
}, 240_000);

afterAll(async () => {
  await demo?.stop();
  forgetDemo(settings);
}, 60_000);

const cookies = new Map<string, string>();
async function links(url: string): Promise<LinksAnswer> {
  if (!cookies.has(url)) {
    const signedIn = await fetch(`${url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'admin', password: settings.password }),
    });
    cookies.set(url, signedIn.headers.getSetCookie()[0]!.split(';')[0]!);
  }
  const answer = await fetch(`${url}/api/v1/links`, { headers: { cookie: cookies.get(url)! } });
  return (await answer.json()) as LinksAnswer;
}
const region = (): string => demo.neighbours.find(({ name }) => name === 'Emberfold Region')!.url;

test('three sites carry to the region, each by a link of its own', async () => {
  expect(demo.neighbours.map(({ name }) => name)).toEqual(['Kilnbank', 'Saltquay', 'Emberfold Region']);
  for (;;) {
    const { arriving } = await links(region());
    // Without its past, the demo's own site has nothing configured yet.
    const carried = arriving.filter(({ state, tags, samples }) => state === 'arriving' && tags > 10 && samples > 0);
    if (carried.length >= 2) break;
    await wait(200);
  }
  expect((await links(region())).arriving.map(({ name }) => name)).toEqual(['Kilnbank', 'Saltquay', 'Thornmere']);
}, 120_000);
