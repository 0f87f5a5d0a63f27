/** The sheet in a browser: 5,000 rows pasted, reviewed and put in force, and for how long the interface stood still meanwhile. */
import { By } from 'selenium-webdriver';
import { eventually, find, go, openDemo, press, textOf } from '../e2e/src/index.ts';
import { signIn } from '../launch/browser.mjs';
import type { Surroundings } from './surroundings.ts';

const ROWS = 5000;
/** In words as the interface writes them. */
const SHOWN = '5\u2009000';

const HEADS = ['Name', 'Type', 'Unit', 'Description', 'Range from', 'Range to'];

export async function measureSheet({ row }: Pick<Surroundings, 'row'>): Promise<void> {
  console.log(`\nThe sheet in Chromium: ${ROWS.toLocaleString('en')} rows pasted, reviewed, put in force\n`);
  const opened = await openDemo({ withPast: false });
  const { browser, demo, settings } = opened;
  const { driver } = browser;
  /** The longest stretch for which the page did nothing else, since this was asked last. Milliseconds. */
  const longest = (): Promise<number> =>
    driver.executeScript('const most = Math.max(0, ...window.stood); window.stood = []; return most;');
  try {
    await signIn(driver, demo.url, settings.password);
    await go('/sheet?last=300');
    await find('.tag-sheet .dsg-row');
    await driver.executeScript(
      `window.stood = [];
       new PerformanceObserver((list) => list.getEntries().forEach(({ duration }) => window.stood.push(duration))).observe({ type: 'longtask' });`,
    );
    const rows = Array.from({ length: ROWS }, (_, i) =>
      [`SP-PT-${i}`, 'real', 'bar', `pump ${i % 50}, pressure ${i}`, '0', '16'].join('\t'),
    );
    const begun = performance.now();
    const lap = async (name: string, since: number): Promise<number> => {
      const now = performance.now();
      row(
        name,
        `${((now - since) / 1000).toFixed(1)} s`,
        `stood still for ${Math.round(await longest())} ms at most (aim 100)`,
      );
      return performance.now();
    };
    await driver.executeScript(
      `const clipboardData = new DataTransfer();
       clipboardData.setData('text/plain', arguments[0]);
       document.querySelector('.tag-sheet').dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));`,
      [HEADS.join('\t'), ...rows].join('\n'),
    );
    await eventually('all rows are looked at', async () =>
      (await textOf('[data-testid=incoming]')).includes(`${SHOWN} new`),
    );
    const looked = await lap('pasted, each row looked at', begun);
    await press(`Take ${SHOWN} into the draft`);
    await eventually('they are in the draft', async () => (await textOf('body')).includes('5000 changes in draft'));
    const taken = await lap('taken into the draft', looked);
    await press('Review');
    await find('#reason');
    await eventually('it can be put in force', async () => (await textOf('main')).includes('5000'));
    const reviewed = await lap('reviewed', taken);
    const put = await driver.findElement(By.xpath('//button[starts-with(normalize-space(), "Put ")]'));
    await put.click();
    await eventually('it is in force', async () => (await textOf('main')).includes('is in force'));
    await lap('put in force', reviewed);
    row('in all', `${((performance.now() - begun) / 1000).toFixed(1)} s`, '(aim 10)');
  } finally {
    await opened.close();
  }
}
