import { describe, expect, it } from 'vitest';
import { answerAll, metricBook, NO_SETTINGS, STANDARD } from '../figures/index.ts';
import { type Block, blocksOf, compares, goneIn, questionsOf, type ReportScope, standing } from '../report/index.ts';
import { compose } from './compose.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/index.ts';
import { type Sample, sampleOf, sampleScene, textsOf } from './gallery/sampleScene.ts';

const kpis = (id: string, more: Partial<Block> = {}): Block =>
  ({ kind: 'kpiRow', id, metrics: ['visits'], ...more }) as Block;
const ranking = (id: string, more: Partial<Block> = {}): Block =>
  ({ kind: 'ranking', id, dimension: 'channel', metrics: ['visits'], n: 5, title: 'Top', ...more }) as Block;

/** A report of these blocks, asked for with more than its own dates. */
function drawn(rows: Block[][], more: Partial<Omit<ReportScope, 'commentary'>> = {}, sample: Partial<Sample> = {}) {
  const { document, input } = sampleOf({ rows, ...sample });
  const scope = { ...GALLERY_DATES, commentary: {}, ...more };
  const { book } = input;
  const answers = answerAll(questionsOf(document, scope, book), galleryFacts('full', STANDARD), { book, targets: [] });
  const scene = compose({ ...input, ...scope, answers });
  return { document, scene, texts: textsOf(scene), blocks: scene.pages.flatMap((p) => p.blocks) };
}

const WEEK = {
  period: { from: '2026-10-05', to: '2026-10-11' },
  compared: { from: '2026-09-28', to: '2026-10-04' },
};

