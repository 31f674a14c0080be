import { MOST_ABREAST, TEXT } from '@chronicon/core/bounds';
import { answerAll, type Dataset, STANDARD } from '@chronicon/core/figures';
import { compose, remarksOf, type ScenePage } from '@chronicon/core/page';
import { GALLERY_DATES, GALLERY_STATES, galleryFacts, pageFaults, SAMPLE_PICTURE } from '@chronicon/core/page/gallery';
import { A4, BLOCK_KINDS, type Block, type Dates, questionsOf, type ReportDocument } from '@chronicon/core/report';
import { formatterOf, LOCALES, wordsFor } from '@chronicon/core/words';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SCRIPTS } from '../test/everyBlock.ts';
import { createShaper } from './shaper.ts';

const shaper = createShaper();
/** The gallery's figures, and the same under names of every script. */
const STATES = [...GALLERY_STATES, 'scripts'] as const;
// Without digits: a name may be cut, a figure may not.
const NAMES = [...Object.values(SCRIPTS), 'x'.repeat(200), 'e\u0301'.repeat(30), '👩🏽‍💻🏳️‍🌈', '(−a) אבג [b]'].map((n) =>
  n.replace(/\p{Nd}/gu, 'x'),
);

function named(labels: readonly string[], datasets = galleryFacts('full', STANDARD)): Dataset[] {
  return datasets.map((d) => ({
    ...d,
    columns: {
      ...d.columns,
      dims: Object.fromEntries(
        Object.entries(d.columns.dims).map(([key, dim]) => [
          key,
          { codes: dim.codes.map((_, i) => i % labels.length), labels: [...labels] },
        ]),
      ),
    },
  }));
}

const facts: Record<string, Dataset[]> = {
  ...Object.fromEntries(GALLERY_STATES.map((state) => [state, galleryFacts(state, STANDARD)])),
  scripts: named(NAMES),
};
const METRICS = ['revenue', 'visits', 'orderRate', 'bounceRate', 'engagedTime', 'pagesPerVisit', 'orders'];
const CURRENCIES = ['GBP', 'EUR', 'DKK', 'JPY', 'KWD', 'CHF', 'VND', 'XOF', 'PLN', 'RUB'];

/** What people write, and what nobody should have to read. */
const words = (most: number) =>
  fc
    .oneof(
      fc.constantFrom('', 'Visits', 'Donaudampfschifffahrtsgesellschaftskapitänsmützenabzeichen '.repeat(3)),
      fc.constantFrom(
        'x'.repeat(200),
        'Ünïcode e\u0301a\u0308 👩🏽‍💻🏳️‍🌈',
        'שלום 12% עולם',
        'مرحبا 1,234',
        '東京の売上',
        'ยอดขาย',
        `${'Über\u00adraschungs\u00ad'.repeat(9)}paket`,
        '\u202eabc\u202c (−12%) \u2067אבג\u2069 [x]',
      ),
      fc.string({ unit: 'grapheme', maxLength: most }),
      fc.lorem({ maxCount: 20 }),
    )
    .map((text) => text.replace(/\p{Cc}/gu, ' ').slice(0, most));

const OWN_FILTER = [{ dimension: 'channel', how: 'except', values: ['Email', 'Direct', 'A long name of a channel'] }];

const aBlock = fc.record({
  kind: fc.constantFrom(...BLOCK_KINDS.map((k) => k.kind)),
  metrics: fc.shuffledSubarray(METRICS, { minLength: 1 }),
  count: fc.integer({ min: 1, max: 50 }),
  columns: fc.option(fc.integer({ min: 2, max: 12 }), { nil: undefined }),
  isOwn: fc.boolean(),
  title: words(TEXT.title),
});
type Sketch = typeof aBlock extends fc.Arbitrary<infer T> ? T : never;

