import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answerAll, STANDARD } from '../figures/index.ts';
import { type Block, goneIn, questionsOf } from '../report/index.ts';
import { compose } from './compose.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/index.ts';
import { sampleOf, textsOf } from './gallery/sampleScene.ts';

function wordsOf(text: string, language = 'en-GB', written?: string) {
  const block: Block = { kind: 'commentary', id: 'c', span: written === undefined ? 'standing' : 'period', text };
  const { document, input } = sampleOf({ rows: [[block]], language });
  const scope = { ...GALLERY_DATES, commentary: { '0c': written ?? '' } };
  const answers = answerAll(questionsOf(document, scope, STANDARD), galleryFacts('full', STANDARD));
  const scene = compose({ ...input, ...scope, answers });
  const ops = scene.pages.flatMap((p) => p.ops);
  const title = ops.findIndex((op) => op.k === 'text' && op.text.trim() === 'Monthly overview');
  const foot = ops.findIndex((op) => op.k === 'text' && op.text.startsWith('This period has'));
  return { ops: ops.slice(title + 1, foot), texts: textsOf(scene), gone: goneIn(document, scope, STANDARD), answers };
}
const said = (text: string) => wordsOf(text).ops.flatMap((op) => (op.k === 'text' ? [op] : []));

describe('a commentary', () => {
  it('is set in bold and as links where it says so', () => {
    const { ops } = wordsOf('Orders are **well up**, see [the shop](https://shop.example/x).');
    const texts = ops.flatMap((op) => (op.k === 'text' ? [[op.text, op.face]] : []));
    expect(texts).toEqual([
      ['Orders are ', 'serif'],
      ['well up', 'serifBold'],
      [', see ', 'serif'],
      ['the shop', 'serif'],
      ['. ', 'serif'],
    ]);
    const links = ops.flatMap((op) => (op.k === 'open' && op.link ? [op.link] : []));
    expect(links).toEqual(['https://shop.example/x']);
  });

  it('leaves as text what is no link', () => {
    const { ops } = wordsOf('See [this](javascript:alert) and [that](notes).');
    expect(ops.some((op) => op.k === 'open' && op.link !== undefined)).toBe(false);
    expect(
      said('See [this](javascript:alert).')
        .map((t) => t.text.trim())
        .join(''),
    ).toContain('[this](javascript:alert)');
  });

  it('says figures and changes as mails do, and its fallback where there is none', () => {
    const texts = wordsOf(
      '{{client.name}}: {{figure.visits}} ({{change.visits}}), {{figure.rating | no rating yet}}.',
    ).texts;
    expect(texts.join(' ')).toMatch(/Tarnbeck Pottery: 27,399 \(\+3\.2%\), [\d.]+\./);
    expect(wordsOf('', 'en-GB', 'Visits came to {{figure.visits}}.').texts.join(' ')).toContain(
      'Visits came to 27,399.',
    );
  });

  it('tells what is no field as it was written', () => {
    expect(wordsOf('Visits: {{}}.').texts.join(' ')).toContain('No longer available: {{}}.');
  });

  it('names a field that there is not in its place, and keeps an edition from being made', () => {
    const { gone, texts } = wordsOf('Visits: {{figure.visitz}}');
    expect(gone).toEqual([{ kind: 'gone', what: ['{{figure.visitz}}'] }]);
    expect(texts.join(' ')).toContain('No longer available: {{figure.visitz}}.');
  });

  it('is copied as it was written, whatever its stretches, and never wider than its place', () => {
    const word = fc.stringMatching(/^[a-z]{1,24}$/);
    const piece = fc.oneof(
      word,
      word.map((w) => `**${w}**`),
      word.map((w) => `[${w}](https://x.example)`),
    );
    fc.assert(
      fc.property(fc.array(piece, { minLength: 1, maxLength: 40 }), (pieces) => {
        const texts = said(pieces.join(' '));
        const plain = pieces.map((p) => p.replace(/\*\*|\[|\]\(https:\/\/x\.example\)/g, '')).join(' ');
        expect(
          texts
            .map((t) => t.text)
            .join('')
            .trim(),
        ).toBe(plain);
        for (const t of texts) expect(t.x + t.w).toBeLessThan(42.52 + 460 + 8);
      }),
      { numRuns: 60 },
    );
  });
});
