import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { FACE_NAMES, type Scene } from '@chronicon/core/page';
import type { Typefaces } from '@chronicon/core/report';
import { everyScene } from '@chronicon/server/everyBlock';
import { fontPath } from '@chronicon/server/fonts';
import { createShaper, paintPdf } from '@chronicon/server/render';
import { build } from 'esbuild';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser } from './browser.ts';

/** A word where it stands: its ends and its baseline, in points from the top left corner of its sheet. */
interface Word {
  text: string;
  left: number;
  right: number;
  baseline: number;
  /** Of its letters; of a word on paper, 0: it says only where its line ends below. */
  size: number;
  /** Which of its ends are ends of a run that was shaped as one. */
  ofRun: { left: boolean; right: boolean };
}

/** Points by which a word may stand elsewhere on paper than on the screen. */
const NEAR = 0.3;

const hasReaders = ['pdftotext', 'qpdf'].every((tool) => spawnSync(tool, ['--version']).error === undefined);

let folder: string;
let browser: Browser;
let fonts: Server;
const shaper = createShaper();

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-paper-'));
  browser = await openBrowser();
  fonts = createServer((request, response) => {
    const face = decodeURIComponent(request.url!.slice(1)) as keyof typeof FACE_NAMES;
    if (!(face in FACE_NAMES))
      response.writeHead(200, { 'content-type': 'text/html' }).end('<!doctype html><title>Fonts</title>');
    else response.writeHead(200, { 'content-type': 'font/ttf' }).end(readFileSync(fontPath(face)));
  }).listen(0, '127.0.0.1');
});
afterAll(async () => {
  fonts.close();
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
});

/** The interface's own part that paints a sheet, as markup. */
async function markupOf(scene: Scene): Promise<string[]> {
  const outfile = join(import.meta.dirname, '../../build/scenePage.mjs');
  await build({
    entryPoints: [join(import.meta.dirname, '../../packages/web/src/parts/sceneMarkup.ts')],
    bundle: true,
    platform: 'node',
    format: 'esm',
    jsx: 'automatic',
    outfile,
    external: ['react', 'react-dom/server'],
    logLevel: 'error',
  });
  const { markup } = (await import(pathToFileURL(outfile).href)) as { markup(page: unknown, lang: string): string };
  return scene.pages.map((p) => markup(p, scene.lang));
}

/** Opens sheets in the browser with the faces that the renderer embeds. */
async function screen(scene: Scene): Promise<Page> {
  const { port } = fonts.address() as AddressInfo;
  const faces = Object.entries(FACE_NAMES).map(
    ([face, { family, weight }]) =>
      `@font-face { font-family: "${family}"; font-weight: ${weight}; src: url("http://127.0.0.1:${port}/${face}"); }`,
  );
  const page = await browser.newPage();
  await page.goto(`http://127.0.0.1:${port}/`);
  await page.setContent(
    `<style>${faces.join('\n')} svg { width: 1190px; display: block }</style>${(await markupOf(scene)).join('')}`,
  );
  await page.evaluate('document.fonts.ready');
  return page;
}

interface Piece {
  text: string;
  rtl: boolean;
  size: number;
  /** Left and right end of each character. */
  ends: [number, number][];
  baseline: number;
}

/** Every text of every sheet, character by character, as the browser has set it. */
const piecesOn = (page: Page): Promise<Piece[][]> =>
  page.evaluate(`[...document.querySelectorAll('svg')].map((svg) => [...svg.querySelectorAll('text')].map((t) => {
    const text = t.textContent;
    const n = t.getNumberOfChars();
    const ends = [];
    for (let i = 0; i < n; i++) {
      const box = t.getExtentOfChar(i);
      ends.push([box.x, box.x + box.width]);
    }
    return { text, size: Number(t.getAttribute('font-size')), rtl: t.getAttribute('direction') === 'rtl', ends, baseline: t.getStartPositionOfChar(0).y };
  }))`) as Promise<Piece[][]>;

/** Letters of a text without regard to their order: readers write what is read from right to left either way. */
const letters = (text: string): string => Array.from(text.normalize('NFKC').replace(/\p{C}/gu, '')).sort().join('');

/** Characters joined to words as a reader of paper sees them: what stands on one line without a gap. */
function wordsOf(pieces: readonly Piece[]): Word[] {
  const marks = pieces.flatMap(({ text, size, ends, baseline }) => {
    const [from, to] = [Math.min(...ends.map((e) => e[0])), Math.max(...ends.map((e) => e[1]))];
    return ends.map(
      ([left, right], i): Word => ({
        text: text[i]!,
        left,
        right,
        baseline,
        size,
        ofRun: { left: left === from, right: right === to },
      }),
    );
  });
  const words: Word[] = [];
  const lines = new Map<string, Word[]>();
  for (const m of marks) lines.set(m.baseline.toFixed(2), [...(lines.get(m.baseline.toFixed(2)) ?? []), m]);
  for (const line of lines.values()) {
    line.sort((a, b) => a.left - b.left || a.right - b.right);
    let word: Word | null = null;
    for (const { text, left, right, baseline, size, ofRun } of line) {
      if (/\s/u.test(text)) {
        word = null;
        continue;
      }
      if (word && left - word.right < 0.8) {
        word.text += text;
        word.right = Math.max(word.right, right);
        word.ofRun = { left: word.ofRun.left, right: ofRun.right };
      } else {
        word = { text, left, right, baseline, size, ofRun };
        words.push(word);
      }
    }
  }
  return words;
}

