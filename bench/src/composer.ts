import { join } from 'node:path';
import { openBrowser } from '@chronicon/e2e/browser';
import { createClient, createReport, openServer, readConfig } from '@chronicon/server';
import { startSimulators } from '@chronicon/simulators';
import type { Page } from 'puppeteer-core';
import { benchDragging, benchEdits } from './composing.ts';
import { report } from './measure.ts';
import { EMAIL, launch, makeAgency, PASSWORD, QUILLON, ROOT, settings } from './server.ts';
import { writeFacts } from './sixPages.ts';
import { twelveSheets } from './twelveSheets.ts';

const TIMES = 60;
const WARM = 8;
/** Blocks, and dates that each is given: every question of them is new. */
const DATED = ['kpiRow', 'trend', 'drivers', 'share', 'standouts', 'stages'];
const DATES = ['the week before', 'the 28 days before', 'the 90 days before', 'the quarter before', 'the year before'];

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
      w.began = 0;
      const begin = () => {
        w.began = performance.now();
      };
      addEventListener('keydown', begin, { capture: true, once: true });
      w.painted = new Promise((resolve) => {
        const watch = new MutationObserver((changes) => {
          const elementOf = (node: Node) => (node instanceof Element ? node : node.parentElement);
          if (!changes.some(({ target }) => elementOf(target)?.closest('svg.paper'))) return;
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
  const simulators = await startSimulators({ smtpPort });
  const env = {
    ...settings(folder, simulators, smtpPort),
    CHRONICON_TODAY: '2026-11-02T08:42:00Z',
    CHRONICON_WEB: join(ROOT, 'build/web'),
  };
  const { report: id, document: design } = await furnish(folder, env);
  const server = launch(env);
  const url = await server.ready;
  const browser = await openBrowser();
  try {
    const page = await browser.newPage();
    // What is not saved yet is left behind.
    page.on('dialog', (dialog) => void dialog.accept());
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
    const measure = async (
      what: string,
      limit: number,
      n: number,
      ready: (i: number) => Promise<() => Promise<void>>,
    ) => {
      const times: number[] = [];
      for (let i = 0; i < n + WARM; i++) {
        const took = await until(page, await ready(i));
        if (i >= WARM) times.push(took);
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
      report(what, times, limit, 'ms', 'p95');
    };
    await open('heading');
    const words = (await page.waitForSelector('::-p-aria(Words[role="textbox"])'))!;
    await words.click();
    await page.keyboard.press('End');
    await measure(
      'Composer, 12 sheets: a letter in a heading, painted',
      100,
      TIMES,
      async (i) => () => page.keyboard.press(i % 2 === 0 ? 'x' : 'Backspace'),
    );
    await open('kpiRow');
    const [down, up] = [
      await page.waitForSelector('::-p-aria(Down[role="button"])'),
      await page.waitForSelector('::-p-aria(Up[role="button"])'),
    ];
    await measure('Composer, 12 sheets: a part moved, painted', 100, TIMES, async (i) => {
      await (i % 2 === 0 ? down : up)!.focus();
      return () => page.keyboard.press('Enter');
    });
    /** A choice of a part of the sentence above a block's fields, ready to be taken by the space bar. */
    const choice = async (about: string, label: string) => {
      await (await page.waitForSelector(`button[aria-label^="${about}"]`))!.click();
      await (await page.waitForSelector(`::-p-aria(${label}[role="radio"])`))!.focus();
      return () => page.keyboard.press('Space');
    };
    await open('topics');
    await measure('Composer, 12 sheets: a part wider and narrower, painted', 100, TIMES, (i) =>
      choice('Width of the block', i % 2 === 0 ? 'half the width' : 'the whole width'),
    );
    const times: number[] = [];
    for (const kind of DATED) {
      await open(kind);
      for (const dates of DATES) times.push(await until(page, await choice('Dates of the block', dates)));
    }
    report('Composer, 12 sheets: a question that is new, painted', times, 300, 'ms', 'p95');
    await page.goto(`${url}/reports/${id}?zoom=whole`, { waitUntil: 'networkidle0' });
    await page.waitForFunction(() => document.querySelectorAll('.desk-well svg').length >= 12);
    await benchDragging(page);
    await open('kpiRow');
    await page.focus('.outline button[aria-pressed="true"]');
    // Each is a step that can be taken back, and is drawn.
    await benchEdits(page, async (i) => {
      const keys = async () => {
        await page.keyboard.down('Alt');
        await page.keyboard.press(i % 2 === 0 ? 'ArrowDown' : 'ArrowUp');
        await page.keyboard.up('Alt');
      };
      await until(page, keys);
    });
  } finally {
    await browser.close();
    server.child.kill('SIGTERM');
    await server.ended;
    await simulators.close();
  }
}
