import { join } from 'node:path';
import { openBrowser } from '@chronicon/e2e/browser';
import { createClient, openServer, readConfig } from '@chronicon/server';
import { openFacts, replaceDays, saveDataset } from '@chronicon/server/facts';
import { startSimulators } from '@chronicon/simulators';
import type { Page } from 'puppeteer-core';
import { MEASURES, months, rowsOf } from './figures.ts';
import { report } from './measure.ts';
import { EMAIL, launch, makeAgency, PASSWORD, QUILLON, ROOT, settings } from './server.ts';

const PER_DAY = 200;
const DIMENSIONS = ['channel', 'device', 'landingPage'];

/** An agency with one client of three years of 200 rows a day. */
async function furnish(folder: string, env: Record<string, string>): Promise<string> {
  const api = await openServer(readConfig(env));
  const client = await createClient(api.store, QUILLON, { managerId: await makeAgency(api), at: api.clock.now() });
  await api.shut();
  const facts = await openFacts(folder);
  const spec = { key: 'visits', name: 'Visits', firstDay: '2023-11-01', dimensions: DIMENSIONS, measures: MEASURES };
  const id = await saveDataset(facts, { feedId: 'fe_bench', clientId: client.id, position: 0 }, spec);
  for (const range of months('2023-11-01', '2026-10-31')) {
    await replaceDays(facts, id, spec, range, rowsOf(1, DIMENSIONS, range, PER_DAY), '2026-11-01T05:00:00.000Z');
  }
  await facts.destroy();
  return client.id;
}

/** Milliseconds from choosing one more value of the filter to the frame that shows its figures: never asked before. */
const changeFilter = (page: Page): Promise<number> =>
  page.evaluate(async () => {
    const total = () => document.querySelector('.total-figure')?.textContent;
    const before = total();
    const option = document.querySelector<HTMLElement>('.values input:not(:checked)');
    if (!option) throw new Error('no value is left to choose');
    const began = performance.now();
    option.click();
    await new Promise<void>((resolve) => {
      const watch = new MutationObserver(() => {
        if (total() === before) return;
        watch.disconnect();
        requestAnimationFrame(() => setTimeout(resolve, 0));
      });
      watch.observe(document.body, { subtree: true, childList: true, characterData: true });
    });
    return performance.now() - began;
  });

/** A change of the filter on the Figures screen, in a browser, over three years of 200 rows a day. */
export async function benchFiguresScreen(folder: string): Promise<void> {
  const smtpPort = 4393;
  const simulators = await startSimulators({ smtpPort });
  const env = {
    ...settings(folder, simulators, smtpPort),
    CHRONICON_TODAY: '2026-11-01T08:42:00Z',
    CHRONICON_WEB: join(ROOT, 'build/web'),
  };
  const client = await furnish(folder, env);
  const server = launch(env);
  const url = await server.ready;
  const browser = await openBrowser();
  try {
    const page = await browser.newPage();
    await page.goto(url, { waitUntil: 'networkidle0' });
    await page.evaluate(
      (body) =>
        fetch('/api/session', { method: 'POST', headers: { 'content-type': 'application/json' }, body }).then(() => {}),
      JSON.stringify({ email: EMAIL, password: PASSWORD }),
    );
    for (const [name, step] of [
      ['month by month', 'month'],
      ['day by day', 'day'],
    ] as const) {
      const query = new URLSearchParams({
        client,
        metrics: 'visits,revenue',
        period: '2023-11-01..2026-10-31',
        compare: 'none',
        step,
        filter: 'landingPage=landingPage 0',
      });
      await page.goto(`${url}/figures?${query}`, { waitUntil: 'networkidle0' });
      await (await page.waitForSelector('button[aria-label^="Filter"]'))!.click();
      await page.waitForFunction(() => document.querySelectorAll('.values input').length > 30);
      const times: number[] = [];
      for (let i = 0; i < 32; i++) {
        const took = await changeFilter(page);
        if (i >= 6) times.push(took);
        await page.waitForNetworkIdle({ idleTime: 100 });
      }
      report(`Figures: change of filter, three years ${name}`, times, 150);
    }
  } finally {
    await browser.close();
    server.child.kill('SIGTERM');
    await server.ended;
    await simulators.close();
  }
}
