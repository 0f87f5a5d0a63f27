/** Tags by the thousand, by the real interface in Chromium: the tag sheet, and settings tried on what was recorded. */
import { By, Key, until } from 'selenium-webdriver';
import { signIn, type Browser } from '../../launch/browser.mjs';
import type { Demo } from '../../launch/demo.mjs';
import { eventually, find, go, openDemo, press, textOf, textsOf, violations, type OpenDemo } from '../src/index.ts';

let opened: OpenDemo;
let demo: Demo;
let browser: Browser;
let cookie = '';

beforeAll(async () => {
  opened = await openDemo({ withPast: false });
  ({ demo, browser } = opened);
  await signIn(browser.driver, demo.url, opened.settings.password);
  const { name, value } = (await browser.driver.manage().getCookies())[0]!;
  cookie = `${name}=${value}`;
}, 300_000);
afterAll(() => opened?.close(), 120_000);

/** Somebody else, by the calls. */
async function call<Answer>(method: string, path: string, body?: unknown): Promise<Answer> {
  const answer = await fetch(`${demo.url}/api/v1${path}`, {
    method,
    headers: { cookie, origin: demo.url, 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as Answer;
}
const tagNamed = (name: string) =>
  call<{ unit: string; high: number; description: string; stepped: boolean }>('GET', `/tags/${name}`);

/** Pastes onto the sheet, as from a spreadsheet. */
const paste = (rows: readonly (readonly string[])[]): Promise<void> =>
  browser.driver.executeScript(
    `const clipboardData = new DataTransfer();
     clipboardData.setData('text/plain', arguments[0]);
     document.querySelector('.tag-sheet').dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));`,
    rows.map((row) => row.join('\t')).join('\n'),
  );
const cellNamed = (text: string) => browser.driver.findElement(By.css(`.tag-sheet span[title="${text}"]`));
const says = (css: string, words: string): Promise<void> =>
  eventually(`${css} says ${words}`, async () => (await textOf(css)).includes(words));
const keys = (...pressed: string[]): Promise<void> =>
  browser.driver
    .actions()
    .sendKeys(...pressed)
    .perform();
const withControl = (key: string): Promise<void> =>
  browser.driver.actions().keyDown(Key.CONTROL).sendKeys(key).keyUp(Key.CONTROL).perform();

test('rows are pasted, the good ones taken, cells edited, filled down and taken back → review → in force', async () => {
  await go('/sheet?last=300');
  await find('.tag-sheet .dsg-row');
  expect(await violations()).toEqual([]);
  await paste([
    ['Unit', 'Name', 'Type', 'Description', 'Range to'],
    ...Array.from({ length: 40 }, (_, i) => ['bar', `ZZ-PT-${i}`, 'real', `pasted ${i}`, String(10 + i)]),
    ['bar', 'ZZ-PT-90', 'reel', '', ''],
    ['bar', 'ZZ-PT-91', 'real', '', 'much'],
  ]);
  await says('[data-testid=incoming]', '40 new, 0 changed, 0 as they are, 2 cannot be taken.');
  const refused = await textOf('[aria-label="Rows that cannot be taken"]');
  expect(refused).toMatch(
    /row 41 ZZ-PT-90\s+Type: It is one of: real[\s\S]*row 42 ZZ-PT-91\s+Range to: "much" is no number\./,
  );
  expect(await violations()).toEqual([]);
  await press('Take 40 into the draft');
  await says('body', '40 changes in draft');
  // The leaf has closed by itself, and the rows are there.
  await (await find('input[data-filter]')).sendKeys('ZZ-PT');
  await says('main', '40 of ');
  await eventually('the rows are drawn', async () => (await cellNamed('pasted 0')).isDisplayed());

  await (await cellNamed('10')).click();
  await keys('abc', Key.ENTER);
  await says('[aria-label="What cannot stand in its cell"]', '"abc" is no number.');
  await (await browser.driver.findElement(By.xpath('//button[normalize-space()="forget"]'))).click();
  await (await cellNamed('10')).click();
  await keys('99', Key.ENTER);
  await eventually('the cell is in the draft', async () => (await cellNamed('99')).isDisplayed());
  await (await cellNamed('99')).click();
  await browser.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN).keyUp(Key.SHIFT).perform();
  await withControl('d');
  const high99 = async (): Promise<number> => (await textsOf('.tag-sheet span[title="99"]')).length;
  await eventually('three cells are filled', async () => (await high99()) === 3);
  await withControl('z');
  await eventually('the filling is taken back', async () => (await high99()) === 1);
  await withControl('y');
  await eventually('and made again', async () => (await high99()) === 3);
  await withControl('z');
  await eventually('and taken back', async () => (await high99()) === 1);

  await press('Names');
  await says('[data-testid=leaf]', 'No place has rules for names yet.');
  await says('[data-testid=leaf]', 'No two names look alike.');
  expect(await violations()).toEqual([]);

  await go('/draft?last=300');
  await (await find('#reason')).sendKeys('From the list of the planners');
  await press('Put 40 in force');
  await says('main', 'is in force');
  expect(await tagNamed('ZZ-PT-0')).toMatchObject({ unit: 'bar', high: 99 });
  expect(await tagNamed('ZZ-PT-39')).toMatchObject({ high: 49, description: 'pasted 39' });
}, 300_000);

test('many alike tags are described once, by a pattern over a roster', async () => {
  await go('/sheet?last=300');
  // A row that is begun says what it lacks, and is let go again.
  await find('.tag-sheet .dsg-row');
  await press('New row');
  await says('[aria-label="What cannot stand in its cell"]', 'It has to be filled in.');
  await press('forget');
  await press('Bring in rows');
  await (await find('[data-testid=leaf] textarea')).sendKeys('"');
  await says('[data-testid=leaf] [role=alert]', 'The rows cannot be told apart');
  await (await find('[aria-label="Pattern of Name"]')).sendKeys('YY-TT-{n:00}');
  await (await find('[aria-label="Pattern of Unit"]')).sendKeys('°C');
  await (await find('[aria-label="List of n"]')).sendKeys('12-9');
  await says('[data-testid=leaf]', '12-9 runs backwards: write 9-12.');
  await (await find('[aria-label="List of n"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), '9-12');
  expect(await violations()).toEqual([]);
  await press('Expand it to 4 rows');
  await says('[data-testid=incoming]', '4 new, 0 changed');
  await press('Take 4 into the draft');
  await says('body', '4 changes in draft');
  await go('/draft?last=300');
  await (await find('#reason')).sendKeys('A family of four');
  await press('Put 4 in force');
  await says('main', 'is in force');
  expect(await tagNamed('YY-TT-09')).toMatchObject({ unit: '°C' });
}, 300_000);

test('a family: described, its tags made and found by their labels; changed, what was set by hand stays', async () => {
  const type = async (css: string, text: string): Promise<void> =>
    (await find(css)).sendKeys(Key.chord(Key.CONTROL, 'a'), text);
  const enforce = async (): Promise<void> => {
    await go('/draft?last=300');
    await (await find('#reason')).sendKeys('The family');
    await (await find('main button.bg-verdigris')).click();
    await says('main', 'is in force');
  };
  await go('/sheet?last=300');
  await find('.tag-sheet .dsg-row');
  await press('Families');
  await type('[data-testid=leaf] input', 'ZZ flows');
  await type('[aria-label="Pattern of Name"]', 'ZZ-FT-{pump:00}');
  await type('[aria-label="Pattern of Unit"]', 'm³/h');
  await press('Another column');
  await type('[aria-label="Pattern of Description"]', 'flow {pump}');
  await type('[aria-label="Variable 1"]', 'pump');
  await type('[aria-label="List of pump"]', '1-12');
  await press('See what becomes of its tags');
  await says('[data-testid=family-effects]', '12 new, 0 changed, 0 as they are.');
  expect(await violations()).toEqual([]);
  await press('Take the family into the draft');
  await says('body', '13 changes in draft');
  await enforce();
  await go('/tags?last=300');
  await (await find('[data-filter]')).sendKeys('zz pump=3');
  await eventually('one is found by its label', async () => (await textOf('main')).includes('ZZ-FT-03'));
  await call('PATCH', '/tags/ZZ-FT-03', { description: 'by hand' });
  await go('/sheet?last=300');
  await find('.tag-sheet .dsg-row');
  await press('Families');
  await (await browser.driver.wait(until.elementLocated(By.xpath('//option[.="ZZ flows"]')), 60_000)).click();
  await find('[aria-label="Pattern of Description"]');
  await type('[aria-label="Pattern of Description"]', 'flow of pump {pump}');
  await type('[aria-label="List of pump"]', '2-12');
  await press('See what becomes of its tags');
  await says('[data-testid=family-effects]', '0 new, 10 changed, 1 as they are, 1 to be retired.');
  await says('[data-testid=family-effects]', 'is not in the roster any more');
  await says('[data-testid=family-effects]', 'Description stays by hand: set by hand');
  await press('Take the family into the draft');
  await says('body', '12 changes in draft');
  await enforce();
  expect(await tagNamed('ZZ-FT-04')).toMatchObject({ description: 'flow of pump 4', unit: 'm³/h' });
  expect(await tagNamed('ZZ-FT-03')).toMatchObject({ description: 'by hand' });
}, 300_000);

test('two at once: what somebody else put in force meanwhile is shown, and settled', async () => {
  await go('/sheet?last=300');
  await (await find('input[data-filter]')).sendKeys('ZZ-PT-7');
  await eventually('the row is drawn', async () => (await cellNamed('pasted 7')).isDisplayed());
  await (await cellNamed('pasted 7')).click();
  await keys('mine', Key.ENTER);
  await says('body', '1 change in draft');
  await call('PATCH', '/tags/ZZ-PT-7', { description: 'theirs', stepped: true });
  await go('/draft?last=300');
  await says('main', '1 field was changed by somebody else meanwhile');
  await (await find('[aria-label="Keep mine: ZZ-PT-7 Description"]')).click();
  await (await find('#reason')).sendKeys('Settled');
  await press('Put 1 in force');
  await says('main', 'is in force');
  expect(await tagNamed('ZZ-PT-7')).toMatchObject({ description: 'mine', stepped: true });
}, 300_000);

test('settings are tried on what was recorded, and taken into the draft', async () => {
  const to = Math.floor(Date.now() / 3_600_000) * 3_600_000 - 3_600_000;
  const from = to - 2 * 3_600_000;
  const samples = Array.from({ length: 7200 }, (_, i) => ({
    tag: 'ZZ-PT-1',
    time: new Date(from + i * 1000).toISOString(),
    value: Number((5 + 2 * Math.sin(i / 300) + 0.01 * ((i * 7) % 5)).toFixed(3)),
  }));
  await call('POST', '/samples', { samples });
  const window = `from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`;
  await go(`/keeping?tags=ZZ-PT-1&${window}`);
  await says('main', '7 200 of 7 200 values of ZZ-PT-1 are kept.'.replaceAll(' 200', '\u2009200'));
  expect(await violations()).toEqual([]);
  await (await find('select option[value=line]')).click();
  await says('main', 'Give how far a value may lie off.');
  await (await find('input[inputmode=decimal]:nth-of-type(1)')).isDisplayed();
  const [, width] = await browser.driver.findElements(By.css('main input[inputmode=decimal]'));
  await width!.sendKeys('0.1');
  const kept = async (): Promise<number> =>
    Number((/([\d\u2009]+) of 7\u2009200/.exec(await textOf('main'))?.[1] ?? '0').replace('\u2009', ''));
  await eventually('most is left out', async () => (await kept()) > 2 && (await kept()) < 400);
  const row = await textOf('table[aria-label="What would be kept"] tbody tr');
  expect(Number(/(0\.\d+|0)\s+bar/.exec(row)![1])).toBeLessThanOrEqual(0.1);
  // It is not collected: there is nothing whose settings could be changed.
  expect(await (await browser.driver.findElement(By.xpath('//button[.="Take into the draft"]'))).isEnabled()).toBe(
    false,
  );
}, 300_000);

test('a tag is computed of two others: written, its inputs found, tried, put in force; its values follow', async () => {
  const begin = Date.now() - 60_000;
  const second = (i: number): string => new Date(begin + i * 1000).toISOString();
  const samples = Array.from({ length: 20 }, (_, i) => [
    { tag: 'ZZ-PT-2', time: second(i), value: 5 + i },
    { tag: 'ZZ-PT-3', time: second(i), value: 2 },
  ]).flat();
  await call('POST', '/samples', { samples });
  await go('/tags?last=300&row=new');
  await (await find('[data-testid=leaf] input')).sendKeys('ZZ-PDI-23');
  await press('Begin in the draft');
  const formula = '[data-testid=formula]';
  const box = await find(`${formula} textarea`);
  await box.sendKeys('high - low +');
  await says(formula, 'The formula cannot be read: Expected expression after +');
  await box.sendKeys(Key.BACK_SPACE, Key.BACK_SPACE, Key.chord(Key.CONTROL, Key.ENTER));
  for (const [name, tag] of [
    ['high', 'ZZ-PT-2'],
    ['low', 'ZZ-PT-3'],
  ] as const) {
    const input = await find(`[data-input="${name}"] input`);
    await input.sendKeys(tag);
    await eventually(
      `${tag} is found`,
      async () =>
        (await textsOf(`${formula} datalist`)).length > 0 &&
        (await browser.driver.findElements(By.css(`[data-input="${name}"] option[value="${tag}"]`))).length > 0,
    );
    await input.sendKeys(Key.ENTER);
    await says(`[data-input="${name}"]`, tag);
  }
  await press('Try it on the newest values');
  await says(formula, '20 values.');
  await says(`${formula} tbody tr`, '22');
  expect(await violations()).toEqual([]);
  await go('/draft?last=300');
  await says('main', 'high: ');
  await (await find('#reason')).sendKeys('The difference');
  await press('Put 1 in force');
  await says('main', 'is in force');
  const now = new Date().toISOString();
  await call('POST', '/samples', {
    samples: [
      { tag: 'ZZ-PT-2', time: now, value: 31.5 },
      { tag: 'ZZ-PT-3', time: now, value: 1.25 },
    ],
  });
  await go('/tags?last=300&row=ZZ-PDI-23');
  await says('[data-testid=leaf-value]', '30.25');
  await says('[data-testid=leaf]', 'none: it is computed');
  expect(await violations()).toEqual([]);
}, 300_000);
