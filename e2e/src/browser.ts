import { existsSync } from 'node:fs';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';

/** Milliseconds after which a page is taken to hang: far beyond what a busy machine needs. */
const LONG = 120_000;

const PLACES = [
  '/usr/bin/chromium-headless-shell',
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
];

export function openBrowser(): Promise<Browser> {
  const executablePath = [process.env.CHROMIUM, ...PLACES].find((p) => p && existsSync(p));
  if (!executablePath) throw new Error('no Chromium found; name one in CHROMIUM');
  return puppeteer.launch({
    executablePath,
    headless: executablePath.endsWith('headless-shell') ? 'shell' : true,
    timeout: LONG,
    protocolTimeout: LONG * 2,
    defaultViewport: { width: 1280, height: 800 },
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      // What moves is waited for, frame by frame.
      '--force-prefers-reduced-motion',
    ],
  });
}

/** A person at a page: finds things by what they say, as a reader or a screen reader would. */
export class Person {
  constructor(readonly page: Page) {
    page.setDefaultTimeout(LONG);
    // Goes where they mean to go, whatever the browser asks about what is not saved.
    page.on('dialog', (dialog) => void dialog.accept().catch(() => {}));
  }

  private async find(selector: string): Promise<ElementHandle> {
    const handle = await this.page.waitForSelector(selector, { visible: true, timeout: LONG });
    if (!handle) throw new Error(`nothing like ${selector}`);
    return handle;
  }

  /** For whoever looks for what went wrong: a picture of it, in the folder that they name. */
  private async picture(): Promise<void> {
    const folder = process.env.CHRONICON_PICTURES;
    if (folder) await this.page.screenshot({ path: `${folder}/lost.png` });
  }

  /** Presses what stands still and can be pressed; what is drawn anew meanwhile is looked for again. */
  private async click(selector: string): Promise<void> {
    await this.page
      .locator(selector)
      .setTimeout(20_000)
      .click()
      .catch(async () => {
        await this.picture();
        throw new Error(
          `${selector} cannot be pressed on ${this.page.url()}, which says:\n${await this.reads('main')}`,
        );
      });
  }

  /** Presses the button, link or option of this accessible name. */
  async press(name: string, role = ''): Promise<void> {
    await this.click(`::-p-aria(${name}${role && `[role="${role}"]`})`);
  }

  /** Presses what shows this text. */
  async pressText(text: string): Promise<void> {
    await this.click(`::-p-text(${text})`);
  }

  /** Replaces what stands in the field of this label. */
  async fill(label: string, text: string, role = ''): Promise<void> {
    const field = await this.find(`::-p-aria(${label}${role && `[role="${role}"]`})`);
    const type = await field.evaluate((e) => (e as HTMLInputElement).type);
    if (/^(date|time|datetime-local)$/.test(type)) {
      // Parted fields take keys in the order of the browser's own language; the value is what a person would read.
      await field.evaluate((e, value) => {
        const input = e as HTMLInputElement;
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
        set.call(input, value);
        input.dispatchEvent(new Event('input', { bubbles: true }));
        input.dispatchEvent(new Event('change', { bubbles: true }));
      }, text);
      return;
    }
    await field.click({ count: 3 });
    await this.page.keyboard.press('Backspace');
    // Inserted at once, like a paste. Tests that need single key presses send them themselves.
    if (text !== '') await this.page.keyboard.sendCharacter(text);
    // A date's calendar closes when its field is left.
    if (await field.evaluate((e) => e.hasAttribute('data-dates-input'))) await this.page.keyboard.press('Tab');
  }

  /** Takes a choice of the list that this selector finds. */
  async choose(selector: string, value: string): Promise<void> {
    await this.page.waitForSelector(`${selector} option[value="${value}"]`).catch(async () => {
      await this.picture();
      throw new Error(
        `${value} is no choice of ${selector} on ${this.page.url()}, which says:\n${await this.reads('main')}`,
      );
    });
    await this.page.select(selector, value);
  }

  /** Waits until the page says this somewhere. */
  async sees(text: string, timeout = LONG): Promise<void> {
    const said = (t: string) => document.body.textContent?.includes(t) ?? false;
    await this.page.waitForFunction(said, { timeout, polling: 100 }, text).catch(async () => {
      await this.picture();
      throw new Error(`"${text}" is nowhere on ${this.page.url()}, which says:\n${await this.reads('#root main')}`);
    });
  }

  /** Signs in on the demo's page as one of its people, and sees the Desk. */
  async comesIn(url: string, name: string): Promise<void> {
    await this.goes(url);
    await this.pressText(name);
    await this.sees('Needs attention');
  }

  async goes(url: string): Promise<void> {
    await this.page.goto(url, { waitUntil: 'load' });
    await this.settles();
  }

  /** Goes to another place of the application that is open, as its own links do: nothing is loaded anew. */
  async turnsTo(path: string): Promise<void> {
    await this.page.evaluate((to) => {
      history.pushState({}, '', to);
      dispatchEvent(new PopStateEvent('popstate', { state: {} }));
    }, path);
    await this.settles();
  }

  /** Waits until the page shows what it came for: nothing of it loads any more, and for a moment nothing has changed. */
  async settles(): Promise<void> {
    await this.page
      .waitForFunction(
        () =>
          (document.querySelector('#root') === null || document.querySelector('main') !== null) &&
          document.querySelector('[aria-busy="true"]') === null,
        { timeout: LONG, polling: 50 },
      )
      .catch(async () => {
        await this.picture();
        throw new Error(`${this.page.url()} never comes to rest; it says:\n${await this.reads()}`);
      });
    await this.page.evaluate(
      () =>
        new Promise<void>((resolve) => {
          let timer = setTimeout(resolve, 150);
          const observer = new MutationObserver(() => {
            clearTimeout(timer);
            timer = setTimeout(resolve, 150);
          });
          observer.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
          // Some pages never rest.
          setTimeout(resolve, 3_000);
        }),
    );
  }

  /** Everything that is written on the page now. */
  async reads(selector = 'body'): Promise<string> {
    return (await this.find(selector)).evaluate((e) => e.textContent ?? '');
  }
}
