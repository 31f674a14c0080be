import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import { answerAll, coverageOf, type Dataset, STANDARD, type Target } from '../figures/index.ts';
import {
  A4,
  type Block,
  type DayNote,
  documentFrom,
  questionsOf,
  type ReportDocument,
  type Yardstick,
} from '../report/index.ts';
import { createFormatter, wordsFor } from '../words/index.ts';
import { facesOf } from './faces.ts';
import { compose, contrast, type Ruler, readable, type Scene } from './index.ts';
import { paletteOf } from './palette.ts';
import { createPen } from './pen.ts';
import { rulerFor } from './ruler.ts';

/** Every character is half an em wide: enough to lay out by. */
const ruler: Ruler = {
  runs: (face, text) => [{ face, text, advance: text.length / 2 }],
  syllables: (word) => [word],
};

const DAYS = 61;
const LABELS = Array.from({ length: 60 }, (_, i) => `Page number ${i + 1}`);
const first = toDayNumber('2026-09-01');

function datasetWith(labels: string[], firstDay = '2026-01-01'): Dataset {
  const rows = DAYS * labels.length;
  const column = (f: (i: number) => number) => Float64Array.from({ length: rows }, (_, i) => f(i));
  const visits = column((i) => 100 + (i % labels.length) * 3);
  const codes = Int32Array.from({ length: rows }, (_, i) => i % labels.length);
  const dim = { labels, codes };
  return {
    id: 'd',
    name: 'Visits',
    firstDay,
    dimensions: ['channel', 'device', 'country', 'landingPage'],
    measures: ['visits', 'orders', 'revenue', 'pageViews', 'bounces', 'engagedSeconds'],
    covered: coverageOf(Array.from({ length: DAYS }, (_, i) => first + i)),
    columns: {
      days: Int32Array.from({ length: rows }, (_, i) => first + Math.floor(i / labels.length)),
      dims: { channel: dim, device: dim, country: dim, landingPage: dim },
      measures: {
        visits,
        orders: visits.map((v) => Math.round(v / 20)),
        revenue: visits.map((v) => v * 1.37),
        pageViews: visits.map((v) => v * 3),
        bounces: visits.map((v) => v / 2),
        engagedSeconds: visits.map((v) => v * 60),
      },
    },
  };
}

const dates = { period: { from: '2026-10-01', to: '2026-10-31' }, compared: { from: '2026-09-01', to: '2026-09-30' } };

function inputFor(document: ReportDocument, dataset: Dataset, locale = 'en-GB') {
  return {
    ...dates,
    title: 'Monthly overview',
    clientName: 'Mosswick Botanic Garden',
    agencyName: 'Fernglass Media',
    manager: null,
    asOf: null,
    paper: A4,
    document,
    answers: answerAll(questionsOf(document, dates, STANDARD), [dataset]),
    book: STANDARD,
    dayNotes: [],
    commentary: {},
    brand: { main: '#2f6b3a', second: '#b8862d', footer: '', logo: null },
    format: createFormatter(locale, 'GBP'),
    ruler,
  };
}

const draw = (document: ReportDocument, dataset = datasetWith(LABELS.slice(0, 4)), locale = 'en-GB'): Scene =>
  compose(inputFor(document, dataset, locale));

let ids = 0;
const starter = () => documentFrom('shop', wordsFor('en'), () => `b${ids++}`);
const withBlocks = (...blocks: Block[]): ReportDocument => ({
  ...starter(),
  pages: [{ id: 'p', title: 'Overview', rows: blocks.map((b) => ({ id: `r-${b.id}`, blocks: [b] })) }],
});
const textsOf = (scene: Scene, page = 0) => scene.pages[page]!.ops.flatMap((op) => (op.k === 'text' ? [op] : []));