function blockOf({ kind: name, metrics, count, title, columns, isOwn }: Sketch, id: string, language: string): Block {
  const kind = BLOCK_KINDS.find((k) => k.kind === name)!;
  const made: Record<string, unknown> = {
    ...kind.make(id, { words: wordsFor(language), metric: metrics[0]!, dimension: 'channel' }),
    columns,
    ...(isOwn && { filter: OWN_FILTER }),
  };
  for (const field of kind.fields) {
    if (field.kind === 'metrics')
      made[field.key] = [...metrics, 'visits', 'orders'].slice(
        0,
        Math.max(field.least, Math.min(field.most, metrics.length)),
      );
    if (field.kind === 'dimension' && field.none !== undefined && count % 2 === 0) made[field.key] = 'channel';
    if (field.kind === 'metric' && !field.divides) made[field.key] = metrics[0];
    if (field.kind === 'picture') made[field.key] = SAMPLE_PICTURE;
    if (field.kind === 'choice') made[field.key] = field.options[count % field.options.length]!.value;
    if (field.kind === 'count') made[field.key] = Math.min(field.most, count);
    if (field.kind === 'text') made[field.key] = title.slice(0, field.most).trim() || (field.required ? 'Words' : '');
  }
  return made as unknown as Block;
}

const rows = fc.array(fc.array(aBlock, { minLength: 1, maxLength: MOST_ABREAST }), { minLength: 1, maxLength: 8 });

const yardsticks: Dates[] = [
  GALLERY_DATES,
  { ...GALLERY_DATES, compared: null },
  { ...GALLERY_DATES, compared: null, yardstick: { kind: 'target' } },
  { ...GALLERY_DATES, compared: null, yardstick: { kind: 'typical', ranges: [GALLERY_DATES.compared] } },
  { period: { from: '2026-10-31', to: '2026-10-31' }, compared: { from: '2026-10-30', to: '2026-10-30' } },
  { period: { from: '2026-01-01', to: '2026-10-31' }, compared: { from: '2025-01-01', to: '2025-10-31' } },
];

const aReport = fc.record({
  rows,
  language: fc.constantFrom(...LOCALES.map((l) => l.value)),
  currency: fc.constantFrom(...CURRENCIES),
  state: fc.constantFrom(...STATES),
  paper: fc.record({
    size: fc.constantFrom('a4' as const, 'letter' as const),
    orientation: fc.constantFrom('portrait' as const, 'landscape' as const),
  }),
  dates: fc.constantFrom(...yardsticks),
  clientName: words(75),
  title: words(TEXT.title),
  footer: words(160),
  commentary: words(1_000),
  main: fc.constantFrom('#274e66', '#ffffff', '#000000', '#ffff00', '#fff4e0'),
});

type Sketched = typeof aReport extends fc.Arbitrary<infer T> ? T : never;

const USUAL = {
  clientName: 'Tarnbeck Pottery',
  title: 'Overview',
  footer: '',
  commentary: 'Words.',
  main: '#274e66',
  dates: GALLERY_DATES as Dates,
  state: 'full' as (typeof STATES)[number],
  paper: A4,
  language: 'en-GB',
  currency: 'GBP',
};

function sceneOf(document: ReportDocument, report: typeof USUAL) {
  const { dates } = report;
  const blocks = document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
  return compose({
    ...dates,
    title: report.title,
    clientName: report.clientName,
    agencyName: 'Fernglass Media',
    manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
    asOf: '2026-11-02',
    paper: report.paper,
    document,
    answers: answerAll(questionsOf(document, dates, STANDARD), facts[report.state]!),
    book: STANDARD,
    dayNotes: [{ from: '2026-10-10', to: '2026-10-11', text: 'The kiln was out of order.' }],
    commentary: Object.fromEntries(blocks.map((b) => [b.id, report.commentary])),
    brand: { main: report.main, second: report.main, footer: report.footer, logo: null },
    format: formatterOf(report.language, report.currency),
    ruler: shaper,
  });
}

const documentOf = (rows: Block[][], dates: Dates): ReportDocument => ({
  version: 2,
  period: { kind: 'fixed', ...dates.period },
  comparison: { kind: 'previous' },
  pages: [{ id: 'p', title: 'Page', rows: rows.map((blocks, r) => ({ id: `r${r}`, blocks })) }],
});

function setReport(report: Sketched) {
  const { language, dates } = report;
  const rows = report.rows.map((row, r) => row.map((sketch, i) => blockOf(sketch, `b${r}-${i}`, language)));
  return { scene: sceneOf(documentOf(rows, dates), report), blocks: rows.flat() };
}

