/** Headless Chromium, as the browser tests and the pictures use it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** @returns a driver with a viewport of exactly the given size, and `close`. */
export async function openBrowser(width = 1280, height = 800) {
  process.env.SE_OFFLINE = 'true';
  const { Builder } = await import('selenium-webdriver');
  const chrome = await import('selenium-webdriver/chrome.js');
  const profile = mkdtempSync(join(tmpdir(), 'wide-ledger-browser-'));
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-dev-shm-usage',
    `--user-data-dir=${profile}`,
  );
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  // Scripts of the accessibility check take their time on a busy machine.
  await driver.manage().setTimeouts({ script: 120_000 });
  const resize = (w, h) =>
    driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
      width: w,
      height: h,
      deviceScaleFactor: 1,
      mobile: false,
    });
  await resize(width, height);
  const close = async () => {
    await driver.quit();
    rmSync(profile, { recursive: true, force: true });
  };
  return { driver, resize, close };
}

/** Signs in through the form. */
export async function signIn(driver, url, password) {
  const { By, until } = await import('selenium-webdriver');
  await driver.get(url);
  const field = await driver.wait(until.elementLocated(By.css('input[name=password]')), 60_000);
  await field.sendKeys(password);
  await driver.findElement(By.css('button[type=submit]')).click();
  await driver.wait(until.elementLocated(By.css('nav[aria-label=Screens]')), 60_000);
}
