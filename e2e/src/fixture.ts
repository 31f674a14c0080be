import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll } from 'vitest';
import { openBrowser } from './browser.ts';
import { launchDemo, type RunningDemo } from './launch.ts';

/** A demo and a browser; each page has cookies of its own. */
interface Fixture {
  demo: RunningDemo;
  newPage(): Promise<Page>;
  close(): Promise<void>;
}

async function openFixture(today: string): Promise<Fixture> {
  // First: nothing is left running where there is no browser.
  const browser = await openBrowser();
  const demo = await launchDemo(today).catch(async (error: unknown) => {
    await browser.close();
    throw error;
  });
  return {
    demo,
    newPage: async () => (await browser.createBrowserContext()).newPage(),
    async close() {
      await browser.close();
      await demo.stop();
    },
  };
}

/** The fixture of a test file, at the morning of the demo's day. */
export function useFixture(): () => Fixture {
  let fixture: Fixture;
  beforeAll(async () => {
    fixture = await openFixture('2026-11-02T10:00:00Z');
  });
  afterAll(() => fixture?.close());
  return () => fixture;
}