/** Texts of a block that end beside it. */
function besideBlocks(page: ScenePage): string[] {
  return page.ops.flatMap((op) => {
    if (op.k !== 'text' || op.text.trim() === '') return [];
    const holds = page.blocks.filter((b) => op.y > b.y && op.y < b.y + b.h && op.x >= b.x - 1 && op.x < b.x + b.w);
    const inside = holds.some((b) => op.x + op.w <= b.x + b.w + 2.5 || /\s$/.test(op.text));
    return holds.length > 0 && !inside ? [`${holds[0]!.id}: “${op.text}”`] : [];
  });
}

describe('a page of anything', () => {
  it('has nothing over another, nothing beside its block or the sheet, no figure cut, and no heading alone at its foot', () => {
    fc.assert(
      fc.property(aReport, (report) => {
        const { scene, blocks } = setReport(report);
        const headings = new Set(blocks.flatMap((b) => (b.kind === 'heading' ? [b.id] : [])));
        const faults = scene.pages.flatMap((page, i) => {
          const lowest = Math.max(...page.blocks.map((b) => b.y));
          const last = page.blocks.filter((b) => b.y === lowest);
          const goesOn = scene.pages[i + 1]?.blocks.length ?? 0;
          const alone = goesOn > 0 && last.length > 0 && last.every((b) => headings.has(b.id));
          return [...pageFaults(page), ...besideBlocks(page), ...(alone ? [`heading alone: ${last[0]!.id}`] : [])];
        });
        expect(faults).toEqual([]);
        // Every block that says anything stands on a page.
        const shown = new Set(scene.pages.flatMap((p) => p.blocks.map((b) => b.id)));
        for (const b of blocks) if (b.kind === 'heading' || b.kind === 'kpiRow') expect(shown.has(b.id)).toBe(true);
      }),
      // The same forty in every run of all tests; as many others as are asked for.
      process.env.CHRONICON_REPORTS ? { numRuns: Number(process.env.CHRONICON_REPORTS) } : { numRuns: 40, seed: 1 },
    );
  });
});

describe('a cover', () => {
  const LONG = 'Donaudampfschifffahrtsgesellschaftskapitänsmützenabzeichen ';
  const sizes = [A4.size, 'letter'] as const;
  it.each(sizes.flatMap((size) => (['portrait', 'landscape'] as const).map((orientation) => ({ size, orientation }))))(
    'has room for the longest title, name and words on $size $orientation, and for a word at its usual place',
    (paper) => {
      const rows = (text: string): Block[][] => [
        [{ kind: 'cover', id: 'c', text }],
        [{ kind: 'heading', id: 'h', text: 'H' }],
      ];
      const ofText = (text: string, report: Partial<typeof USUAL>) =>
        sceneOf(documentOf(rows(text), GALLERY_DATES), { ...USUAL, ...report, paper: paper as typeof A4 }).pages[0]!;
      const long = ofText(LONG.repeat(5), {
        title: LONG.repeat(2),
        clientName: LONG.repeat(2).slice(0, 75),
        footer: '',
      });
      expect(pageFaults(long)).toEqual([]);
      const shown = (page: ScenePage) => page.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])).join(' ');
      // All of the title stands, however long.
      expect(shown(long).match(/mützen/g)!.length).toBeGreaterThanOrEqual(3);
      const short = ofText('Words.', {});
      expect(shown(short)).toContain('Words.');
      expect(pageFaults(short)).toEqual([]);
    },
  );
});

describe('a trend of weeks', () => {
  it('says that days lack, of what its points average; a rate stays a line of days, whose gaps are seen', () => {
    const dates: Dates = { period: { from: '2026-01-01', to: '2026-10-31' }, compared: null };
    const textsOf = (metric: string, state: 'full' | 'partial') => {
      const rows: Block[][] = [[{ kind: 'trend', id: 't', metric, title: '' }]];
      const [page] = sceneOf(documentOf(rows, dates), { ...USUAL, dates, state }).pages;
      return page!.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim().replace(/\s/g, ' ')] : []));
    };
    const said = 'Visits, 1 January – 31 October 2026: some days have no data.';
    expect(textsOf('visits', 'partial')).toEqual(expect.arrayContaining([said, 'weekly averages']));
    expect(textsOf('visits', 'full')).not.toContain(said);
    expect(textsOf('bounceRate', 'partial')).not.toContain('weekly averages');
  });
});