describe('compose', () => {
  it('is pure: the same input gives the same scene, byte for byte', () => {
    const document = starter();
    expect(JSON.stringify(draw(document))).toBe(JSON.stringify(draw(document)));
  });

  it('says on every page what it covers and which page of how many it is', () => {
    const scene = draw(starter());
    expect(scene.pages.length).toBe(2);
    scene.pages.forEach((_, i) => {
      const all = textsOf(scene, i)
        .map((t) => t.text)
        .join('\n');
      expect(all).toContain('October 2026');
      expect(all).toContain(`Page ${i + 1} of 2`);
    });
  });

  it('notes ranges of different length, and that days before measuring began are not compared', () => {
    const notes = (scene: Scene) =>
      textsOf(scene, scene.pages.length - 1)
        .map((t) => t.text)
        .join(' ');
    expect(notes(draw(starter()))).toContain('This period has 31 days; the period it is compared with has 30.');
    const late = draw(starter(), datasetWith(LABELS.slice(0, 4), '2026-10-01'));
    expect(notes(late)).toContain('Tracking started after September 2026');
    expect(
      textsOf(late)
        .map((t) => t.text)
        .join(' ')
        .replace(/\s+/g, ' '),
    ).toContain('September 2026: not yet measured');
  });

  it('marks what is partly known on either side, and tells no change of it', () => {
    const holed = (gone: string): Dataset => {
      const whole = datasetWith(LABELS.slice(0, 4));
      const lost = toDayNumber(gone);
      return {
        ...whole,
        covered: coverageOf(Array.from({ length: DAYS }, (_, i) => first + i).filter((n) => n !== lost)),
      };
    };
    const texts = (dataset: Dataset) => {
      const scene = draw(starter(), dataset);
      return scene.pages.flatMap((_, i) => textsOf(scene, i).map((t) => t.text));
    };
    expect(texts(datasetWith(LABELS.slice(0, 4))).join('\n')).toMatch(/[+\u2212]\d/);
    for (const [gone, share] of [
      ['2026-10-09', '96%'],
      ['2026-09-09', '96%'],
    ] as const) {
      const said = texts(holed(gone));
      expect(said.filter((t) => /^[+\u2212]\d|^better|^worse/.test(t))).toEqual([]);
      // Eight figures on two pages: what is known stands beneath each.
      const running = said.map((t) => t.trim()).join(' ');
      expect(running.match(new RegExp(`data for ${share} of days`, 'g'))).toHaveLength(8);
      expect(said).toContain('Revenue: no comparison (some days have no data).');
    }
    expect(texts(holed('2026-10-09')).filter((t) => t.endsWith(' †')).length).toBeGreaterThan(20);
    expect(texts(holed('2026-10-09')).join(' ')).toContain(
      '† Revenue, October 2026: data covers only 96% of days, so no change is shown.',
    );
  });

  it('says that rounded parts may not add up where they do not, and only there', () => {
    const drivers: Block = { kind: 'drivers', id: 'd', metric: 'revenue', dimension: 'channel', n: 6, title: '' };
    const notes = (revenue: (i: number) => number) => {
      const dataset = datasetWith(LABELS.slice(0, 3));
      const rows = dataset.columns.days.length;
      const measures = {
        ...dataset.columns.measures,
        revenue: Float64Array.from({ length: rows }, (_, i) => revenue(i)),
      };
      const scene = draw(withBlocks(drivers), { ...dataset, columns: { ...dataset.columns, measures } });
      return scene.pages.flatMap((_, i) => textsOf(scene, i).map((t) => t.text)).join(' ');
    };
    // Three parts rose by £1,500.40 each: as printed they come to £4,500, the whole to £4,501.
    const october = (i: number) => Math.floor(i / 3) >= 30;
    expect(notes((i) => (october(i) ? (1_500 * 30 + 1_500.4) / 31 : 1_500))).toContain('because of rounding');
    expect(notes((i) => (october(i) ? 100 : 50))).not.toContain('because of rounding');
  });

  it('ends its sentences with one full stop, and names what is counted at the end of a day by its name alone', () => {
    const rate: Block = { kind: 'drivers', id: 'd', metric: 'orderRate', dimension: 'channel', n: 6, title: '' };
    const level: Block = { kind: 'trend', id: 't', metric: 'followers', title: '' };
    const dataset = datasetWith(LABELS.slice(0, 3));
    const { days, measures } = dataset.columns;
    const orders = Float64Array.from(days, (d) => (d < first + 30 ? 5 : 9));
    const grown = {
      ...dataset,
      measures: [...dataset.measures, 'followers'],
      columns: { ...dataset.columns, measures: { ...measures, orders, followers: measures.visits! } },
    };
    const texts = (locale: string) => textsOf(draw(withBlocks(rate, level), grown, locale)).map((t) => t.text);
    expect(texts('pl-PL').filter((t) => /p\.p\.$/.test(t)).length).toBeGreaterThan(0);
    expect(texts('pl-PL').filter((t) => t.endsWith('..'))).toEqual([]);
    expect(texts('en-GB')).toContain('Followers');
    expect(texts('en-GB')).not.toContain('Followers per day');
  });

  it('keeps every text inside the page', () => {
    const long =
      'An exceptionally long heading that goes on and on and on until it has to be broken into several lines to fit';
    const document = withBlocks(
      { kind: 'heading', id: 'h', text: long },
      { kind: 'commentary', span: 'standing', id: 'c', text: `${'word '.repeat(200)}\n\n- ${'x'.repeat(300)}` },
      { kind: 'kpiRow', id: 'k', metrics: ['visits', 'orders', 'revenue', 'orderRate', 'averageOrder'] },
      {
        kind: 'ranking',
        id: 'r',
        dimension: 'channel',
        metrics: ['revenue', 'orders', 'visits', 'averageOrder'],
        n: 4,
        title: long,
      },
    );
    for (const page of draw(document, datasetWith(['y'.repeat(200), 'b', 'c'])).pages) {
      for (const op of page.ops) {
        if (op.k !== 'text') continue;
        expect(op.x, op.text).toBeGreaterThanOrEqual(42);
        expect(op.x + op.w, op.text).toBeLessThanOrEqual(page.width - 42 + 4);
        expect(op.y, op.text).toBeLessThan(page.height - 38);
      }
    }
  });

  it('divides a long table between rows, repeats its head and leaves no row alone', () => {
    const table: Block = {
      kind: 'ranking',
      id: 't',
      dimension: 'landingPage',
      metrics: ['visits'],
      n: 50,
      title: 'Pages',
    };
    const scene = draw(withBlocks({ kind: 'kpiRow', id: 'k', metrics: ['visits'] }, table), datasetWith(LABELS));
    expect(scene.pages.length).toBe(2);
    const rows = scene.pages.map((_, i) =>
      textsOf(scene, i)
        .filter((t) => /^(Page number \d+|Other|Total)$/.test(t.text))
        .map((t) => t.text),
    );
    expect(rows.flat()).toHaveLength(52);
    expect(new Set(rows.flat()).size).toBe(52);
    for (const page of rows) expect(page.length).toBeGreaterThan(1);
    scene.pages.forEach((_, i) => {
      expect(textsOf(scene, i).map((t) => t.text)).toContain('Landing page');
    });
  });

  it('moves a block that does not fit to a fresh page rather than cutting it', () => {
    const charts = Array.from(
      { length: 6 },
      (_, i): Block => ({ kind: 'trend', id: `t${i}`, metric: 'visits', title: `Chart ${i}` }),
    );
    const scene = draw(withBlocks(...charts));
    expect(scene.pages.flatMap((p) => p.blocks.map((b) => b.id))).toEqual(charts.map((c) => c.id));
    for (const page of scene.pages) for (const b of page.blocks) expect(b.y + b.h).toBeLessThan(page.height - 54);
  });

  it('speaks the language of the report', () => {
    const german = textsOf(
      draw(
        documentFrom('shop', wordsFor('de'), () => `g${ids++}`),
        undefined,
        'de-DE',
      ),
    ).map((t) => t.text);
    expect(german).toContain('Besuche');
    expect(german).toContain('Oktober 2026');
    expect(german.join(' ')).toContain('ein Plus von');
  });

  it('gives charts a text of their own for those who do not see them', () => {
    const figure = draw(starter()).pages[0]!.ops.find((op) => op.k === 'open' && op.tag === 'Figure');
    expect(figure).toMatchObject({
      alt: expect.stringMatching(
        /^Revenue per day: lowest £.* \(.* Oct\), highest £.* \(.* Oct\)\. October 2026: £17,752\. September 2026: £17,180\.$/,
      ),
    });
  });
});

