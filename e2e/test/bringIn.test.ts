/** Bringing a source in: from nothing but an address to its values in Traces, by the real interface in Chromium. */
import { appendFileSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { signIn, type Browser } from '../../launch/browser.mjs';
import type { Demo, DemoSettings } from '../../launch/demo.mjs';
import { eventually, find, go, press, pressUntil, textOf, violations, openDemo, type OpenDemo } from '../src/index.ts';

/** The broker of Saltquay's meters, among the devices of the bench. */
const BROKER = 9;

let opened: OpenDemo;
let settings: DemoSettings;
let demo: Demo;
let browser: Browser;

beforeAll(async () => {
  opened = await openDemo({ withPast: false });
  ({ settings, demo, browser } = opened);
  await signIn(browser.driver, demo.url, settings.password);
}, 300_000);

afterAll(() => opened?.close(), 120_000);

const expectAccessible = async (): Promise<void> => expect(await violations()).toEqual([]);
const leafSays = (words: string): Promise<void> =>
  eventually(`the leaf says ${words}`, async () => (await textOf('[data-testid=leaf]')).includes(words));

/** Chooses an option of a field of the form, and waits until the draft has it. */
async function choose(field: string, value: string): Promise<void> {
  const css = `#field-connection-${field}`;
  await (await find(`${css} option[value="${value}"], ${css} option`)).isDisplayed();
  await browser.driver.executeScript(
    `const select = document.querySelector(arguments[0]);
     Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, arguments[1]);
     select.dispatchEvent(new Event('change', { bubbles: true }));`,
    css,
    value,
  );
  await eventually(`${field} is ${value}`, async () => (await (await find(css)).getAttribute('value')) === value);
}

/** @param done what ends the input: in a field of several lines Enter is another line. */
async function type(field: string, value: string, done = Key.ENTER): Promise<void> {
  const box = await find(`#field-connection-${field}`);
  await box.sendKeys(Key.chord(Key.CONTROL, 'a'), value, done);
}

const node = async (id: string): Promise<WebElement> => find(`[data-node="${id}"] [role=treeitem]`);

test('new source → the path fails at its security → put right → a branch taken → in force → values', async () => {
  await begin('Kilnbank', 'opc-ua');
  await expectAccessible();
  await press('Begin in the draft');
  const endpoint = `opc.tcp://127.0.0.1:${settings.devicePort + 2}`;
  await type('endpoint', endpoint);
  await eventually(
    'the endpoint is in the draft',
    async () => (await (await find('#field-connection-endpoint')).getAttribute('value')) === endpoint,
  );
  // A policy without the certificate being trusted: it says which one, and what to do.
  // A bench that has just begun may be too late for the first question; whoever asks it asks again.
  await pressUntil('Ask the server', '[aria-label="Use Basic256Sha256 SignAndEncrypt"]');
  await leafSays('Aes256_Sha256_RsaPss');
  await expectAccessible();
  await (await find('[aria-label="Use Basic256Sha256 SignAndEncrypt"]')).click();
  await eventually(
    'the security is in the draft',
    async () => (await (await find('#field-connection-mode')).getAttribute('value')) === 'SignAndEncrypt',
  );
  await choose('signIn', 'user');
  await type('user', 'operator');
  await eventually(
    'the user is in the draft',
    async () => (await (await find('#field-connection-user')).getAttribute('value')) === 'operator',
  );
  await type('password', 'kiln');
  await eventually('the password is kept', async () =>
    ((await (await find('#field-connection-password')).getAttribute('placeholder')) ?? '').startsWith('kept'),
  );
  await press('Walk the path');
  await leafSays("The server's certificate is not trusted yet");
  await leafSays('Compare the fingerprint');
  await expectAccessible();
  await press('Trust this certificate');
  await eventually('it is trusted in the draft', async () =>
    /^[0-9A-F]{40}$/.test((await (await find('#field-connection-trusted')).getAttribute('value')) ?? ''),
  );
  await press('Walk the path');
  await leafSays('Signed in as operator.');
  await leafSays("the collector's.");
  await press('Take tags from its tree');
  await (await node('ns=1;s=Pumps')).sendKeys(Key.ENTER);
  await (await node('ns=1;s=Pumps.Pump2')).sendKeys(Key.ENTER);
  await (await node('ns=1;s=Pumps.Pump2.Pressure')).sendKeys(Key.SPACE);
  await leafSays('1 tag');
  expect(await (await find('[data-testid=leaf] [aria-label=Names] input')).getAttribute('value')).toBe(
    'Pump-2.Pressure',
  );
  await expectAccessible();
  // The whole branch: what was marked stays marked, the array comes as its elements.
  await (await find('[data-node="ns=1;s=Pumps.Pump2"] button')).click();
  await leafSays('14 tags');
  await press('Take into the draft');
  await eventually('they are in the draft', async () => (await textOf('main')).includes('14 tags are in the draft'));
  // By its unit, over the whole source.
  await (await find('[data-filter]')).sendKeys('µS/cm');
  await eventually('the search finds it', async () =>
    (await textOf('[role=tree]')).includes('Water treatment / Conductivity'),
  );
  await go('/draft?last=300');
  await eventually('the review counts them', async () => (await textOf('main')).includes('14 tags come new'));
  await (await find('#reason')).sendKeys('Kilnbank brought in');
  await press('Put 15 in force');
  await eventually('it is in force', async () => (await textOf('main')).includes('is in force'));
  await go('/tags?last=300&row=Pump-2.Pressure');
  await eventually('its value comes', async () =>
    /\d\.\d/.test(await textOf('[data-tag="Pump-2.Pressure"] [data-now]')),
  );
  await leafSays('ns=1;s=Pumps.Pump2.Pressure');
  await expectAccessible();
  await go('/traces?last=300&tags=Pump-2.Pressure');
  await press('Raw');
  await eventually('Traces lists its values', async () => (await textOf('main')).includes('Good'));
  // What is taken already is said where it could be taken again.
  await go('/sources?last=300');
  await eventually('it is watched', async () => (await textOf('main')).includes('watching'));
}, 300_000);

/** Begins a new source of a kind in the draft. */
async function begin(name: string, kind: string): Promise<void> {
  await go('/sources?last=300&row=new');
  await (await find('[data-testid=leaf] input')).sendKeys(name);
  await browser.driver.executeScript(
    `const select = document.querySelector('[data-testid=leaf] select');
     Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, arguments[0]);
     select.dispatchEvent(new Event('change', { bubbles: true }));`,
    kind,
  );
}

/** Types into a field of the connection, and waits until the draft has it. */
async function fill(field: string, value: string, done = Key.ENTER): Promise<void> {
  await type(field, value, done);
  await eventually(
    `${field} is in the draft`,
    async () => (await (await find(`#field-connection-${field}`)).getAttribute('value')) === value,
  );
}

test('a broker: a message tried, its path, fields taken out of the tree → in force → values', async () => {
  await begin('Meters', 'mqtt');
  await press('Begin in the draft');
  await fill('port', String(settings.devicePort + BROKER));
  await fill('time', 'ts');
  await fill('status', 'quality');
  await press('Catch some');
  const caught = By.xpath(
    '//label[starts-with(normalize-space(.), "Caught")]/select/option[.="saltquay/exchange/1/meter"]',
  );
  await eventually('messages are caught', async () => (await browser.driver.findElements(caught)).length > 0);
  await browser.driver.findElement(caught).click();
  await leafSays('7 values, 0 of them taken');
  await leafSays('temperature.supply');
  await expectAccessible();
  // A pattern that takes for ever, which no limit of the expression's own ends, holds up nothing.
  await fill('expression', `$match('${'a'.repeat(40)}!', /^(a+)+$/)`, Key.TAB);
  await leafSays('The expression did not end within 2 s.');
  await fill('expression', '$', Key.TAB);
  await leafSays('7 values, 0 of them taken');
  await press('Walk the path');
  await leafSays('A broker answers, by MQTT 3.1.1. The line is open');
  await press('Take tags from its tree');
  for (const level of ['saltquay/#', 'saltquay/exchange/#', 'saltquay/exchange/1/#', 'saltquay/exchange/1/meter#'])
    await (await node(level)).sendKeys(Key.ENTER);
  for (const field of ['flow', 'temperature.supply'])
    await (await node(`saltquay/exchange/1/meter#${field}`)).sendKeys(Key.SPACE);
  await leafSays('2 tags');
  await expectAccessible();
  await press('Take into the draft');
  await eventually('they are in the draft', async () => (await textOf('main')).includes('2 tags are in the draft'));
  await go('/draft?last=300');
  await (await find('#reason')).sendKeys('The meters of Saltquay');
  await press('Put 3 in force');
  await eventually('it is in force', async () => (await textOf('main')).includes('is in force'));
  await go('/tags?last=300&row=meter.flow');
  await eventually('its value comes', async () => /\d\.\d/.test(await textOf('[data-tag="meter.flow"] [data-now]')));
  await leafSays('saltquay/exchange/1/meter flow');
}, 300_000);

test('a log: looked at, its columns put right, a series taken → in force → its rows, and those to come', async () => {
  const folder = join(settings.data, 'collector', 'inbox');
  const log = join(folder, 'log.csv');
  const rowOf = (level: string): string => `${new Date().toISOString()};${level};ok\n`;
  mkdirSync(folder, { recursive: true });
  writeFileSync(log, `Zeit;Stand;Notiz\n${rowOf('1,25')}`);
  await begin('Log', 'files');
  await press('Begin in the draft');
  await fill('folder', '/etc');
  await press('Look');
  await leafSays('/etc is not among the folders that this collector may read');
  await fill('folder', folder);
  await press('Look');
  await leafSays('There is no column time. There are: Zeit, Stand, Notiz.');
  await fill('time', 'Zeit');
  await choose('decimal', 'comma');
  await press('Look');
  await leafSays('1 row gives values; 0 of 2 series are taken.');
  await expectAccessible();
  await press('Walk the path');
  await leafSays('log.csv has the columns Zeit, Stand, Notiz.');
  await press('Take tags from its tree');
  await (await node('Stand')).sendKeys(Key.SPACE);
  await leafSays('1 tag');
  await press('Take into the draft');
  await eventually('it is in the draft', async () => (await textOf('main')).includes('1 tag is in the draft'));
  await go('/draft?last=300');
  await (await find('#reason')).sendKeys('The log of the basin');
  await press('Put 2 in force');
  await eventually('it is in force', async () => (await textOf('main')).includes('is in force'));
  await go('/tags?last=300&row=Stand');
  const shows = (value: string): Promise<void> =>
    eventually(`${value} is shown`, async () => (await textOf('[data-tag="Stand"] [data-now]')).includes(value));
  await shows('1.25');
  appendFileSync(log, rowOf('2,5'));
  await shows('2.5');
}, 300_000);
