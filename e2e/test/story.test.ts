/** The story of the first slice, told by the real interface in Chromium. */
import axe from 'axe-core';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { By, Key, until, type WebElement } from 'selenium-webdriver';
import { openBrowser, signIn, type Browser } from '../../launch/browser.mjs';
import { forgetDemo, startDemo, type Demo, type DemoSettings } from '../../launch/demo.mjs';
import { freePort } from '../../launch/ground.mjs';
import { WAIT_MILLISECONDS as WAIT } from '../src/index.ts';

let settings: DemoSettings;
let demo: Demo;
let browser: Browser;

beforeAll(async () => {
  // Ports apart from each other: the device takes the one after its own as well.
  const [port, databasePort, benchPort, devicePort] = await Promise.all([
    freePort(),
    freePort(),
    freePort(),
    freePort(),
  ]);
  settings = {
    data: mkdtempSync(join(tmpdir(), 'wide-ledger-story-')),
    port,
    databasePort,
    benchPort,
    devicePort,
    password: 'only-for-tests',
    readerPassword: 'reader-for-tests',
    databaseUrl: undefined,
    log: 'silent',
    withPast: true,
  };
  demo = await startDemo(settings);
  browser = await openBrowser();
}, 90_000);

afterAll(async () => {
  await browser?.close();
  await demo?.stop();
  forgetDemo(settings);
}, 60_000);

const find = (css: string): Promise<WebElement> => browser.driver.wait(until.elementLocated(By.css(css)), WAIT);
const textOf = async (css: string): Promise<string> => (await find(css)).getText();
const go = (path: string): Promise<void> => browser.driver.get(demo.url + path);
const attribute = async (css: string, name: string): Promise<string> =>
  (await (await find(css)).getAttribute(name)) ?? '';

async function eventually(what: string, check: () => Promise<boolean>): Promise<void> {
  await browser.driver.wait(async () => check().catch(() => false), WAIT, `waited in vain until ${what}`);
}

async function press(name: string): Promise<void> {
  const button = await browser.driver.wait(
    until.elementLocated(By.xpath(`//button[normalize-space()="${name}"]`)),
    WAIT,
  );
  await button.click();
}

