/** The story of the first slice, told by the real interface in Chromium. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { By, Key, until } from 'selenium-webdriver';
import { signIn, type Browser } from '../../launch/browser.mjs';
import type { Demo, DemoSettings } from '../../launch/demo.mjs';
import { freePort } from '../../launch/ground.mjs';
import {
  WAIT_MILLISECONDS as WAIT,
  attribute,
  eventually,
  find,
  go,
  press,
  pressUntil,
  textOf,
  textsOf,
  violations,
  openDemo,
  type OpenDemo,
} from '../src/index.ts';

let opened: OpenDemo;
let settings: DemoSettings;
let demo: Demo;
let browser: Browser;

beforeAll(async () => {
  opened = await openDemo();
  ({ settings, demo, browser } = opened);
}, 300_000);

afterAll(() => opened?.close(), 120_000);

const expectAccessible = async (): Promise<void> => expect(await violations()).toEqual([]);

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

test('a place shows its tags as they are now, where they lie in their ranges, and what is wrong', async () => {
  await go('/place?last=300&place=Thornmere%20Wells');
  await eventually('its tags are there', async () => (await textOf('main')).includes('TW-JI-406'));
  await eventually('it is looked at', async () =>
    (await textOf('[aria-label="What is wrong here"]')).includes('wrong'),
  );
  expect(await attribute('[data-tag="TW-PT-402"] svg', 'aria-label')).toContain('bar');
  await expectAccessible();
});

test('the path check climbs four rungs, and says where it stops', async () => {
  await go('/sources?last=300&row=1');
  await press('Walk the path');
  for (const words of ['Name', 'Port', 'Protocol answer', 'First value', 'Unit 1 speaks Modbus'])
    await eventually(`the rungs tell of ${words}`, async () => (await textOf('[data-testid=rungs]')).includes(words));
  expect(await textOf('[data-testid=leaf]')).toContain('Punctuality of reads');
  await expectAccessible();
  await go('/sources?last=300&row=new');
  const closed = String(await freePort());
  await (await find('[data-testid=leaf] input')).sendKeys('Nobody');
  await press('Begin in the draft');
  for (const [field, value] of [
    ['host', '127.0.0.1'],
    ['port', closed],
  ] as const) {
    await (await find(`#field-connection-${field}`)).sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
    await eventually(`${field} is in the draft`, async () => {
      const box = await find(`#field-connection-${field}`);
      return (
        (await box.getAttribute('value')) === value && (await textOf('[data-testid=leaf]')).includes('new in draft')
      );
    });
  }
  await press('Walk the path');
  for (const words of [`Nothing answers on 127.0.0.1:${closed}. The host is up (it refused at once)`, 'ECONNREFUSED'])
    await eventually(`it says ${words}`, async () => (await textOf('[data-testid=rungs]')).includes(words));
  await expectAccessible();
  await press('Take out of the draft');
  await eventually('the draft is empty again', async () => !(await textOf('main')).includes('Nobody'));
});

test('Traces draws the wave; its hourly time-weighted average is its middle, its maximum its crest', async () => {
  await go('/traces?last=7200&tags=TW-PT-110');
  await eventually('the hour’s average is 620 and its maximum 660', async () => {
    const rows = await browser.driver.findElements(By.css('[data-testid=processed] tr'));
    const cells = await rows[1]!.findElements(By.css('td'));
    const [average, maximum] = await Promise.all([cells[1]!.getText(), cells[2]!.getText()]);
    return Math.abs(Number(average) - 620) < 0.5 && Math.abs(Number(maximum) - 660) < 0.5;
  });
  await press('Raw');
  await eventually(
    'raw values are listed',
    async () => (await browser.driver.findElements(By.css('[data-testid=raw] [data-sample]'))).length > 5,
  );
  await expectAccessible();
});

test('two cursors are moved by the keyboard and tell difference, average and integral', async () => {
  const now = Date.now();
  await go(`/traces?last=7200&tags=TW-FT-101&cursors=${now - 5_400_000},${now - 1_800_000}`);
  await eventually('the integral is in m³', async () => {
    const text = await textOf('[data-testid=cursor-readings]');
    return text.includes('1 h') && /\d m³$/.test(text.trim());
  });
  const cursor = await find('[role=slider][aria-label="Cursor A"]');
  const before = Number(await cursor.getAttribute('aria-valuenow'));
  await cursor.sendKeys(Key.ARROW_RIGHT);
  await eventually(
    'cursor A has moved by a hundredth of the window',
    async () => Number(await attribute('[aria-label="Cursor A"]', 'aria-valuenow')) - before === 72_000,
  );
  await expectAccessible();
});

test('a value is corrected with a reason; the table marks it and the modified history tells the old one', async () => {
  await go('/traces?last=600&tags=TW-PT-102&below=raw');
  await press('● live');
  const value = await find('[data-testid=raw] [data-sample]');
  await value.sendKeys(Key.ENTER);
  const leaf = await find('[data-testid=leaf]');
  const [correct, reason] = await leaf.findElements(By.css('form[aria-label="Correct or remove"] input'));
  await reason!.sendKeys('Gauge was being compared');
  // An emptied field is no nought.
  await correct!.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE);
  expect(await leaf.getText()).toContain('Type the right value.');
  expect(await leaf.findElement(By.css('button[type=submit]')).isEnabled()).toBe(false);
  await correct!.sendKeys('4.25');
  await expectAccessible();
  await press('Correct');
  await eventually('the row is marked', async () => {
    // An answer that was still on its way when the window was held may have moved the rows: the reason tells which it is.
    const rows = await textsOf('[data-testid=raw] [data-sample]');
    const row = rows.find((words) => words.includes('Gauge was being compared'));
    return row !== undefined && row.includes('4.25') && row.includes('▴');
  });
  await press('Modified');
  await eventually('the old value is told', async () => (await textOf('[data-testid=modified]')).includes('admin'));
  await expectAccessible();
});

test('a long list of raw values goes back page by page, and holds the window for who reads it', async () => {
  await go('/traces?last=43200&tags=TW-PT-102&below=raw');
  const shown = async (): Promise<number> =>
    Number(/([\d\s]+)(?:so far|values)/.exec(await textOf('[aria-label="Raw values"]'))![1]!.replaceAll(/\s/g, ''));
  await eventually('the newest page is there', async () => (await shown()) === 2000);
  const newest = await attribute('[data-testid=raw] [data-sample]', 'data-sample');
  const scroll = "const list = document.querySelector('[data-testid=raw]'); list.scrollTop = list.scrollHeight";
  await eventually('two more pages came', async () => {
    await browser.driver.executeScript(scroll);
    return (await shown()) >= 6000;
  });
  expect(await browser.driver.getCurrentUrl()).toContain('to=');
  await browser.driver.executeScript(scroll);
  await eventually('older values are listed', async () => {
    const rows = await browser.driver.findElements(By.css('[data-testid=raw] [data-sample]'));
    const times = await Promise.all(rows.map((row) => row.getAttribute('data-sample')));
    return times.length > 5 && times.every((time, i) => time! < newest && (i === 0 || time! < times[i - 1]!));
  });
});

test('a tag beyond the first page of tags is found, drawn and read', async () => {
  await go('/traces?last=7200&tags=TW-PT-102');
  const spare = Array.from({ length: 300 }, (_, i) => ({
    name: `ZZ-${1000 + i}`,
    unit: 'kPa',
    place: 'Zone of spares',
  }));
  const time = (minutes: number): string => new Date(Date.now() - minutes * 60_000).toISOString();
  const samples = [90, 30].map((minutes) => ({ tag: 'ZZ-1299', time: time(minutes), value: 42.5 }));
  for (const [path, body] of [
    ['/api/v1/tags', spare],
    ['/api/v1/samples', { samples }],
  ] as const) {
    await browser.driver.executeAsyncScript(
      `fetch(arguments[0], { method: 'POST', headers: { 'content-type': 'application/json' }, body: arguments[1] }).then(arguments[2])`,
      path,
      JSON.stringify(body),
    );
  }
  const field = await find('[aria-label="Add a tag"]');
  await field.sendKeys('spares 1299');
  await eventually('it is offered', async () => (await attribute('#found-tags option', 'value')) === 'ZZ-1299');
  await field.sendKeys(Key.ENTER);
  const chip = await browser.driver.wait(
    until.elementLocated(By.xpath('//button[contains(., "ZZ-1299") and contains(., "kPa")]')),
    WAIT,
  );
  await chip.click();
  await press('Raw');
  await eventually('its values are listed', async () => (await textOf('[data-testid=raw]')).includes('42.5'));
  await expectAccessible();
});

test('values at times, and what is shown can be taken away as file, address and SQL', async () => {
  await go('/traces?last=3600&tags=TW-PT-102,TW-TT-203&below=at');
  await press('Quarters of the window');
  await eventually(
    'four values stand there',
    async () => (await browser.driver.findElements(By.css('[data-testid=at-times] tr'))).length === 4,
  );
  await press('Take away');
  const links = await browser.driver.findElements(By.css('[aria-label="Take away what is shown"] a'));
  const addresses = await Promise.all(links.map((link) => link.getAttribute('href')));
  expect(addresses.map((one) => new URL(one!).searchParams.get('format'))).toEqual(['csv', 'xlsx', 'parquet', 'json']);
  expect(new URL(addresses[0]!).searchParams.get('tags')).toBe('TW-PT-102,TW-TT-203');
  await expectAccessible();
});

test('Stores shows what a retention would take along before it does', async () => {
  await go('/stores?row=1');
  const old = { samples: [{ tag: 'TW-PT-102', time: '2020-05-05T05:05:05Z', value: 5 }] };
  await browser.driver.executeAsyncScript(
    `fetch('/api/v1/samples', { method: 'POST', headers: { 'content-type': 'application/json' }, body: arguments[0] }).then(arguments[1])`,
    JSON.stringify(old),
  );
  // Behind the demo's past, which is being posted.
  const isThere = async (): Promise<boolean> => {
    await go('/stores?row=1');
    await (await find('input[inputmode=numeric]')).sendKeys('11');
    return /\d months? would go: \d/.test((await textOf('[data-testid=preview]')).replaceAll('\n', ' '));
  };
  await browser.driver.wait(async () => isThere().catch(() => false), 4 * WAIT, 'the old month was never posted');
  await expectAccessible();
  await press('Keep 11 months: into the draft');
  await go('/draft');
  await eventually('the review says what would go', async () =>
    /\d+ months? of Embedded before \d{4}-\d\d-01 goe?s? for good/.test(await textOf('main')),
  );
  await expectAccessible();
  await press('Discard…');
  await press('Discard all of it');
}, 600_000);

test('an instrument that stood still is found in the past, and drawn beside its neighbours', async () => {
  // Two months without the last days, which are in seconds: it stood still three weeks ago.
  const [from, to] = [60, 4].map((days) => new Date(Date.now() - days * 86_400_000).toISOString());
  await go(`/doubts?from=${from}&to=${to}&place=Thornmere+Wells`);
  await eventually('nothing was examined yet', async () => (await textOf('main')).includes('Nothing was examined yet'));
  await expectAccessible();
  // All of the past has to be in the ledger before its rests can be told.
  await press('Examine this window');
  await eventually('it is over', async () => (await textOf('[data-testid=job]')).startsWith('done · '));
  await eventually('the one that stood still is told', async () =>
    (await textsOf('[aria-label=Doubts] [role=option]')).some((words) => /^stands still\s+TW-TT-203/.test(words)),
  );
  await browser.driver
    .findElement(By.xpath('//*[@role="option"][contains(., "stands still") and contains(., "TW-TT-203")]'))
    .click();
  await eventually('with what it was seen by', async () =>
    /Stayed at [\d.]+ °C for 1 d [78] h\b.*3 of 3 neighbours/s.test(await textOf('[data-testid=leaf]')),
  );
  await expectAccessible();
  await press('Trace it beside its neighbours');
  await eventually('four tags are drawn', async () => (await textOf('main')).includes('4 tags'));
});

test('an outage is rehearsed: what would be lost, why, and with what it would not', async () => {
  await go('/sources?row=buffers');
  await press('Rehearse outages');
  const wells = 'section[aria-label="Thornmere controller"]';
  await eventually('a device that remembers nothing loses all of it', async () =>
    /Lost: 1 h\..*its device remembers nothing/s.test(await textOf(wells)),
  );
  await eventually('and it is said what would save it', async () =>
    /A memory of [\d\s]+ values in the device: nothing would be lost/.test(await textOf(wells)),
  );
  await expectAccessible();
  // Another fault in its place; the address holds the script.
  await (await find('select[aria-label="What, 1"] option[value="collector off"]')).click();
  await eventually('a standby would have gone on', async () =>
    (await textOf(wells)).includes('A standby: nothing would be lost.'),
  );
  expect(await browser.driver.getCurrentUrl()).toContain('script=collector');
});

test('Files says what it understood of a file, rehearses it and archives it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'wide-ledger-file-'));
  const path = join(folder, 'lab.csv');
  writeFileSync(path, 'Zeit;TW-TT-203\r\n13.07.2026 12:00;116,5\r\n13.07.2026 25:00;1\r\n');
  await go('/files');
  await (await find('input[type=file]')).sendKeys(path);
  await eventually('the columns are understood', async () => {
    const words = await textOf('[data-testid=columns]');
    return words.includes('by the clock of Europe/Berlin') && words.includes('numbers with a decimal comma');
  });
  await expectAccessible();
  await press('Rehearse');
  await eventually('the rehearsal tells', async () =>
    (await textOf('[data-testid=import-report]')).includes('is no time'),
  );
  await press('Archive');
  await eventually('it is archived', async () =>
    /2 rows\s*2 values\s*1 accepted/.test(await textOf('[aria-label="Archived"]')),
  );
  await expectAccessible();
  rmSync(folder, { recursive: true, force: true });
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
  const row = await browser.driver.findElement(By.xpath('//*[@data-gap][contains(., "Nothing answers on")]'));
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

test('a controller that remembers is cut: held values are not drawn as data; restored, the hole closes out of its own ring', async () => {
  const line = async (words: string, label: string): Promise<void> => {
    await go('/bench?last=60');
    const device = await find('section[aria-label="Kilnbank controller"]');
    await device.findElement(By.xpath(`.//button[normalize-space()="${label}"]`)).click();
    await eventually(
      `it says: ${words}`,
      async () => (await textOf('section[aria-label="Kilnbank controller"] [data-testid=line]')) === words,
    );
  };
  await line('line cut', 'Cut the line');
  await go('/traces?last=60&tags=KB-FT-401&below=raw');
  await eventually('the strip opens', async () => Number(await attribute('[data-gaps]', 'data-gaps')) > 0);
  const stopped = Number(await attribute('[data-testid=trend]', 'data-last'));
  await eventually('the newest value says that there is none', async () =>
    (await textOf('[data-testid=raw] [data-sample]')).includes('Bad'),
  );
  await go('/coverage?last=120');
  const row = (state: string) => async (): Promise<boolean> => {
    const rows = await textsOf('[data-gap]');
    return rows.some(
      (words) => words.includes('Kilnbank controller') && words.includes('127.0.0.1') && words.includes(state),
    );
  };
  await eventually('what is missed may still be there', row('recoverable'));
  await expectAccessible();
  await line('line whole', 'Restore the line');
  await go('/coverage?last=300&words=KB-FT-401');
  await eventually('the gap is recovered', row('recovered'));
  await eventually('the strip is closed', async () => {
    const [drawn] = await browser.driver.findElements(By.css('[role=img][aria-label^="KB-FT-401"]'));
    return drawn !== undefined && (await drawn.findElements(By.css('.strip-dotted'))).length > 0;
  });
  await browser.driver
    .findElement(By.xpath('//*[@data-gap][contains(., "Kilnbank controller") and contains(., "recovered")]'))
    .click();
  await eventually('the leaf tells what became of it', async () =>
    (await textOf('[data-testid=leaf]')).includes('The source had kept it'),
  );
  await expectAccessible();
  // From the gap to a backfill: once more, to compare.
  await press('Plan it');
  await eventually('the plan is told', async () =>
    (await textOf('[aria-label=Backfill]')).includes('nothing to fetch'),
  );
  await (await find('[aria-label="What to fetch"] option[value=replace]')).click();
  await eventually('how much it is', async () => /values in \d+ calls/.test(await textOf('[aria-label=Backfill]')));
  await expectAccessible();
  await press('Begin');
  await eventually('all of it was fetched', async () =>
    /done · [\d\s]+ values in \d+ calls; nothing is missing any more/.test(await textOf('[data-testid=job]')),
  );
  await expectAccessible();
  await go('/traces?last=300&tags=KB-FT-401&below=raw');
  await eventually(
    'below the trend their origin is drawn',
    async () => (await browser.driver.findElements(By.css('[data-gaps] .strip-dotted'))).length > 0,
  );
  // Nothing says any more that there was no value.
  const reader = new URL(demo.databaseUrl);
  const client = new pg.Client(reader.href);
  await client.connect();
  const { rows } = await client.query<{ origin: string; quality: string; n: number }>(
    `SELECT origin, quality, count(*)::int AS n FROM history.sample('KB-FT-401', to_timestamp($1 / 1000.0), now()) GROUP BY 1, 2`,
    [stopped],
  );
  await client.end();
  expect(rows.filter(({ quality }) => quality !== 'Good')).toEqual([]);
  expect(rows.find(({ origin }) => origin === 'backfilled')!.n).toBeGreaterThan(0);
});

test('everything is at the hands of the keyboard, and the address holds the window', async () => {
  await go('/tags?last=3600&place=Thornmere%20Wells');
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

test('changes are collected in a draft, reviewed as a whole, and put in force while everything else is read on', async () => {
  await go('/tags?last=3600&place=Thornmere%20Wells&row=TW-PT-102');
  await press('Change');
  const type = async (field: string, text: string): Promise<void> => {
    const input = await find(`#field-${field}`);
    await input.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  };
  await type('description', 'pressure at the well-head');
  await eventually('the draft bar counts', async () =>
    (await textOf('[data-testid="draft-bar"]')).includes('1 change in'),
  );
  // Two rows are marked by the keyboard and changed together.
  for (const name of ['TW-TT-103', 'TW-FT-101']) await (await find(`[data-tag="${name}"]`)).sendKeys(Key.SPACE);
  await eventually('both are marked', async () => (await textOf('[data-testid="leaf"]')).includes('2 tags'));
  await type('settings-longestSilenceSeconds', '900');
  await eventually('three are in draft', async () => (await textOf('[data-testid="draft-bar"]')).includes('3 changes'));
  await expectAccessible();
  // Closing the window loses nothing, and nothing of it is in force.
  await go('/draft');
  await eventually(
    'the review is there',
    async () => (await textsOf('section[aria-label="What it will do"] p')).length > 1,
  );
  expect(await textsOf('section[aria-label="What it will do"] p')).toContain('2 tags: Longest silence: none → 15 min.');
  await expectAccessible();
  await (await find('#reason')).sendKeys('Calm tags may be silent for longer', Key.ENTER);
  await eventually('it is in force', async () => (await textOf('main')).includes('is in force'));
  expect(await textOf('main')).toContain('TW-TT-103');
  expect((await browser.driver.findElements(By.css('[data-testid="draft-bar"]'))).length).toBe(0);
  await go('/tags?last=3600&place=Thornmere%20Wells&row=TW-PT-102');
  await eventually('the tag says so', async () =>
    (await textOf('[data-testid="leaf"]')).includes('pressure at the well-head'),
  );
  // The tag that was only described was read on without a word of it; the others once their collector had taken it.
  await eventually('nothing waits for the collector', async () => !(await textOf('main')).includes('not yet taken'));
  await go('/versions');
  await eventually('the version is listed', async () =>
    (await textsOf('[role="option"]'))[0]!.includes('Calm tags may be silent for longer'),
  );
  await (await find('[role="option"]')).click();
  await eventually('it is compared', async () => (await textOf('[data-testid="leaf"]')).includes('Longest silence'));
  await expectAccessible();
});

test('a set point is written over what was seen, read back, archived and noted; the collector’s own figures are tags', async () => {
  await go('/tags?last=300&row=TW-PC-410');
  const section = 'section[aria-label="Write a value"]';
  await press('Read what the device holds');
  await eventually('it is shown', async () => (await textOf(section)).includes('It holds 48 bar'));
  await (await find(`${section} input`)).sendKeys('44.5');
  await press('Write');
  await expectAccessible();
  await press('Write 44.5 bar in place of 48 bar?');
  await eventually('it is read back', async () => (await textOf(section)).includes('read back: 44.5 bar'));
  await eventually('it is archived', async () => (await textOf('[data-testid="leaf-value"]')).startsWith('44.5'));
  await go('/logbook?last=300');
  await eventually('it is noted', async () => (await textOf('main')).includes('44.5 bar in place of 48'));
  await go('/tags?last=300&row=collector-1.state');
  await eventually('it says that all is well', async () =>
    (await textOf('[data-testid="leaf-value"]')).includes('all is well'),
  );
});

test('a register map comes in as CSV, line by line', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'wide-ledger-map-')), 'map.csv');
  writeFileSync(
    file,
    'Name;Address;Register type;Factor;Unit\r\nTW-PT-901;40101;uint16;0,1;bar\r\nTW 902;40102;uint16;;\r\n',
  );
  await go('/registers?source=1');
  await pressUntil('Map as CSV', 'input[type=file]');
  await (await find('input[type=file]')).sendKeys(file);
  await eventually('it is looked at', async () => (await textOf('[data-testid="leaf"]')).includes('1 new, 0 changed'));
  expect(await textOf('[data-testid="leaf"]')).toContain('The name may hold letters');
  await expectAccessible();
  await press('Take the good line into the draft');
  await eventually('it is in the draft', async () =>
    (await textOf('[data-testid="draft-bar"]')).includes('1 change in'),
  );
  await press('Undo the last edit');
  await eventually(
    'nothing is left',
    async () => (await browser.driver.findElements(By.css('[data-testid="draft-bar"]'))).length === 0,
  );
});

test('the dark theme is as readable', async () => {
  await browser.driver.executeScript("localStorage.setItem('wide-ledger-theme', 'dark')");
  for (const path of [
    '/',
    '/tags?row=TW-PT-102',
    '/coverage?row=planned',
    '/traces',
    '/stores?row=new',
    '/bench',
    '/sources?row=1',
    '/sources?row=buffers',
  ]) {
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
