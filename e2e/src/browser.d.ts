import { type Browser, type Page } from 'puppeteer-core';
export declare function openBrowser(): Promise<Browser>;
/** A person at a page: finds things by what they say, as a reader or a screen reader would. */
export declare class Person {
  readonly page: Page;
  constructor(page: Page);
  private find;
  /** Presses the button, link or option of this accessible name. */
  press(name: string, role?: string): Promise<void>;
  /** Presses what shows this text. */
  pressText(text: string): Promise<void>;
  /** Replaces what stands in the field of this label. */
  fill(label: string, text: string, role?: string): Promise<void>;
  /** Waits until the page says this somewhere. */
  sees(text: string, timeout?: number): Promise<void>;
  goes(url: string): Promise<void>;
  /** Everything that is written on the page now. */
  reads(selector?: string): Promise<string>;
}
