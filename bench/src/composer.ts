import { join } from 'node:path';
import { openBrowser } from '@chronicon/e2e/browser';
import { createClient, createReport, openServer, readConfig } from '@chronicon/server';
import { startStandins } from '@chronicon/standins';
import type { Page } from 'puppeteer-core';
import { report } from './measure.ts';
import { EMAIL, launch, makeAgency, PASSWORD, QUILLON, ROOT, settings } from './server.ts';
import { writeFacts } from './sixPages.ts';
import { twelveSheets } from './twelveSheets.ts';

const TIMES = 60;
const WARM = 8;

/** An agency with one client and its report of twelve sheets. */
async function furnish(folder: string, env: Record<string, string>) {
  const api = await openServer(readConfig(env));
  const client = await createClient(api.store, QUILLON, { managerId: await makeAgency(api), at: api.clock.now() });
  const document = twelveSheets();
  const made = await createReport(api.store, {
    clientId: client.id,
    title: 'Twelve sheets',
    document,
    at: api.clock.now(),
  });
  await api.shut();
  await writeFacts(folder, client.id);
  return { report: made.id, document };
}

/** Milliseconds from what a hand does to the frame in which a sheet has changed. */
const until = (page: Page, act: () => Promise<void>): Promise<number> =>
  page
    .evaluate(() => {
      const w = window as unknown as { began: number; painted: Promise<number> };
      const sheets = document.querySelector('.desk-well')!;
      const text = sheets.innerHTML;
      w.began = 0;
      const begin = () => {
        w.began = performance.now();
      };
      for (const event of ['keydown', 'pointerdown']) addEventListener(event, begin, { capture: true, once: true });
      w.painted = new Promise((resolve) => {
        const watch = new MutationObserver(() => {
          if (sheets.innerHTML === text) return;
          watch.disconnect();
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - w.began), 0));
        });
        watch.observe(sheets, { subtree: true, childList: true, characterData: true, attributes: true });
      });
    })
    .then(act)
    .then(() => page.evaluate(() => (window as unknown as { painted: Promise<number> }).painted));

/** From the keypress to the painted sheet, in a browser, in a report of twelve sheets with every kind of block. */
export async function benchComposer(folder: string): Promise<void> {
  const smtpPort = 4394;
  const standins = await startStandins({ smtpPort });
  const env = {
    ...settings(folder, standins, smtpPort),
    CHRONICON_TODAY: '2026-11-02T08:42:00Z',
    CHRONICON_WEB: join(ROOT, 'build/web'),
  };
  const { report: id, document: design } = await furnish(folder, env);
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
    const blocks = design.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
    const open = async (kind: string) => {
      const block = blocks.filter((b) => b.kind === kind).at(-1)!;
      await page.goto(`${url}/reports/${id}?block=${block.id}`, { waitUntil: 'networkidle0' });
      await page.waitForFunction(() => document.querySelectorAll('.desk-well svg').length >= 12);
    };
    const measure = async (what: string, limit: number, act: (i: number) => Promise<void>) => {
      const times: number[] = [];
      for (let i = 0; i < TIMES + WARM; i++) {
        const took = await until(page, () => act(i));
        if (i >= WARM) times.push(took);
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
      report(what, times, limit);
    };
    await open('heading');
    const words = (await page.waitForSelector('::-p-aria(Words[role="textbox"])'))!;
    await words.click();
    await page.keyboard.press('End');
    await measure('Composer, 12 sheets: a letter in a heading, painted', 100, (i) =>
      i % 2 === 0 ? page.keyboard.press('x') : page.keyboard.press('Backspace'),
    );
    await open('kpiRow');
    const down = await page.waitForSelector('::-p-aria(Move down)');
    const up = await page.waitForSelector('::-p-aria(Move up)');
    await measure('Composer, 12 sheets: a part moved, painted', 100, async (i) => (i % 2 === 0 ? down! : up!).click());
    await open('topics');
    const choose = async (label: string, button: string) => {
      await (await page.waitForSelector(`button[aria-label^="Width of the block"]`))!.click();
      const option = await page.waitForSelector(`::-p-aria(${label}[role="radio"])`);
      return { option: option!, button };
    };
    const widths: number[] = [];
    for (let i = 0; i < 24; i++) {
      const { option } = await choose(i % 2 === 0 ? 'half the width' : 'the whole width', '');
      const took = await until(page, () => option.click());
      if (i >= 4) widths.push(took);
      await new Promise((resolve) => setTimeout(resolve, 60));
    }
    report('Composer, 12 sheets: a part wider and narrower, painted', widths, 100);
    const rows = (await page.waitForSelector('::-p-aria(Topics at most)'))!;
    await rows.click();
    await measure('Composer, 12 sheets: a question that is new, painted', 300, (i) =>
      page.keyboard.press(i % 12 < 6 ? 'ArrowUp' : 'ArrowDown'),
    );
  } finally {
    await browser.close();
    server.child.kill('SIGTERM');
    await server.ended;
    await standins.close();
  }
}