describe('what is counted for no value', () => {
  it.each(LOCALES.map((l) => l.value))('has a name in %s, in tables, beside bars and in the sentence', (language) => {
    const rows: Block[][] = [
      [{ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 10, title: '' }],
      [{ kind: 'drivers', id: 'd', dimension: 'channel', metric: 'visits', n: 10, title: '' }],
    ];
    const [page] = sceneOf(documentOf(rows, GALLERY_DATES), { ...USUAL, language }).pages;
    const texts = page!.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])).filter((t) => !/^\s+$/.test(t));
    expect(texts.filter((t) => t.trim() === wordsFor(language).unnamed)).toHaveLength(2);
    expect(texts).not.toContain('');
  });
});

describe('headline figures', () => {
  it('are whole in every currency, one to five of them, alone and two and three abreast', () => {
    const rows = [1, 2, 3, 4, 5].flatMap((n) =>
      Array.from({ length: 3 }, (_, abreast) =>
        Array.from({ length: abreast + 1 }, (_, i) => ({
          kind: 'kpiRow' as const,
          id: `k${n}-${abreast}-${i}`,
          metrics: ['revenue', ...METRICS.slice(1)].slice(0, n),
        })),
      ),
    );
    const every = process.env.CHRONICON_REPORTS ? 1 : 5;
    const currencies = Intl.supportedValuesOf('currency').filter((_, i) => i % every === 0);
    const faults = currencies.flatMap((currency, i) => {
      const language = LOCALES[i % LOCALES.length]!.value;
      const state = i % 2 === 0 ? 'huge' : 'full';
      const { pages } = sceneOf(documentOf(rows, GALLERY_DATES), { ...USUAL, language, currency, state });
      return pages.flatMap((page) => [...pageFaults(page), ...besideBlocks(page)].map((f) => `${currency}: ${f}`));
    });
    expect(faults).toEqual([]);
  });

  it('of a row are written alike: smaller first, then without their currency, which their name says', () => {
    const block: Block = {
      kind: 'kpiRow',
      id: 'k',
      metrics: ['revenue', 'visits', 'orders', 'bounceRate', 'orderRate'],
    };
    const sizesOf = (currency: string, state: 'full' | 'huge', row: Block[]) => {
      const [page] = sceneOf(documentOf([row], GALLERY_DATES), { ...USUAL, currency, state }).pages;
      const texts = page!.ops.flatMap((op) => (op.k === 'text' ? [op] : []));
      const inRow = texts.filter(
        (t) => t.face === 'serifBold' && t.y > page!.blocks[0]!.y && t.y < page!.blocks[0]!.y + 60,
      );
      return { sizes: [...new Set(inRow.map((t) => t.size))], texts: texts.map((t) => t.text) };
    };
    expect(sizesOf('GBP', 'full', [block]).sizes).toEqual([20]);
    const wide = sizesOf('XOF', 'huge', [block]);
    expect(wide.sizes).toEqual([14]);
    expect(wide.texts.some((t) => /^Revenue, F.CFA$/.test(t))).toBe(true);
  });
});

describe('a table of ten thousand rows', () => {
  it('is set on as many sheets as it needs, each with its head, and its rows once', () => {
    const labels = Array.from({ length: 10_000 }, (_, i) => `Page ${i}`);
    const wide = galleryFacts('full', STANDARD).map((d) => {
      const day = d.columns.days.at(-1)!;
      return {
        ...d,
        columns: {
          days: Int32Array.from(labels, () => day),
          dims: Object.fromEntries(
            Object.keys(d.columns.dims).map((k) => [k, { codes: Int32Array.from(labels, (_, i) => i), labels }]),
          ),
          measures: Object.fromEntries(
            Object.keys(d.columns.measures).map((m) => [m, Float64Array.from(labels, (_, i) => 10_000 - i)]),
          ),
        },
      };
    });
    facts.wide = wide;
    const block: Block = { kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 10_000, title: '' };
    const document = { ...documentOf([[block]], GALLERY_DATES), noContents: true as const };
    const { pages } = sceneOf(document, { ...USUAL, state: 'wide' as never });
    const texts = pages.map((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])));
    expect(texts.flat().filter((t) => /^Page \d+$/.test(t))).toHaveLength(10_000);
    for (const page of texts) expect(page.filter((t) => t === 'Channel')).toHaveLength(1);
    expect(remarksOf({ pages }).join(' ')).toContain(`${pages.length} pages`);
  });
});
