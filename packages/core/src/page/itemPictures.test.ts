import { describe, expect, it } from 'vitest';
import { type Answers, answerAll, picturesOf, STANDARD } from '../figures/index.ts';
import { type Block, type Logo, questionsOf } from '../report/index.ts';
import { compose } from './compose.ts';
import { pageFaults } from './gallery/index.ts';
import { plainRuler, sampleOf, textsOf } from './gallery/sampleScene.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/states.ts';

const standouts = {
  kind: 'standouts',
  id: 'a',
  metric: 'visits',
  dimension: 'channel',
  ends: 'best',
  n: 3,
  title: 'Best',
} as Block;
const small: Logo = { kind: 'image', file: 'f'.repeat(64), type: 'image/jpeg', width: 240, height: 240, pale: false };
const at = (label: string) => `https://pictures.example/${label}`;

/** The block from the gallery's facts, each item with an address of its picture. */
function drawn(pictures?: Record<string, Logo | null>, language = 'en-GB') {
  const { document, input } = sampleOf({ rows: [[standouts]], language });
  const found = answerAll(questionsOf(document, GALLERY_DATES, STANDARD), galleryFacts('full', STANDARD));
  const answers: Answers = Object.fromEntries(
    Object.entries(found).map(([key, a]) => {
      if (a.op !== 'items' || 'na' in a.standing) return [key, a];
      const named = a.standing.best.map((i) => ({ ...i, picture: at(i.label) }));
      return [key, { ...a, standing: { ...a.standing, best: named, worst: [] } }];
    }),
  );
  const labels = Object.values(answers).flatMap((a) =>
    a.op === 'items' && !('na' in a.standing) ? a.standing.best.map((i) => i.label) : [],
  );
  const scene = compose({ ...input, answers, pictures, ruler: plainRuler });
  const images = scene.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'image' ? [op] : [])));
  return { scene, answers, labels, images, faults: scene.pages.flatMap(pageFaults) };
}

describe('pictures of items that stand out', () => {
  it('are wanted each once, and not of items that have none', () => {
    const { answers, labels } = drawn();
    expect(labels).toHaveLength(3);
    expect(picturesOf(answers)).toEqual(labels.map(at));
    const twice = { ...answers, again: Object.values(answers).find((a) => a.op === 'items')! };
    expect(picturesOf(twice)).toEqual(labels.map(at));
    expect(picturesOf({})).toEqual([]);
  });

  it('stand before their labels, each with its label as what it shows', () => {
    const { labels } = drawn();
    const { images, faults, scene } = drawn(Object.fromEntries(labels.map((l) => [at(l), small])));
    expect(faults).toEqual([]);
    expect(images.map((i) => i.alt)).toEqual(labels.map((l) => `Picture: ${l}`));
    for (const image of images) {
      const label = scene.pages[0]!.ops.find((op) => op.k === 'text' && image.alt.endsWith(`: ${op.text}`))!;
      expect(label).toMatchObject({ k: 'text' });
      if (label.k !== 'text') continue;
      expect(label.x).toBeGreaterThan(image.x + image.w);
      // Beside the middle of it.
      expect(Math.abs(label.y - label.size * 0.35 - (image.y + image.h / 2))).toBeLessThan(3);
    }
  });

  it('leave a blank where one is not to be had, and no room where none is', () => {
    const { labels } = drawn();
    const one = drawn({ [at(labels[0]!)]: small, [at(labels[1]!)]: null });
    expect(one.images).toHaveLength(1);
    const [image] = one.images;
    const blanks = one.scene.pages[0]!.ops.filter(
      (op) => op.k === 'rect' && op.x === image!.x && op.w === image!.w && op.h === image!.h,
    );
    expect(blanks).toHaveLength(2);
    const lost = drawn(Object.fromEntries(labels.map((l) => [at(l), null])));
    expect(lost.scene).toEqual(drawn().scene);
    expect(textsOf(lost.scene)).toEqual(expect.arrayContaining(labels));
  });

  it('stand on the other side where the page is read from right to left', () => {
    const { labels } = drawn();
    const { images, faults } = drawn(Object.fromEntries(labels.map((l) => [at(l), small])), 'he-IL');
    expect(faults).toEqual([]);
    for (const image of images) expect(image.x + image.w).toBeGreaterThan(595.28 / 2);
  });
});
