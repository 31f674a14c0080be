import { join } from 'node:path';
import { openFacts } from '@chronicon/server/facts';
import { createShaper, draw, paintPdf } from '@chronicon/server/render';
import { report, timings } from './measure.ts';
import { orderOf, writeFacts } from './sixPages.ts';

/** A six-page edition from facts to PDF bytes, in one warm process. */
export async function benchEdition(folder: string): Promise<void> {
  await writeFacts(folder);
  const facts = await openFacts(folder);
  const shaper = createShaper();
  const created = new Date('2026-11-02T08:00:00Z');
  const { scene } = await draw(orderOf(0), facts, shaper);
  const texts = scene.pages.flatMap((p) => p.ops.filter((op) => op.k === 'text')).length;
  const paths = scene.pages.flatMap((p) => p.ops.filter((op) => op.k !== 'text')).length;
  console.log(
    `fixture: ${scene.pages.length} pages, ${texts} texts, ${paths} other primitives (${join(folder, 'facts.db')})`,
  );
  let size = 0;
  const figures = await timings(60, 20, async (i) => draw(orderOf(i), facts, shaper));
  report('six pages: figures and layout', figures, 60);
  const whole = await timings(60, 20, async (i) => {
    const drawn = await draw(orderOf(i), facts, shaper);
    size = (await paintPdf(drawn.scene, shaper, () => new Uint8Array(), created)).length;
  });
  report(`six pages: figures, layout and PDF (${Math.round(size / 1024)} kB)`, whole, 60);
  await facts.destroy();
}
