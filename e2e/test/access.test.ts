/** Who is let in, by the real interface: a key is made, used and revoked; a session is ended; signing out; lanes in Traces. */
import { By } from 'selenium-webdriver';
import { signIn } from '../../launch/browser.mjs';
import { eventually, find, go, openDemo, press, textOf, textsOf, violations, type OpenDemo } from '../src/index.ts';

let opened: OpenDemo;
beforeAll(async () => {
  opened = await openDemo({ withPast: false });
  await signIn(opened.browser.driver, opened.demo.url, opened.settings.password);
}, 300_000);
afterAll(() => opened?.close(), 120_000);

const rows = (): Promise<string[]> => textsOf('main [role=option]');
const choose = async (words: string): Promise<void> => {
  await eventually(`a row says ${words}`, async () => (await rows()).some((row) => row.includes(words)));
  for (const row of await opened.browser.driver.findElements(By.css('main [role=option]')))
    if ((await row.getText()).includes(words)) return row.click();
};
const ask = async (key: string): Promise<number> =>
  (await fetch(`${opened.demo.url}/api/v1/tags`, { headers: { authorization: `Bearer ${key}` } })).status;

test('a key is made for a program, shown once, used, seen to be used, and revoked at once', async () => {
  await go('/access');
  expect(await violations()).toEqual([]);
  await press('Make a key');
  await (await find('aside input')).sendKeys('reports');
  expect(await violations()).toEqual([]);
  await press('Make the key');
  const key = await textOf('[data-made]');
  expect(key).toMatch(/^wl_/);
  expect(await ask(key)).toBe(200);
  await choose('reports');
  await eventually('its use is told', async () => (await textOf('aside')).includes('127.0.0.1'));
  // It asks once before it does it.
  await press('Revoke');
  expect(await ask(key)).toBe(200);
  await press('Revoke it? Whoever uses it is refused at once.');
  await eventually('it is gone', async () => !(await rows()).some((row) => row.includes('reports')));
  expect(await ask(key)).toBe(401);
}, 120_000);

test('another session is seen with its browser and ended; one’s own ends by signing out', async () => {
  const other = await fetch(`${opened.demo.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'user-agent': 'another browser' },
    body: JSON.stringify({ name: 'admin', password: opened.settings.password }),
  });
  const cookie = other.headers.getSetCookie()[0]!.split(';')[0]!;
  const isIn = async (): Promise<boolean> =>
    (await fetch(`${opened.demo.url}/api/v1/session`, { headers: { cookie } })).ok;
  expect(await isIn()).toBe(true);
  await go('/access');
  await choose('another browser');
  await press('End this session');
  await press('End it? admin has to sign in again.');
  await eventually('it is gone', async () => !(await rows()).some((row) => row.includes('another browser')));
  expect(await isIn()).toBe(false);
  await choose('this one');
  await press('Sign out');
  await press('Sign out now?');
  await eventually('the door is shown', async () => (await textOf('main button')) === 'Sign in');
  expect(await violations()).toEqual([]);
}, 120_000);
