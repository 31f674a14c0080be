import type { Page } from 'puppeteer-core';
import { report } from './measure.ts';

/** Moves of the hand over the sheets, and milliseconds between two of them. */
const MOVES = 240;
const PACE = 8;
/** Milliseconds of a frame at 30 a second. */
const FRAME = 33.3;
/** Edits of one session, and those after which it is taken to have settled. */
const EDITS = 500;
const SETTLED = 100;
/** Bytes by which the heap may grow over all of them: what takes each edit back is kept, and that is all. */
const GROWTH = 3 * 1024 * 1024;

/** Milliseconds from each frame to the next while a block is dragged over all sheets of a report. */
export async function benchDragging(page: Page): Promise<void> {
  await page.waitForSelector('.sheet-block');
  const box = await page.evaluate(() => {
    const well = document.querySelector('.desk-well')!.getBoundingClientRect();
    const blocks = [...document.querySelectorAll('.sheet-block')].map((e) => e.getBoundingClientRect());
    const block = blocks.find((r) => r.top > well.top + 50 && r.top + 30 < well.bottom)!;
    const { top, bottom, left, right } = well;
    return { x: block.x + block.width / 2, y: block.y + 12, top, bottom, left, right };
  });
  const { mouse } = page;
  await mouse.move(box.x, box.y);
  await mouse.down();
  await mouse.move(box.x + 10, box.y + 10, { steps: 4 });
  await page.waitForSelector('.drop-line');
  await page.evaluate(() => {
    const w = window as unknown as { frames: number[]; counting: boolean };
    w.frames = [];
    w.counting = true;
    let last = performance.now();
    const next = (now: number) => {
      w.frames.push(now - last);
      last = now;
      if (w.counting) requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  for (let i = 0; i < MOVES; i++) {
    const part = i / MOVES;
    const x = box.left + 60 + (box.right - box.left - 120) * Math.abs(((part * 6) % 2) - 1);
    // Down to the edge, where the sheets scroll beneath the hand, and up again.
    const y = box.top + 60 + (box.bottom - box.top - 66) * Math.abs(((part * 4) % 2) - 1);
    await mouse.move(x, y);
    await new Promise((resolve) => setTimeout(resolve, PACE));
  }
  const frames = await page.evaluate(() => {
    const w = window as unknown as { frames: number[]; counting: boolean };
    w.counting = false;
    return w.frames.slice(1);
  });
  await page.keyboard.press('Escape');
  await mouse.up();
  report('Composer, 12 sheets: a block dragged over them, frame to frame', frames, FRAME, 'ms', 'p95');
}

/** Bytes by which the heap of a page grows over many edits, garbage collected before and after. */
export async function benchEdits(page: Page, edit: (i: number) => Promise<void>): Promise<void> {
  const devtools = await page.createCDPSession();
  const heap = async (): Promise<number> => {
    for (let i = 0; i < 3; i++) await devtools.send('HeapProfiler.collectGarbage');
    return (await devtools.send('Runtime.getHeapUsage')).usedSize;
  };
  let before = 0;
  for (let i = 0; i < SETTLED + EDITS; i++) {
    if (i === SETTLED) before = await heap();
    await edit(i);
  }
  const after = await heap();
  const kb = (n: number) => n / 1024;
  console.log(
    `  heap after ${SETTLED} edits ${kb(before).toFixed(0)} kB, after ${EDITS} more ${kb(after).toFixed(0)} kB`,
  );
  report(`Composer: what ${EDITS} edits leave on the heap`, [kb(Math.max(0, after - before))], kb(GROWTH), 'kB');
  await devtools.detach();
}
