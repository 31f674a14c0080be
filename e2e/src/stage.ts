import type { Page } from 'puppeteer-core';
import { openBrowser } from './browser.ts';
import { launchDemo, type RunningDemo } from './launch.ts';

/** A demo and a browser that several suites use one after the other; each has cookies of its own. */
export interface Stage {
  demo: RunningDemo;
  newPage(): Promise<Page>;
  close(): Promise<void>;
}

export async function openStage(today: string): Promise<Stage> {
  const demo = await launchDemo(today);
  const browser = await openBrowser();
  return {
    demo,
    newPage: async () => (await browser.createBrowserContext()).newPage(),
    async close() {
      await browser.close();
      await demo.stop();
    },
  };
}
