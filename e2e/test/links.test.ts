/** A link between two sites, made and watched in the real interface: invited there, made here, carried, and proved the same. */
import { existsSync, readFileSync } from 'node:fs';
import { By, Key, until } from 'selenium-webdriver';
import { openBrowser, signIn, type Browser } from '../../launch/browser.mjs';
import type { RunningSite } from '../../launch/site.mjs';
import {
  SITE_PASSWORD,
  WAIT_MILLISECONDS,
  eventually,
  find,
  go,
  openSites,
  press,
  textOf,
  textsOf,
  violations,
  visit,
  type OpenSites,
} from '../src/index.ts';

let opened: OpenSites;
let near: RunningSite;
let far: RunningSite;
let browser: Browser;

beforeAll(async () => {
  opened = await openSites([
    ['Thornmere', 'Europe/Berlin'],
    ['Region', 'Europe/Berlin'],
  ]);
  [near, far] = opened.sites as [RunningSite, RunningSite];
  browser = await openBrowser(1280, 800);
  for (const site of [near, far]) await signIn(browser.driver, site.url, SITE_PASSWORD);
}, 240_000);

afterAll(async () => {
  await browser?.close();
  await opened?.close();
}, 60_000);

/** A call as the administrator of a site. */
async function call(site: RunningSite, path: string, body: unknown): Promise<void> {
  const signedIn = await fetch(`${site.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'admin', password: SITE_PASSWORD }),
  });
  const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const answer = await fetch(`${site.url}/api/v1${path}`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(await answer.text());
}
const samples = (minutesAgo: number) =>
  Array.from({ length: 20 }, (_, i) => ({
    tag: 'TW-FT-101',
    time: new Date(Date.now() - (minutesAgo - i / 2) * 60_000).toISOString(),
    value: i,
  }));
const fill = async (label: string, text: string): Promise<void> => {
  const path = By.xpath(`//aside//label[starts-with(normalize-space(.), "${label}")]/input`);
  await (await browser.driver.wait(until.elementLocated(path), WAIT_MILLISECONDS)).sendKeys(text);
};
const rows = (): Promise<string[]> => textsOf('main [role=option]');

test('invited at one site, made at the other, carried, compared, and mended', async () => {
  await call(near, '/tags', { name: 'TW-FT-101', unit: 'm³/h', place: 'Thornmere Wells' });
  // From before the link: it does not come by itself.
  await call(near, '/samples', { samples: samples(120) });

  visit(browser, far.url);
  await go('/links');
  await eventually('nothing is there', async () => (await textOf('main')).includes('No other site brings anything'));
  expect(await violations()).toEqual([]);
  await press('Invite a site');
  await fill('Name', 'North');
  expect(await violations()).toEqual([]);
  await press('Make the code');
  const code = await textOf('[data-made]');
  await eventually('it is invited', async () => (await rows()).some((row) => /North.*invited/s.test(row)));

  visit(browser, near.url);
  await go('/links');
  await press('Make a link');
  await fill('Name', 'To the region');
  await fill('Address', far.url);
  await fill('Code', code);
  await fill('Before each name', 'TH.');
  await eventually('names are seen side by side', async () =>
    (await textOf('[aria-label="Names here and there"]')).includes('TH.TW-FT-101'),
  );
  expect(await violations()).toEqual([]);
  await press('Make the link');
  await eventually('it is level', async () => (await rows()).some((row) => /To the region.*Region.*level/s.test(row)));
  await call(near, '/samples', { samples: samples(60) });
  await eventually('what came is carried', async () => /Values\s+20/.test(await textOf('[data-testid=leaf]')));
  expect(await violations()).toEqual([]);

  await press('Compare');
  await eventually('it is told what is missing', async () =>
    /\d+ missing there/.test(await textOf('[data-testid=leaf]')),
  );
  await press('Mend there');
  await eventually('it is the same', async () => /Equal now: .* 40 values/.test(await textOf('[data-testid=leaf]')));
  expect(await violations()).toEqual([]);

  await press('Walk the path');
  await eventually('the path is walked', async () =>
    (await textOf('[data-testid=rungs]')).includes('Both are of version'),
  );
  await browser.driver.findElement(By.xpath('//summary[.="Limit it"]')).click();
  await fill('kB/s', '64');
  await press('Set');
  await eventually('it is limited', async () =>
    (await textOf('[aria-label=Terms]')).includes('64 kB/s from 06:00 to 22:00'),
  );
  await eventually('its log tells', async () =>
    (await textOf('[aria-label="Its log"]')).includes('Changed by admin: limits.'),
  );
  expect(await violations()).toEqual([]);

  await go('/links?as=map');
  const region = await browser.driver.wait(
    until.elementLocated(By.xpath('//*[@data-testid="map"]//button[contains(., "Region")]')),
    WAIT_MILLISECONDS,
  );
  expect(await violations()).toEqual([]);
  await region.click();
  await eventually('a link opens from the map', async () =>
    (await textOf('[data-testid=leaf]')).includes('To the region'),
  );

  visit(browser, far.url);
  await go('/links');
  await eventually('it arrives', async () => (await rows()).some((row) => /North.*Thornmere.*arriving/s.test(row)));
  await (await find('main [role=option]')).click();
  await eventually('with who brings it', async () => (await textOf('[data-testid=leaf]')).includes('from Thornmere'));
  expect(await violations()).toEqual([]);
}, 300_000);

test('a link to files is filled in, tried, and carries', async () => {
  visit(browser, near.url);
  await go('/links');
  await press('Make a link');
  await fill('Name', 'Into files');
  const files = By.xpath('//aside//option[.="files by day"]');
  await (await browser.driver.wait(until.elementLocated(files), WAIT_MILLISECONDS)).click();
  const folder = await find('#far-folder');
  await folder.sendKeys('for-the-office', Key.TAB);
  await press('Try');
  await eventually('ten rows are shown', async () => (await textOf('[aria-label="Ten rows"]')).includes('TW-FT-101'));
  expect(await violations()).toEqual([]);
  await press('Walk the path');
  await eventually('it can be written', async () =>
    (await textOf('[data-testid=rungs]')).includes('can be written to'),
  );
  await press('Make the link');
  await eventually('it is level', async () => (await rows()).some((row) => /Into files.*level/s.test(row)));
  await call(near, '/samples', { samples: samples(60 * 24 * 3) });
  const file = `${near.data}/carried/for-the-office/manifest.json`;
  await eventually('a day is written', () =>
    Promise.resolve(existsSync(file) && readFileSync(file, 'utf8').includes('"samples"')),
  );
}, 120_000);
