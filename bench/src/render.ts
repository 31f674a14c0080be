import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { FACE_NAMES, type Scene } from '@chronicon/core/page';
import { openBrowser } from '@chronicon/e2e/browser';
import { openFacts } from '@chronicon/server/facts';
import { fontPath } from '@chronicon/server/fonts';
import { createShaper, draw, layOut, paintPdf } from '@chronicon/server/render';
import { median, report, timings } from './measure.ts';
import { orderOf, writeFacts } from './sixPages.ts';

const WORKERS = 2;
/** Editions of each worker that are counted, and prints of each window of the browser. */
const EDITIONS = 100;
const PRINTS = 6;
/** Of each before they count: a thread goes on for days, and its first editions are compiled while they are drawn. */
const WARM = { editions: 200, prints: 2 };
/** Editions over which a process may not grow, and those after which it is taken to have settled. */
const MANY = 2_000;
const SETTLED = 500;
const OWN_FACES = ['sans', 'sansBold', 'serif', 'serifBold'] as const;

/** Documents a minute of two threads that lay out and paint. */
async function oursAMinute(answers: unknown): Promise<number> {
  const file = join(import.meta.dirname, '../../build/bench/renderWorker.mjs');
  const workers = Array.from({ length: WORKERS }, () => new Worker(file, { workerData: { answers } }));
  const done = (w: Worker) => new Promise((resolve) => w.once('message', resolve));
  const all = (from: number, count: number) =>
    Promise.all(
      workers.map((w, i) => {
        const ended = done(w);
        w.postMessage({ from: from + i * 10_000, count });
        return ended;
      }),
    );
  await all(0, WARM.editions);
  const began = performance.now();
  await all(1_000, EDITIONS);
  const minutes = (performance.now() - began) / 60_000;
  await Promise.all(workers.map((w) => w.terminate()));
  return (WORKERS * EDITIONS) / minutes;
}

/** Documents a minute of two windows of one headless browser that print the same pages, tagged. */
async function theirsAMinute(scenes: (i: number) => Scene): Promise<number> {
  const { markup } = (await import(
    pathToFileURL(join(import.meta.dirname, '../../build/bench/scenePage.mjs')).href
  )) as {
    markup(page: unknown, lang: string): string;
  };
  const faces = OWN_FACES.map((face) => {
    const { family, weight } = FACE_NAMES[face];
    const data = readFileSync(fontPath(face)).toString('base64');
    return `@font-face { font-family: "${family}"; font-weight: ${weight}; src: url(data:font/ttf;base64,${data}) }`;
  });
  const style =
    '@page { size: A4; margin: 0 } body { margin: 0 } svg { width: 210mm; height: 296.9mm; display: block }';
  const browser = await openBrowser();
  const pages = await Promise.all(
    Array.from({ length: WORKERS }, async () => {
      const page = await browser.newPage();
      await page.setContent(`<style>${faces.join('\n')} ${style}</style><main></main>`);
      return page;
    }),
  );
  const print = async (w: number, from: number, count: number) => {
    for (let i = from; i < from + count; i++) {
      const { pages: sheets, lang } = scenes(i);
      const html = sheets.map((p) => markup(p, lang)).join('');
      await pages[w]!.evaluate(
        `document.querySelector('main').innerHTML = ${JSON.stringify(html)}; document.fonts.ready`,
      );
      await pages[w]!.pdf({ preferCSSPageSize: true, printBackground: true, tagged: true });
    }
  };
  const all = (from: number, count: number) => Promise.all(pages.map((_, w) => print(w, from + w * 10_000, count)));
  await all(0, WARM.prints);
  const began = performance.now();
  await all(1_000, PRINTS);
  const minutes = (performance.now() - began) / 60_000;
  await browser.close();
  return (WORKERS * PRINTS) / minutes;
}

/** The renderer by itself, figures known: layout, shaping, tagged PDF; beside a browser that prints the same pages. */
export async function benchRender(folder: string): Promise<void> {
  await writeFacts(folder);
  const facts = await openFacts(folder);
  const shaper = createShaper();
  const created = new Date('2026-11-02T08:00:00Z');
  const { answers } = await draw(orderOf(0), facts, shaper);
  await facts.destroy();
  let size = 0;
  const print = async (i: number) => {
    const scene = layOut(orderOf(i), answers, shaper);
    size = (await paintPdf(scene, shaper, () => new Uint8Array(), created)).length;
  };
  report('six pages, tagged: layout and PDF, words never shaped', await timings(60, 20, print), 50);
  report('six pages, tagged: layout and PDF, shaping cached', await timings(60, 20, () => print(7)), 35);
  report('six pages, tagged: size', [size / 1024], 170, 'kB');
  const ours = await oursAMinute(answers);
  const theirs = await theirsAMinute((i) => layOut(orderOf(i), answers, shaper));
  console.log(`two workers: ${ours.toFixed(0)} a minute; a browser's two windows: ${theirs.toFixed(0)} a minute`);
  report(
    `prints of a browser for each of ours (${(ours / theirs).toFixed(1)} times as many)`,
    [(theirs / ours) * 8],
    1,
    'of 1/8',
  );
  const sizes: number[] = [];
  for (let i = 0; i < MANY; i++) {
    await print(20_000 + i);
    if (i % 100 === 99) sizes.push(process.memoryUsage().rss / 1024 ** 2);
  }
  const [before, after] = [sizes.slice(SETTLED / 100 - 2, SETTLED / 100 + 3), sizes.slice(-5)].map(median) as [
    number,
    number,
  ];
  console.log(`memory after ${SETTLED} editions ${before.toFixed(0)} MB, after ${MANY} ${after.toFixed(0)} MB`);
  report(`memory after ${MANY} editions to that after ${SETTLED}`, [after / before], 1.1, '');
}