describe('a block with choices of its own', () => {
  it('shows its own dates, and says so beneath its title; the others keep the report’s', () => {
    const { texts } = drawn([[ranking('a'), ranking('b')]], { own: { '0b': WEEK } });
    const said = texts.filter((t) => /^5–11 October/u.test(t));
    expect(said).toHaveLength(1);
    expect(said[0]).toMatch(/vs 28 September/u);
    const alone = drawn([[ranking('a'), ranking('b')]]).texts;
    const totals = (all: string[]) => all.filter((t) => /^\d[\d,]+$/.test(t));
    expect(totals(texts).length).toBe(totals(alone).length);
    expect(totals(texts)).not.toEqual(totals(alone));
  });

  it('notes that its own two ranges are of different length', () => {
    const own = { '0a': { ...WEEK, compared: { from: '2026-09-28', to: '2026-10-01' } } };
    expect(drawn([[ranking('a')]], { own }).texts.join(' ')).toMatch(
      /has 7 days; the period it is compared with has 4/,
    );
  });

  it('says nothing of a comparison that it does not make', () => {
    const pace: Block = { kind: 'pace', id: 'a', metric: 'visits', title: '' };
    const peers: Block = {
      kind: 'peers',
      id: 'a',
      metric: 'visits',
      theirs: 'orders',
      dimension: 'channel',
      title: '',
    };
    const own = { '0a': { period: WEEK.period, compared: { from: '2026-09-28', to: '2026-10-01' } } };
    for (const block of [pace, peers]) {
      const { texts } = drawn([[block], [kpis('b')]], { own });
      expect(compares(block)).toBe(false);
      expect(texts.some((t) => /^5–11 October/u.test(t))).toBe(true);
      // The head of the page has its own.
      expect(texts.filter((t) => /vs 28|has 7 days/.test(t))).toEqual([]);
    }
    expect(compares(kpis('b'))).toBe(true);
  });

  it('counts by its own filter, in place of the report’s', () => {
    const only = (value: string) => [{ dimension: 'channel', how: 'only' as const, values: [value] }];
    const texts = drawn([[ranking('a', { filter: only('Email') })]]).texts;
    expect(texts).toContain('Channel: Email');
    expect(texts).not.toContain('Direct');
    expect(texts).toContain('Email');
  });

  it('is narrowed by its schedule beside its own filter, which the head of each page says', () => {
    const only = (dimension: string, ...values: string[]) => [{ dimension, how: 'only' as const, values }];
    const filter = only('channel', 'Email');
    const rows = [[ranking('a')], [ranking('b', { filter: only('channel', 'Direct', 'Email') })], [kpis('c')]];
    const { texts, document } = drawn(rows, { filter });
    expect(texts).toContain('Channel: Email');
    expect(texts).not.toContain('Direct');
    // A figure of no block of its own filter: as a report that counts it alone has it.
    const figures = (all: string[]) => all.filter((t) => /^\d[\d,]*$/.test(t));
    expect(figures(texts)).not.toEqual(figures(drawn(rows).texts));
    const scope = { ...GALLERY_DATES, commentary: {}, filter };
    const asked = questionsOf(document, scope, metricBook(NO_SETTINGS));
    expect(asked.every((q) => !('filter' in q) || JSON.stringify(q.filter).includes('Email'))).toBe(true);
  });

  it('is held where its schedule counts a segment that is gone, whatever the blocks count', () => {
    const filter = [{ dimension: 'segment', how: 'only' as const, values: ['sg_9'] }];
    const { document } = drawn([[ranking('a')]]);
    const scope = { ...GALLERY_DATES, commentary: {}, filter };
    expect(goneIn(document, scope, metricBook(NO_SETTINGS))).toEqual([{ kind: 'gone', what: ['segment'] }]);
    expect(goneIn({ ...document, pages: [] }, scope, metricBook(NO_SETTINGS))).toHaveLength(1);
  });

  it('counts by segments as they are named, and says when one is no longer there', () => {
    const filter = [{ dimension: 'segment', how: 'only' as const, values: ['sg_1'] }];
    const parts = [{ dimension: 'channel', how: 'except' as const, values: ['Email'] }];
    const rows = [[ranking('a', { filter })], [kpis('b')]];
    const there = drawn(rows, { segments: [{ id: 'sg_1', name: 'All but mails', parts }] });
    expect(there.texts).toContain('All but mails');
    expect(there.texts).not.toContain('Email');
    expect(there.texts).toContain('Direct');
    const gone = drawn(rows);
    expect(gone.texts).toContain('No longer available: a segment.');
    expect(gone.texts).toContain('Visits');
    expect(goneIn(gone.document, GALLERY_DATES, STANDARD)).toEqual([{ kind: 'gone', what: ['segment'] }]);
  });

  it('of a metric that is gone says so in its place, and the rest stands', () => {
    const { texts, document } = drawn([[kpis('a', { metrics: ['tillSales'] } as Partial<Block>)], [kpis('b')]]);
    expect(texts).toContain('No longer available: tillSales.');
    expect(texts).toContain('Visits');
    expect(goneIn(document, GALLERY_DATES, STANDARD)).toEqual([{ kind: 'gone', what: ['tillSales'] }]);
    const own = {
      key: 'tillSales',
      label: 'Till',
      unit: 'count',
      polarity: 'higher',
      formula: 'visits',
      definition: '',
    } as const;
    expect(goneIn(document, GALLERY_DATES, metricBook({ ...NO_SETTINGS, own: [own] }))).toEqual([]);
  });

  it('stands only with figures where it is to, and never where it is not to', () => {
    const lone = [{ dimension: 'channel', how: 'only' as const, values: ['No such'] }];
    const rows: Block[][] = [
      [kpis('a', { when: 'withFigures' })],
      [ranking('b', { when: 'withFigures', filter: lone })],
      [ranking('c', { when: 'never' })],
    ];
    const { blocks, document } = drawn(rows);
    expect(blocks.map((b) => b.id)).toEqual(['0a']);
    expect(blocksOf(standing(document)).map((b) => b.id)).toEqual(['0a', '0b']);
    expect(
      questionsOf(document, GALLERY_DATES, STANDARD).some((q) => q.op === 'top' && q.filter.channel === undefined),
    ).toBe(false);
  });

  it('takes no sheet with a page of which nothing stands, unless there is no other', () => {
    const facts = galleryFacts('none', STANDARD);
    const sheetsOf = (...whens: (Block['when'] | undefined)[]) => {
      const pages = whens.map((when, p) => ({
        rows: [{ id: `r${p}`, blocks: [kpis(`k${p}`, when ? { when } : {})] }],
      }));
      return sampleScene({ rows: [], pages, facts }).pages.length;
    };
    expect(sheetsOf(undefined, 'never', 'withFigures')).toBe(1);
    expect(sheetsOf(undefined, undefined, 'never')).toBe(2);
    expect(sheetsOf('never')).toBe(1);
    expect(sheetsOf('withFigures', 'never')).toBe(1);
    // One that is empty yet is there to be filled.
    expect(
      sampleScene({ rows: [], pages: [{ rows: [{ id: 'r', blocks: [kpis('k')] }] }, { rows: [] }] }).pages,
    ).toHaveLength(2);
  });

  it('has as many columns as it says; its neighbours share what is left', () => {
    const { blocks } = drawn([[ranking('a', { columns: 8 }), ranking('b')], [ranking('c', { columns: 6 })]]);
    const [a, b, c] = blocks.map((x) => x.w) as [number, number, number];
    expect(a / b).toBeCloseTo(332 / 154, 1);
    expect(c).toBeCloseTo(243, 0);
    expect(blocks[1]!.x).toBeGreaterThan(blocks[0]!.x + a);
  });
});

describe('a page', () => {
  it('that is dropped goes out with nothing of it asked or shown', () => {
    const rows = [[kpis('a')]];
    const pages = [{ title: 'Kept' }, { title: 'Dropped', dropped: true as const }];
    const { scene, document } = drawn(rows, {}, { pages });
    expect(scene.pages.map((p) => p.title)).toEqual(['Kept']);
    expect(blocksOf(standing(document)).map((b) => b.id)).toEqual(['0a']);
    expect(sampleScene({ rows, pages: [{}, {}] }).pages).toHaveLength(2);
  });
});
