import { parentPort, workerData } from 'node:worker_threads';
import type { Answers } from '@chronicon/core/figures';
import { createShaper, layOut, paintPdf } from '@chronicon/server/render';
import { orderOf } from './sixPages.ts';

/** Lays out and paints editions from figures that are known, each with words of its own, as often as it is asked. */
const { answers } = workerData as { answers: Answers };
const shaper = createShaper();
const created = new Date('2026-11-02T08:00:00Z');

parentPort!.on('message', async ({ from, count }: { from: number; count: number }) => {
  for (let i = from; i < from + count; i++)
    await paintPdf(layOut(orderOf(i), answers, shaper), shaper, () => new Uint8Array(), created);
  parentPort!.postMessage(count);
});
