/** `npm run screenshots`: one PNG of each main view, from the running demo, into docs/screenshots. */
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { By, Key } from 'selenium-webdriver';
import { openBrowser, signIn } from './browser.mjs';
import { demoSettings } from './demo.mjs';
import { ROOT, tellTrouble } from './ground.mjs';

/** Presses a button by its words. */
const press = (driver, words) =>
  driver.executeScript(
    `[...document.querySelectorAll('button')].find((b) => b.textContent.trim() === arguments[0])?.click()`,
    words,
  );

/** A view's name, its address, and what is done there before its picture is taken. */
const VIEWS = [
  ['desk', '/?last=43200'],
  ['completeness', '/completeness?last=2592000'],
  ['sources', '/sources?last=43200&row=1'],
  [
    'rehearsal',
    '/rehearsal?last=43200&script=line%20cut||10|60;collector%20off||100|30',
    async () => {
      await wait(3000);
    },
  ],
  [
    'keeping',
    '/keeping?last=43200&tags=TW-TT-103,TW-FT-101,TW-PT-102',
    async (driver) => {
      await wait(6000);
      await driver.findElement(By.css('main option[value=line]')).click();
      await wait(300);
      const [, width] = await driver.findElements(By.css('main input[inputmode=decimal]'));
      await width.sendKeys('0.05');
      await wait(2000);
    },
  ],
  [
    'registers',
    '/registers?last=43200&source=1',
    async (driver) => {
      const [from, many] = await driver.findElements(By.css('main input'));
      await from.sendKeys(Key.chord(Key.CONTROL, 'a'), '56');
      await many.sendKeys(Key.chord(Key.CONTROL, 'a'), '18');
      await press(driver, 'Read');
      await wait(2500);
      await press(driver, 'DCBA');
      const rows = await driver.findElements(By.css('[aria-label=Registers] [role=option]'));
      await rows[4].click();
      await wait(300);
      await driver.findElement(By.css('[data-reading="float32 DCBA"]')).click();
      await wait(300);
    },
  ],
  ['tags', '/tags?last=43200&place=Thornmere%20Wells&row=TW-PT-102'],
  [
    'coverage',
    '/coverage?last=600&place=Kilnbank%20Heat%20Plant',
    async (driver) => {
      // A controller that remembers is away for half a minute: what was missed comes back.
      for (const [fault, milliseconds] of [
        [{ kind: 'cut' }, 30_000],
        [null, 10_000],
      ]) {
        await driver.executeAsyncScript(SET_FAULT, 'Kilnbank controller', fault);
        await wait(milliseconds);
      }
      await driver.executeScript(`document.querySelector('[data-gap]')?.click()`);
      await wait(800);
    },
  ],
  ['traces', '/traces?last=43200&tags=TW-PT-102,TW-TT-203'],
  [
    'doubts',
    '/doubts?last=7776000',
    async (driver) => {
      await press(driver, 'Examine this window');
      await wait(25_000);
      await driver.executeScript(`document.querySelector('[aria-label=Doubts] [role=option]')?.click()`);
      await wait(1000);
    },
  ],
  ['stores', '/stores'],
  [
    'files',
    '/files',
    async (driver) => {
      const example = join(mkdtempSync(join(tmpdir(), 'wide-ledger-file-')), 'laboratory.csv');
      writeFileSync(example, LABORATORY);
      await driver.findElement(By.css('input[type=file]')).sendKeys(example);
      await wait(1000);
      await press(driver, 'Rehearse');
      await wait(1500);
    },
  ],
  [
    'sheet',
    '/sheet?last=43200',
    async (driver) => {
      // Three cells filled down; the change stays in the draft for the next picture.
      await driver.findElement(By.css('input[data-filter]')).sendKeys('TW-PT');
      await wait(800);
      await driver.findElement(By.css('.tag-sheet span[title="bar"]')).click();
      const actions = driver.actions();
      await actions.sendKeys('kPa', Key.ENTER, Key.ARROW_UP).perform();
      await wait(1500);
      await actions.keyDown(Key.SHIFT).sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN).keyUp(Key.SHIFT).perform();
      await actions.keyDown(Key.CONTROL).sendKeys('d').keyUp(Key.CONTROL).perform();
      await wait(1500);
    },
  ],
  ['draft', '/draft?last=43200'],
  ['logbook', '/logbook?last=86400'],
  ['access', '/access?last=43200'],
  ['place', '/place?last=43200&place=Thornmere%20Wells&row=TW-JI-406'],
  [
    'links',
    '/links?last=3600&row=sending:1',
    async (driver) => {
      await press(driver, 'Compare');
      await wait(4000);
      await press(driver, 'Walk the path');
      await wait(2500);
    },
  ],
  ['bench', '/bench?last=43200'],
];

/** In the page: what is wrong with a device's line from now on. */
const SET_FAULT = `fetch('/api/v1/bench/' + encodeURIComponent(arguments[0]) + '/fault', {
  method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ fault: arguments[1] }),
}).then(arguments[2])`;

/** A laboratory's sheet as they come: decimal commas, clock times, one that does not exist. */
const LABORATORY = [
  'Zeit;TW-TT-203;TW-TT-203 quality;TW-PT-102;Initials',
  '13.07.2026 06:00;116,5;Good;10,41;mk',
  '13.07.2026 14:00;116,8;Good;10,52;mk',
  '13.07.2026 22:00;117,1;Uncertain;10,47;jo',
  '14.07.2026 26:00;116,9;Good;10,44;jo',
].join('\r\n');

await tellTrouble(async () => {
  const settings = demoSettings();
  const folder = process.argv[2] ?? join(ROOT, 'docs', 'screenshots');
  const theme = process.argv[3];
  const [width, height] = (process.argv[4] ?? '1280x800').split('x').map(Number);
  const only = process.argv[5]?.split(',');
  mkdirSync(folder, { recursive: true });
  const url = `http://127.0.0.1:${settings.port}`;
  const { driver, close } = await openBrowser(width, height);
  try {
    await signIn(driver, url, settings.password);
    await driver.executeScript(`localStorage.setItem('wide-ledger-theme', '${theme === 'dark' ? 'dark' : 'light'}')`);
    for (const [name, path, prepare] of VIEWS) {
      if (only && !only.includes(name)) continue;
      await driver.get(url + (typeof path === 'function' ? path() : path));
      await wait(3500);
      await prepare?.(driver);
      writeFileSync(join(folder, `${name}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
    }
  } finally {
    await close();
  }
});