/** Words of a file as poppler reads them; in place of a baseline, the lower end of the line that it gives them. */
function paperWords(file: string): Word[][] {
  const html = execFileSync('pdftotext', ['-bbox', file, '-'], { maxBuffer: 64 * 1024 ** 2 }).toString('utf8');
  const plain = (s: string) =>
    s.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&amp;', '&');
  return html
    .split('<page ')
    .slice(1)
    .map((sheet) =>
      [
        ...sheet.matchAll(/<word xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)">(.*?)<\/word>/gs),
      ].map(
        ([, x0, , x1, y1, text]): Word => ({
          text: plain(text!),
          left: Number(x0),
          right: Number(x1),
          baseline: Number(y1),
          size: 0,
          ofRun: { left: true, right: true },
        }),
      ),
    );
}

/** Scripts whose runs are shaped as one by browsers, and of which the ends of runs alone are held to. */
const AS_RUNS = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Script=Thai}]/u;

/** Points between the same word on paper and on the screen, at the end where they are farther apart. */
function distance(paper: Word, seen: Word): number {
  const asRun = AS_RUNS.test(seen.text);
  return Math.max(
    asRun && !seen.ofRun.left ? 0 : Math.abs(paper.left - seen.left),
    asRun && !seen.ofRun.right ? 0 : Math.abs(paper.right - seen.right),
  );
}

describe.skipIf(!hasReaders)('paper beside the screen', () => {
  it.each<[language: string, text: Typefaces['text'], heads: Typefaces['heads']]>([
    ['en-GB', 'sourceSans', 'sourceSerif'],
    ['de-DE', 'sourceSans', 'sourceSerif'],
    ['he-IL', 'sourceSans', 'sourceSerif'],
    ['en-GB', 'inter', 'lora'],
    ['pl-PL', 'plexSans', 'robotoSlab'],
    ['ru-RU', 'workSans', 'libreFranklin'],
  ])(
    'has the same words at the same places on the same sheets, in %s, written with %s and %s',
    async (language, text, heads) => {
      const scene = everyScene(language, shaper, { text, heads });
      const file = join(folder, `${language}-${text}.pdf`);
      writeFileSync(file, await paintPdf(scene, shaper, () => new Uint8Array(), new Date(0)));
      const page = await screen(scene);
      const onScreen = (await piecesOn(page)).map(wordsOf);
      await page.close();
      const onPaper = paperWords(file);
      // A line ends as far beneath its baseline as the typeface reaches down.
      const descents = [...readFileSync(file, 'latin1').matchAll(/\/Descent (-\d+)/g)].map((m) => -Number(m[1]) / 1000);
      expect(onPaper.length).toBe(onScreen.length);
      const far: string[] = [];
      let most = 0;
      let lowest = 0;
      onPaper.forEach((words, sheet) => {
        const left = [...onScreen[sheet]!];
        const alone: Word[] = [];
        const hold = (paper: Word, seen: Word) => {
          const d = distance(paper, seen);
          most = Math.max(most, d);
          if (d > NEAR) far.push(`sheet ${sheet + 1}: “${paper.text}” is ${d.toFixed(2)} pt away`);
          const below = Math.min(...descents.map((e) => Math.abs(paper.baseline - seen.baseline - e * seen.size)));
          lowest = Math.max(lowest, below);
          if (below > NEAR) far.push(`sheet ${sheet + 1}: the line of “${paper.text}” is ${below.toFixed(2)} pt away`);
          left.splice(left.indexOf(seen), 1);
        };
        for (const word of words) {
          const same = left.filter((w) => letters(w.text) === letters(word.text));
          const apart = (w: Word) => distance(word, w) + Math.abs(word.baseline - w.baseline);
          const [near] = same.sort((p, q) => apart(p) - apart(q));
          if (near) hold(word, near);
          else alone.push(word);
        }
        // What is read from right to left is parted at marks and digits by some readers.
        for (const w of [...left]) {
          const parts = alone.filter(
            (p) => p.left > w.left - 1 && p.right < w.right + 1 && Math.abs(p.baseline - w.baseline) < 8,
          );
          if (letters(parts.map((p) => p.text).join('')) !== letters(w.text)) continue;
          for (const p of parts) alone.splice(alone.indexOf(p), 1);
          const ends = { left: Math.min(...parts.map((p) => p.left)), right: Math.max(...parts.map((p) => p.right)) };
          hold({ ...parts[0]!, ...ends, text: w.text }, w);
        }
        for (const w of alone) far.push(`sheet ${sheet + 1}: “${w.text}” stands on paper alone`);
        for (const w of left) far.push(`sheet ${sheet + 1}: “${w.text}” stands on the screen alone`);
      });
      console.log(
        `${language}: ${onPaper.flat().length} words, at most ${most.toFixed(3)} pt apart, their lines ${lowest.toFixed(3)} pt`,
      );
      expect(far).toEqual([]);
    },
  );

  it('is read in the order in which it is set, and is sound to a checker of files', async () => {
    const scene = everyScene('en-GB', shaper);
    const file = join(folder, 'order.pdf');
    writeFileSync(file, await paintPdf(scene, shaper, () => new Uint8Array(), new Date(0)));
    // Words of Latin letters: others may be written in either order.
    const latin = (texts: string) => texts.match(/[A-Za-z]{2,}/g);
    const read = execFileSync('pdftotext', ['-raw', file, '-']).toString('utf8');
    const set = scene.pages.map((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])).join(' ')).join(' ');
    expect(latin(read)).toEqual(latin(set));
    expect(execFileSync('qpdf', ['--check', file]).toString('utf8')).toContain('No syntax or stream encoding errors');
  });
});
