import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll } from 'vitest';
import { openBrowser } from './browser.ts';
import { launchDemo, type RunningDemo } from './launch.ts';

/** A demo and a browser; each page has cookies of its own. */
interface Stage {
  demo: RunningDemo;
  newPage(): Promise<Page>;
  close(): Promise<void>;
}

async function openStage(today: string): Promise<Stage> {
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

/** The stage of a test file, at the morning of the demo's day. */
export function useStage(): () => Stage {
  let stage: Stage;
  beforeAll(async () => {
    stage = await openStage('2026-11-02T10:00:00Z');
  });
  afterAll(() => stage?.close());
  return () => stage;
}