describe('drivers', () => {
  const block: Block = { kind: 'drivers', id: 'd', metric: 'visits', dimension: 'channel', n: 3, title: '' };
  const number = (text: string) => Number(text.replace('\u2212', '-').replace(/[+,]/g, ''));

  it('shows the parts that moved most, the rest as one, and they add up to the change', () => {
    const texts = textsOf(draw(withBlocks(block), datasetWith(LABELS.slice(0, 6)))).map((t) => t.text.trim());
    const start = texts.indexOf('What moved visits');
    const total = number(/\(([+\u2212][\d,]+)\)/.exec(texts[start + 1]!)![1]!);
    const parts = texts
      .slice(start + 1)
      .filter((t) => /^[+\u2212]?[\d,]+$/.test(t))
      .map(number);
    expect(parts).toHaveLength(4);
    expect(texts).toContain('Other');
    expect(parts.reduce((n, v) => n + v, 0)).toBe(total);
    expect([...parts.slice(0, 3)]).toEqual([...parts.slice(0, 3)].sort((a, b) => Math.abs(b) - Math.abs(a)));
  });

  it('says nothing where nothing is compared, and why where the days before were not measured', () => {
    const alone = compose({
      ...inputFor(withBlocks(block), datasetWith(LABELS.slice(0, 4))),
      compared: null,
    });
    expect(textsOf(alone).some((t) => t.text.includes('What moved visits'))).toBe(false);
    const late = textsOf(draw(withBlocks(block), datasetWith(LABELS.slice(0, 4), '2026-10-01'))).map((t) => t.text);
    expect(late.join(' ')).toContain('Visits: no comparison (September 2026: not yet measured).');
  });
});

