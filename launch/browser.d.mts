import type { WebDriver } from 'selenium-webdriver';
export interface Browser {
  readonly driver: WebDriver;
  resize(width: number, height: number): Promise<void>;
  close(): Promise<void>;
}
export function openBrowser(width?: number, height?: number): Promise<Browser>;
export function signIn(driver: WebDriver, url: string, password: string): Promise<void>;
