import { openBrowser, type Browser } from '../../launch/browser.mjs';
import { forgetDemo, startDemo, type Demo, type DemoSettings } from '../../launch/demo.mjs';
import { demoSettings } from './demoSettings.ts';
import { visit } from './visit.ts';

/** A demo of a test's own, with a browser at its door. */
export interface OpenDemo {
  readonly settings: DemoSettings;
  readonly demo: Demo;
  readonly browser: Browser;
  /** Ends both, and removes what the demo wrote. */
  close(): Promise<void>;
}

/** Starts a demo and a browser; whatever was started is ended again where the rest fails. */
export async function openDemo(over: Partial<DemoSettings> = {}): Promise<OpenDemo> {
  const settings = await demoSettings(over);
  const demo = await startDemo(settings);
  try {
    const browser = await openBrowser();
    visit(browser, demo.url);
    const close = async (): Promise<void> => {
      await browser.close();
      await demo.stop();
      forgetDemo(settings);
    };
    return { settings, demo, browser, close };
  } catch (error) {
    await demo.stop();
    forgetDemo(settings);
    throw error;
  }
}
