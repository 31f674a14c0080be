import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import { answerAll, STANDARD } from '../figures/index.ts';
import { blocksOf, questionsOf, readDocument } from '../report/index.ts';
import { compose } from './compose.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/index.ts';
import { sampleOf, textsOf } from './gallery/sampleScene.ts';

const KEPT = new URL('../report/upgrade/kept/document.1-first.json', import.meta.url);
const facts = galleryFacts('full', STANDARD);

/** Rows added up by hand: what a report of the first version showed, and has to show. */
function sumOf(measure: string, { from, to }: { from: string; to: string }, channel?: string): number {
  const dataset = facts.find((d) => measure in d.columns.measures && (!channel || 'channel' in d.columns.dims))!;
  const { days, dims, measures } = dataset.columns;
  return measures[measure]!.reduce((sum, value, i) => {
    const isIn = days[i]! >= toDayNumber(from) && days[i]! <= toDayNumber(to);
    const isOf = !channel || dims.channel!.labels[dims.channel!.codes[i]!] === channel;
    return sum + (isIn && isOf ? value : 0);
  }, 0);
}
const written = (n: number) => n.toLocaleString('en-GB');

describe('a report of the first version', () => {
  const document = readDocument(readFileSync(KEPT, 'utf8'));
  const { input } = sampleOf({ rows: [] });
  const answers = answerAll(questionsOf(document, GALLERY_DATES, STANDARD), facts);
  const scene = compose({ ...input, document, answers });
  const texts = textsOf(scene);

  it('opens with all of its parts, in their order, each as wide as the page', () => {
    const blocks = scene.pages.flatMap((p) => p.blocks);
    expect([...new Set(blocks.map((b) => b.id))]).toEqual(blocksOf(document).map((b) => b.id));
    expect(new Set(blocks.map((b) => `${b.x} ${b.w}`)).size).toBe(1);
    expect(texts).toContain('A strong October.');
  });

  it('shows the same figures', () => {
    const { period, compared } = GALLERY_DATES;
    expect(texts).toContain(written(sumOf('visits', period)));
    expect(texts.join(' ')).toContain(written(sumOf('visits', compared)));
    expect(texts).toContain(written(sumOf('orders', period)));
    for (const channel of ['Direct', 'Email', 'Social']) {
      const at = texts.indexOf(channel);
      expect(texts.slice(at, at + 3)).toContain(written(sumOf('visits', period, channel)));
    }
  });

  it('has nothing that it did not ask for', () => {
    for (const later of ['Contents', 'No longer there']) expect(texts.join(' ')).not.toContain(later);
    expect(blocksOf(document).every((b) => !('filter' in b) && !('period' in b) && !('columns' in b))).toBe(true);
  });
});
