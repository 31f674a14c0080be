import { facesOf } from '@chronicon/core/page';
import { composeGallery, GALLERY_STATES, type GalleryState, pageFaults } from '@chronicon/core/page/gallery';
import { BLOCK_KINDS, TYPEFACES, type Typefaces } from '@chronicon/core/report';
import { LOCALES, wordsFor } from '@chronicon/core/words';
import { describe, expect, it } from 'vitest';
import { createShaper } from './shaper.ts';

const shaper = createShaper();

/** One locale of each language: what differs between the others is numbers and dates. All of them: `npm run paper`. */
const LANGUAGES = LOCALES.map((l) => l.value).filter(
  (l, i, all) => process.env.CHRONICON_REPORTS || all.findIndex((o) => o.slice(0, 2) === l.slice(0, 2)) === i,
);
/** Those with the longest words, and that which is read from right to left: rows by the hundred are set in these. */
const WIDE = process.env.CHRONICON_REPORTS ? /./ : /^(de|ru|he)/;

/** The kinds whose pages are not as they should be. */
function faultyIn(language: string, state: GalleryState, typefaces?: Typefaces): Record<string, string[]> {
  const found: Record<string, string[]> = {};
  for (const page of composeGallery(language, state, shaper, null, typefaces).pages) {
    const kind = page.blocks[0]?.id.split('-')[0] ?? 'notes';
    const faults = pageFaults(page);
    if (faults.length > 0) found[kind] = [...(found[kind] ?? []), ...faults];
  }
  return found;
}

describe('every kind of block, alone and two and three abreast, in every language', () => {
  it.each(GALLERY_STATES)('with figures that are %s: none over another, none beside the paper, none cut', (state) => {
    const languages = state === 'huge' ? LANGUAGES.filter((l) => WIDE.test(l)) : LANGUAGES;
    const faults = languages.map((language) => ({ language, ...faultyIn(language, state) }));
    expect(faults).toEqual(languages.map((language) => ({ language })));
  });

  it.each(TYPEFACES.map((t, i) => ({ ...t, heads: TYPEFACES[(i + 3) % TYPEFACES.length]!.key })))(
    'written with $name, and with $heads what stands large: the same, in letters of the house where it has none',
    ({ key, heads }) => {
      const typefaces = { text: key, heads };
      const tried = [
        ['en-GB', 'full'],
        ['ru-RU', 'partial'],
      ] as const;
      for (const [language, state] of tried) expect(faultyIn(language, state, typefaces)).toEqual({});
      const faces = new Set(
        composeGallery('pl-PL', 'full', shaper, 'kpiRow', typefaces).pages.flatMap((p) =>
          p.ops.flatMap((op) => (op.k === 'text' ? [op.face] : [])),
        ),
      );
      const { serif: _, ...written } = facesOf(typefaces);
      expect([...faces].sort()).toEqual([...new Set(Object.values(written))].sort());
    },
  );

  it('has a name in each language, a new one that can be saved, and a place in the gallery', () => {
    for (const { value } of LOCALES) {
      const words = wordsFor(value);
      expect(Object.keys(words.blocks).sort(), value).toEqual(BLOCK_KINDS.map((k) => k.kind).sort());
      for (const kind of BLOCK_KINDS) {
        expect(words.blocks[kind.kind], `${kind.kind} in ${value}`).toMatch(/\p{L}{2}/u);
        const made = kind.make('new', { words, metric: 'visits', dimension: 'channel' });
        expect(kind.schema.safeParse(made), kind.kind).toMatchObject({ success: true });
        expect(made).toMatchObject({ id: 'new', kind: kind.kind });
        const fields = kind.fields.map((f) => f.key);
        for (const key of Object.keys(made)) if (!['id', 'kind', 'span'].includes(key)) expect(fields).toContain(key);
        if (kind.about !== null) expect(kind.fields.map((f) => f.key)).toContain(kind.about);
      }
    }
    const shown = composeGallery('en-GB', 'full', shaper).pages.flatMap((p) => p.blocks.map((b) => b.id.split('-')[0]));
    expect(new Set(shown)).toEqual(new Set(BLOCK_KINDS.map((k) => k.kind)));
  });
});

describe('what is wrong with a page', () => {
  const page = (...texts: { x: number; y: number; w: number; text: string }[]) => ({
    title: 'P',
    width: 595.28,
    height: 841.89,
    blocks: [],
    ops: texts.map((t) => ({ k: 'text' as const, face: 'sans' as const, size: 10, fill: '#000000', ...t })),
  });

  it('is text over text, beside the paper, and a figure that lost digits; not a label that lost letters', () => {
    const at = { x: 50, y: 50, w: 60 };
    expect(pageFaults(page({ ...at, text: 'Visits' }, { ...at, x: 80, text: '1,200' }))).toEqual([
      'over each other: “Visits” and “1,200”',
    ]);
    expect(pageFaults(page({ ...at, text: 'Visits' }, { ...at, x: 110.4, text: '1,200' }))).toEqual([]);
    expect(pageFaults(page({ ...at, text: 'Visits' }, { ...at, y: 62, text: '1,200' }))).toEqual([]);
    expect(pageFaults(page({ ...at, x: 560, text: 'Visits' }))).toEqual(['off the paper: “Visits”']);
    expect(pageFaults(page({ ...at, text: '£1,23…' }))).toEqual(['a figure cut short: “£1,23…”']);
    expect(pageFaults(page({ ...at, text: 'from 12…' }))).toHaveLength(1);
    expect(pageFaults(page({ ...at, text: 'Landing page num…' }))).toEqual([]);
  });
});