/** No violation of WCAG 2.2 A and AA that axe-core can find. */
async function expectAccessible(): Promise<void> {
  await browser.driver.executeScript(axe.source);
  const violations = await browser.driver.executeAsyncScript<
    { id: string; nodes: { html: string; failureSummary?: string }[] }[]
  >(
    `const done = arguments[arguments.length - 1];
     axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }).then((result) => done(result.violations));`,
  );
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]!.html} ${nodes[0]!.failureSummary ?? ''}`)).toEqual([]);
}

test('a wrong password gets a sentence, the right one the desk', async () => {
  await go('/');
  await (await find('input[name=password]')).sendKeys('wrong', Key.ENTER);
  expect(await textOf('[role=alert]')).toContain('Name or password is wrong.');
  await expectAccessible();
  await signIn(browser.driver, demo.url, settings.password);
  await eventually(
    'values are read',
    async () => Number((await textOf('[data-figure="values a second"]')).replace(/[^\d.]/g, '')) > 10,
  );
  await expectAccessible();
});

test('values move', async () => {
  await go('/tags?last=300&row=TW-PT-110');
  const first = await textOf('[data-tag="TW-PT-110"] [data-now]');
  await eventually('the wave moves', async () => (await textOf('[data-tag="TW-PT-110"] [data-now]')) !== first);
  expect(await textOf('[data-testid=leaf]')).toContain('float32 DCBA');
  await expectAccessible();
});

test('the path check climbs four rungs, and says where it stops', async () => {
  await go('/sources?last=300&row=1');
  await press('Walk the path');
  const rungs = await textOf('[data-testid=rungs]');
  for (const words of ['Name', 'Port', 'Protocol answer', 'First value', 'Unit 1 speaks Modbus'])
    expect(rungs).toContain(words);
  expect(await textOf('[data-testid=leaf]')).toContain('Punctuality of reads');
  await expectAccessible();
  await go('/sources?last=300&row=new');
  const closed = String(await freePort());
  for (const [name, value] of [
    ['name', 'Nobody'],
    ['host', '127.0.0.1'],
    ['port', closed],
  ] as const) {
    const field = await find(`input[name=${name}]`);
    await field.clear();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value);
  }
  await press('Walk the path');
  const broken = await textOf('[data-testid=rungs]');
  expect(broken).toContain(`Nothing answers on 127.0.0.1:${closed}. The host is up (it refused at once)`);
  expect(broken).toContain('ECONNREFUSED');
});

test('Traces draws the wave; its hourly time-weighted average is its middle, its maximum its crest', async () => {
  await go('/traces?last=7200&tags=TW-PT-110');
  // Each column is asked for by itself: the row is whole when both figures stand in it.
  await eventually('the hour’s average is 620 and its maximum 660', async () => {
    const rows = await browser.driver.findElements(By.css('[data-testid=processed] tr'));
    const cells = await rows[1]!.findElements(By.css('td'));
    const [average, maximum] = await Promise.all([cells[1]!.getText(), cells[2]!.getText()]);
    return Math.abs(Number(average) - 620) < 0.5 && Math.abs(Number(maximum) - 660) < 0.5;
  });
  await press('Raw values');
  await eventually(
    'raw values are listed',
    async () => (await browser.driver.findElements(By.css('[data-testid=raw] [data-sample]'))).length > 5,
  );
  await expectAccessible();
});

test('cut: the strip opens and the trend stops; restored: the gap, its cause and its length; SQL finds the same rows', async () => {
  await go('/bench?last=60');
  await expectAccessible();
  await press('Cut the line');
  await eventually('the line is cut', async () => (await textOf('[data-testid=line]')) === 'line cut');
  await go('/traces?last=60&tags=TW-PT-110');
  await eventually('the strip opens', async () => Number(await attribute('[data-gaps]', 'data-gaps')) > 0);
  const stopped = await attribute('[data-testid=trend]', 'data-last');
  await go('/');
  await eventually('the desk says so', async () =>
    (await textOf('[aria-label="What needs you"]')).includes('Nothing answers on 127.0.0.1'),
  );
  await expectAccessible();
  await go('/bench?last=60');
  await press('Restore the line');
  await go('/traces?last=60&tags=TW-PT-110');
  await eventually(
    'the trend goes on',
    async () => Number(await attribute('[data-testid=trend]', 'data-last')) > Number(stopped) + 3000,
  );

  await go('/coverage?last=300');
  await eventually('the gap is listed', async () =>
    (await textOf('[aria-label="Gaps in this window"]')).includes('Nothing answers on'),
  );
  const row = await find('[data-gap]');
  expect(await row.findElement(By.css('[data-length]')).getText()).toMatch(/^\d+ s$|^\d+ min/);
  await row.click();
  await eventually('the leaf tells the cause', async () =>
    (await textOf('[data-testid=leaf]')).includes('the source did not answer'),
  );
  await expectAccessible();

  await go('/traces?last=60&tags=TW-PT-110&below=raw');
  await press('● live');
  await eventually('it is held', async () => (await textOf('[data-testid=live]')).includes('held'));
  const shown = await attribute('[data-testid=raw] [data-sample]', 'data-sample');
  const reader = new URL(demo.databaseUrl);
  reader.username = 'history_reader';
  reader.password = settings.readerPassword;
  const client = new pg.Client(reader.href);
  await client.connect();
  const { rows } = await client.query<{ value: number | null; quality: string; origin: string }>(
    "SELECT value, quality, origin FROM history.sample('TW-PT-110', $1::timestamptz, $1::timestamptz + interval '1 microsecond')",
    [shown],
  );
  const bad = await client.query<{ quality: string }>(
    "SELECT quality FROM history.sample('TW-PT-110', now() - interval '5 minutes', now()) WHERE quality = 'Bad'",
  );
  const coverage = await client.query("SELECT * FROM history.coverage WHERE until > now() - interval '5 minutes'");
  await client.end();
  expect(rows).toHaveLength(1);
  expect(rows[0]!.origin).toBe('live');
  expect(bad.rows.length).toBeGreaterThan(0);
  expect(coverage.rows.length).toBeGreaterThanOrEqual(2);
});

test('everything is at the hands of the keyboard, and the address holds the window', async () => {
  await go('/tags?last=3600');
  await find('[data-tag]');
  await browser.driver.actions().sendKeys('/').perform();
  await browser.driver.actions().sendKeys('pulsation').perform();
  await eventually(
    'the list is filtered',
    async () => (await browser.driver.findElements(By.css('[data-tag]'))).length === 1,
  );
  await browser.driver.actions().sendKeys(Key.TAB, Key.TAB).perform();
  await (await find('[data-tag]')).sendKeys(Key.ENTER);
  expect(await textOf('[data-testid=leaf] h2')).toBe('TW-PT-110');
  await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
  await eventually(
    'the leaf is closed',
    async () => (await browser.driver.findElements(By.css('[data-testid=leaf]'))).length === 0,
  );
  await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('k').keyUp(Key.CONTROL).perform();
  await (await find('[cmdk-input]')).sendKeys('coverage', Key.ENTER);
  await eventually('Coverage is open with the same window', async () => {
    const address = new URL(await browser.driver.getCurrentUrl());
    return address.pathname === '/coverage' && address.searchParams.get('last') === '3600';
  });
});

test('the dark theme is as readable', async () => {
  await browser.driver.executeScript("localStorage.setItem('wide-ledger-theme', 'dark')");
  for (const path of ['/', '/tags?row=TW-PT-102', '/coverage', '/traces', '/bench', '/sources?row=1']) {
    await go(path);
    await find('main h1');
    await expectAccessible();
  }
});

test('signing out from the command box leads back to the door', async () => {
  await go('/');
  await find('main h1');
  await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('k').keyUp(Key.CONTROL).perform();
  await (await find('[cmdk-input]')).sendKeys('sign out', Key.ENTER);
  await find('input[name=password]');
});
