/** Using the interface as a person does: what tests in Chromium share. */
import axe from 'axe-core';
import { By, error, until, type WebElement } from 'selenium-webdriver';
import type { Browser } from '../../launch/browser.mjs';

/** How long something on screen may take before a test gives up: generous, for a busy machine. */
export const WAIT_MILLISECONDS = 60_000;

let browser: Browser;
let home: string;

/** From now on this browser is used, at this site. */
export function visit(given: Browser, url: string): void {
  browser = given;
  home = url;
}

/** The first element that a selector finds, as soon as there is one. */
export const find = (css: string): Promise<WebElement> =>
  browser.driver.wait(until.elementLocated(By.css(css)), WAIT_MILLISECONDS);

/** The visible words of an element. */
export async function textOf(css: string): Promise<string> {
  await find(css);
  return browser.driver.executeScript<string>(
    'return document.querySelector(arguments[0])?.innerText.trim() ?? ""',
    css,
  );
}

/** The visible words of all elements that there are. */
export const textsOf = (css: string): Promise<string[]> =>
  browser.driver.executeScript('return [...document.querySelectorAll(arguments[0])].map((e) => e.innerText)', css);

/** Opens an address of the site. */
export const go = (path: string): Promise<void> => browser.driver.get(home + path);

/** An attribute of the first element that a selector finds, read in one go: it may be drawn anew at any moment. */
export async function attribute(css: string, name: string): Promise<string> {
  await find(css);
  const read = 'return document.querySelector(arguments[0])?.getAttribute(arguments[1]) ?? ""';
  return browser.driver.executeScript<string>(read, css, name);
}

/** Waits until something is so; fails with what it was that never came, and what was to be read instead. */
export async function eventually(what: string, check: () => Promise<boolean>): Promise<void> {
  try {
    await browser.driver.wait(async () => check().catch(() => false), WAIT_MILLISECONDS);
  } catch (cause) {
    const [shown] = await textsOf('body');
    const alarms = (await textsOf('[role=alert]')).join(' · ') || 'nothing is said to be wrong';
    const where = await browser.driver.getCurrentUrl();
    throw new Error(`waited in vain until ${what}. ${where} (${alarms}) shows:\n${shown}`, { cause });
  }
}

/** Presses a button by its words. */
export async function press(name: string): Promise<void> {
  const path = By.xpath(`//button[normalize-space()="${name}"]`);
  for (;;) {
    const button = await browser.driver.wait(until.elementLocated(path), WAIT_MILLISECONDS);
    try {
      await button.click();
      return;
    } catch (failure) {
      // Drawn anew between being found and being clicked on.
      if (!(failure instanceof error.StaleElementReferenceError)) throw failure;
    }
  }
}

/** How long something is waited for before a button is pressed again. */
const AGAIN_MILLISECONDS = 10_000;

/**
 * Presses a button until what it brings is there, as a person does whose click was lost, or whose answer came too late: a
 * button may be drawn anew between its being pressed and let go.
 */
export const pressUntil = (name: string, css: string): Promise<void> =>
  eventually(`${name} brings ${css}`, async () => {
    const isThere = async (): Promise<boolean> => (await browser.driver.findElements(By.css(css))).length > 0;
    if (await isThere()) return true;
    await press(name);
    await browser.driver.wait(isThere, AGAIN_MILLISECONDS);
    return true;
  });

/** Violations of WCAG 2.2 A and AA that axe-core finds on what is shown; there should be none. */
export async function violations(): Promise<string[]> {
  // Half a megabyte, once for each page.
  if (!(await browser.driver.executeScript<boolean>('return "axe" in window')))
    await browser.driver.executeScript(axe.source);
  const found = await browser.driver.executeAsyncScript<
    { id: string; nodes: { html: string; failureSummary?: string }[] }[]
  >(
    `const done = arguments[arguments.length - 1];
     axe.run(document, { resultTypes: ['violations'], runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }).then((result) => done(result.violations));`,
  );
  return found.map(({ id, nodes }) => `${id}: ${nodes[0]!.html} ${nodes[0]!.failureSummary ?? ''}`);
}