describe('what a figure is held against', () => {
  const kpis: Block = { kind: 'kpiRow', id: 'k', metrics: ['visits', 'orders'] };
  const trend: Block = { kind: 'trend', id: 't', metric: 'visits', title: '' };
  const document = withBlocks(kpis, trend);
  const dataset = datasetWith(LABELS.slice(0, 4));
  const targets: Target[] = [{ metric: 'visits', span: 'month', from: '2026-01', repeats: true, value: 15_500 }];
  const sceneFor = (yardstick: Yardstick, dayNotes: DayNote[] = []) => {
    const held = { period: dates.period, compared: null, yardstick };
    const answers = answerAll(questionsOf(document, held, STANDARD), [dataset], { book: STANDARD, targets });
    return compose({ ...inputFor(document, dataset), ...held, answers, dayNotes });
  };
  const wordsOf = (scene: Scene) => textsOf(scene).map((t) => t.text.trim());

  it('may be a target: said in the head, at the figure that has one, and as a line across the chart', () => {
    const texts = wordsOf(sceneFor({ kind: 'target' }));
    expect(texts.join(' ')).toContain('vs the target');
    expect(texts).toContain('target 15,500');
    expect(texts).toContain('target 500');
    expect(texts.filter((t) => t.startsWith('target'))).toHaveLength(2);
  });

  it('may be a usual level, made of the periods that are known; the page says of how many', () => {
    const ranges = [
      { from: '2026-09-01', to: '2026-09-30' },
      { from: '2026-08-01', to: '2026-08-31' },
    ];
    const texts = wordsOf(sceneFor({ kind: 'typical', ranges }));
    expect(texts.join(' ')).toContain('vs a typical period (average of 2)');
    expect(texts.some((t) => t.startsWith('typically '))).toBe(true);
    expect(texts.join(' ')).toContain('Typical visits: based on 1 of the 2 earlier periods');
  });

  it('stands beside what was noted of its days; notes of other days are left out', () => {
    const notes = [
      { from: '2026-10-24', to: '2026-10-31', text: 'Lantern evenings' },
      { from: '2026-08-06', to: '2026-08-06', text: 'Long ago' },
    ];
    const texts = wordsOf(sceneFor({ kind: 'target' }, notes))
      .join(' ')
      .replace(/[\u2009\s]+/g, ' ');
    expect(texts).toContain('24–31 Oct: Lantern evenings');
    expect(texts).not.toContain('Long ago');
  });
});

it('lets no path onto a page that painters would read differently', () => {
  const pen = createPen([], rulerFor(ruler, 'en-GB', 'ltr', facesOf()), 595.28);
  pen.path('M1 1L2.5 -3C1 1 2 2 3 3Q1 1 2 2Z', { fill: '#000000' });
  for (const d of ['M1 1l2 2', 'M1 1H4', 'M1 1A2 2 0 0 1 4 4']) expect(() => pen.path(d, {})).toThrow('absolute');
});

describe('brand colours', () => {
  it('are darkened until text in them can be read on paper', () => {
    for (const pale of ['#ffffff', '#ffe600', '#9be7c4', '#f28c28']) {
      expect(contrast(readable(pale), '#ffffff')).toBeGreaterThanOrEqual(4.5);
    }
    expect(readable('#0f3d2e')).toBe('#0f3d2e');
    for (const brand of ['#ffffff', '#fff4e0', '#ffe600', '#000000', '#2f6b3a']) {
      const { main, mainTint, second, compared } = paletteOf({ main: brand, second: brand, footer: '', logo: null });
      expect(contrast(main, '#ffffff')).toBeGreaterThanOrEqual(4.5);
      // Bars, marks and dashes carry meaning (WCAG 2.2 SC 1.4.11).
      for (const colour of [mainTint, second, compared]) expect(contrast(colour, '#ffffff')).toBeGreaterThanOrEqual(3);
    }
  });
});
