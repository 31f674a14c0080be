import { describe, expect, it } from 'vitest';
import { MOST_PAGES } from '../bounds/index.ts';
import { answerAll, assume, keyOf, metricBook, NO_SETTINGS, type OwnMetric, STANDARD } from '../figures/index.ts';
import { type Block, blockKind, questionsOf, type ReportScope, scopeOf } from '../report/index.ts';
import { compose } from './compose.ts';
import type { ComposeInput } from './composeInput.ts';
import { GALLERY_DATES, galleryFacts, pageFaults } from './gallery/index.ts';
import { type Sample, sampleOf, sampleScene, textsOf } from './gallery/sampleScene.ts';

const textsIn = (block: Block, sample: Partial<Sample> = {}) => textsOf(sampleScene({ rows: [[block]], ...sample }));
/** The same, asked for with more than its dates. */
function drawn(block: Block, more: Partial<ReportScope> & Partial<ComposeInput>, state: 'full' | 'partial' = 'full') {
  const { document, input } = sampleOf({
    rows: [[block]],
    ...(more.book && { knowledge: { book: more.book, targets: [] } }),
  });
  const whole = { ...input, ...GALLERY_DATES, ...more, document: { ...document, ...more.document } };
  const questions = questionsOf(whole.document, whole, whole.book);
  const answers = answerAll(questions, galleryFacts(state, STANDARD), { book: whole.book, targets: [], ...more });
  return compose({ ...whole, answers: { ...answers, ...more.answers } });
}

describe('Stages', () => {
  const block: Block = { kind: 'stages', id: 's', metrics: ['pageViews', 'visits', 'orders'], title: '' };

  it('tell of each step what it is of the first and of the one before', () => {
    const q = (metric: string) => keyOf({ op: 'total', metric, range: GALLERY_DATES.period, filter: {} });
    const value = (n: number) => ({ op: 'total' as const, value: { value: n } });
    const scene = drawn(block, {
      answers: { [q('pageViews')]: value(1_000), [q('visits')]: value(500), [q('orders')]: value(20) },
    });
    const texts = textsOf(scene);
    expect(texts).toContain('Page views → Orders');
    expect(texts.slice(texts.indexOf('Visits'))).toEqual(expect.arrayContaining(['500', '50.0%']));
    expect(texts.slice(texts.indexOf('Orders'))).toEqual(expect.arrayContaining(['20', '2.0%', '4.0%']));
  });

  it('mark what is made from a part of the days, in every cell that it reaches', () => {
    const texts = textsOf(drawn(block, {}, 'partial'));
    expect(texts.filter((t) => t.endsWith('†')).length).toBe(7);
    expect(texts.filter((t) => t.startsWith('†')).length).toBe(3);
  });
});

describe('What-if', () => {
  const own: OwnMetric = {
    key: 'profit',
    label: 'Profit',
    unit: 'money',
    polarity: 'higher',
    formula: 'revenue * margin',
    definition: '',
  };
  const settings = { ...NO_SETTINGS, own: [own] };
  const assumptions = [{ key: 'margin', label: 'Margin', unit: 'percent' as const, value: 0.25 }];
  const block: Block = { kind: 'whatIf', id: 'w', metrics: ['profit'], title: '' };

  it('shows figures as assumed beside the usual ones, and what is assumed', () => {
    const more = {
      book: metricBook(assume(settings, { margin: 0.5 })),
      usual: metricBook(assume(settings, { margin: 0.25 })),
      assumed: { margin: 0.5 },
      document: { assumptions } as never,
    };
    const texts = textsOf(drawn(block, more));
    expect(texts.join(' ')).toContain('Margin 50.0% (typically 25.0%)');
    expect(texts).toContain('+100.0%');
  });

  it('shows them alone where everything is as usual, and says so where nothing is assumed', () => {
    const book = metricBook(assume(settings, { margin: 0.25 }));
    const usual = textsOf(drawn(block, { book, document: { assumptions } as never }));
    expect(usual).toContain('Margin 25.0%');
    expect(usual).not.toContain('Usual');
    expect(textsOf(drawn(block, { book }))).toContain('This report has no scenario.');
  });
});

describe('Pace', () => {
  const block: Block = { kind: 'pace', id: 'p', metric: 'revenue', title: '' };
  const knowledge = {
    book: STANDARD,
    targets: [{ metric: 'revenue', span: 'month', from: '2026-10', repeats: true, value: 1_000_000 } as const],
  };

  it('tells what came so far, where it ends, and how far that is from the target', () => {
    const { document, input } = sampleOf({ rows: [[block]], knowledge });
    const scope = { ...GALLERY_DATES, at: '2026-10-12' };
    const answers = answerAll(questionsOf(document, scope, STANDARD), galleryFacts('full', STANDARD), knowledge);
    const texts = textsOf(compose({ ...input, ...scope, answers }));
    expect(texts).toEqual(expect.arrayContaining(['so far', 'at this pace', 'target', '£1,000,000']));
    expect(texts.some((t) => /^£[\d,]+ below the target$/.test(t))).toBe(true);
  });

  it('of a range that is over tells what it came to, without a projection', () => {
    const texts = textsIn(block, { knowledge });
    expect(texts).not.toContain('at this pace');
    expect(texts).toContain('target');
  });
});

describe('Peers', () => {
  it('name the client among the others, and the days over which they are held', () => {
    const block: Block = {
      kind: 'peers',
      id: 'p',
      metric: 'followers',
      theirs: 'competitorFollowers',
      dimension: 'competitor',
      title: '',
    };
    const texts = textsIn(block);
    expect(texts).toContain('Followers vs competitors');
    expect(texts.indexOf('Tarnbeck Pottery', 3)).toBeLessThan(texts.indexOf('Email'));
    expect(texts.join(' ')).toContain('compared on the 31 days with data for everyone (October 2026)');
  });
});

describe('Topics', () => {
  it('lead to where they can be read', () => {
    const block: Block = { kind: 'topics', id: 't', metric: 'topicPosts', dimension: 'hashtag', n: 30, title: '' };
    const scope = scopeOf(sampleOf({ rows: [[block]] }).document, block, GALLERY_DATES);
    const links = blockKind(block)
      .questions(block, scope)
      .find((q) => q.op === 'links')!;
    const answers = {
      [keyOf(links)]: {
        op: 'links' as const,
        links: { Email: 'https://social.example/tags/email', Direct: 'javascript:alert(1)' },
      },
    };
    const ops = drawn(block, { answers }).pages.flatMap((p) => p.ops);
    const led = ops.flatMap((op) => (op.k === 'open' && op.link?.startsWith('mailto') === false ? [op.link] : []));
    // An address of another kind leads nowhere.
    expect(new Set(led)).toEqual(new Set(['https://social.example/tags/email']));
  });
});

describe('a Ranking', () => {
  const block = (more: object): Block =>
    ({ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 3, title: '', ...more }) as Block;

  it('shows all rows, however many', () => {
    expect(textsIn(block({}))).toContain('Other');
    const all = textsIn(block({ rows: 'all' }));
    expect(all).not.toContain('Other');
    expect(all).toContain('Unknown');
  });

  it('leaves out rows that fell, and says how many', () => {
    const falling = (texts: string[]) => texts.filter((t) => /^\u2212\d/.test(t)).length;
    const shown = textsIn(block({ rows: 'all' }));
    const left = textsIn(block({ rows: 'all', falling: 'leave' }));
    expect(falling(shown)).toBeGreaterThan(0);
    expect(falling(left)).toBe(0);
    expect(left.join(' ')).toContain(`${falling(shown)} declining rows not shown; the total includes them.`);
  });

  it('shows the change of each metric where it is asked to', () => {
    const heads = (texts: string[]) => texts.filter((t) => t === 'Change').length;
    expect(heads(textsIn(block({ metrics: ['visits', 'orders'] })))).toBe(1);
    expect(heads(textsIn(block({ metrics: ['visits', 'orders'], changes: 'each' })))).toBe(2);
  });

  it('leads to the pages of the client’s site', () => {
    const { document, input, answers } = sampleOf({ rows: [[block({ dimension: 'landingPage' })]] });
    const top = document.pages[0]!.rows[0]!.blocks[0]!;
    const [q] = blockKind(top).questions(top, scopeOf(document, top, GALLERY_DATES));
    const found = answers[keyOf(q!)];
    if (found?.op !== 'top' || 'na' in found.breakdown) throw new Error('no rows');
    found.breakdown.rows[0]!.label = '/shop';
    const ops = compose({ ...input, site: 'tarnbeck.example', answers }).pages.flatMap((p) => p.ops);
    expect(ops.some((op) => op.k === 'open' && op.link === 'https://tarnbeck.example/shop')).toBe(true);
  });
});

describe('a Work log', () => {
  const block: Block = { kind: 'workLog', id: 'w', metrics: ['visits'], dayNotes: 'show', title: '' };

  it('lists what was written, what feeds counted, and what was noted of the days', () => {
    const texts = textsIn(block, {
      more: {
        commentary: { '0w': 'New product pages\n- A faster checkout\n\n' },
        dayNotes: [{ from: '2026-10-05', to: '2026-10-05', text: 'The kiln was out of order.' }],
      },
    });
    const at = texts.indexOf('Work completed');
    expect(
      texts
        .slice(at + 1)
        .filter((t) => t !== '•')
        .slice(0, 3),
    ).toEqual(['New product pages', 'A faster checkout', expect.stringMatching(/^Visits: [\d,]+$/)]);
    expect(texts.join(' ')).toContain('The kiln was out of order.');
  });

  it('says so where nothing was done', () => {
    expect(textsIn({ ...block, metrics: [] })).toContain('No work recorded for this period.');
  });
});

describe('Notes on figures', () => {
  it('tell of each figure of the report how it is made', () => {
    const rows: Block[][] = [
      [
        {
          kind: 'kpiRow',
          id: 'k',
          metrics: ['visits', 'orderRate', 'followers', 'visitors', 'position'],
        },
      ],
      [{ kind: 'notes', id: 'n', title: '' }],
    ];
    const texts = textsOf(sampleScene({ rows })).join(' ');
    expect(texts).toContain('Visits: total of all days.');
    expect(texts).toContain('Order rate: Orders ÷ Visits.');
    expect(texts).toContain('Followers: last known value on the last day.');
    expect(texts).toContain('Unique visitors: as counted by the platform for the whole period.');
    expect(texts).toContain('Average search position: average weighted by Search impressions.');
  });
});

describe('a Cover', () => {
  const cover: Block = { kind: 'cover', id: 'c', text: 'What October brought.' };
  const kpis: Block = { kind: 'kpiRow', id: 'k', metrics: ['visits'] };

  it('is a sheet of its own that says whose report it is; the title stands there alone', () => {
    const scene = sampleScene({ rows: [[cover], [kpis]] });
    const [first, second] = scene.pages.map((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])));
    expect(first).toEqual(
      expect.arrayContaining(['Tarnbeck Pottery', 'Monthly overview', 'October 2026', 'What October brought.']),
    );
    expect(first!.join(' ')).not.toContain('page 1');
    expect(second!.join(' ')).toContain('Page 2 of 2');
    const heads = scene.pages.map((p) => p.ops.filter((op) => op.k === 'open' && op.tag === 'H1').length);
    expect(heads).toEqual([1, 0]);
  });
});

describe('a table of contents', () => {
  const page = (n: number): Block[][] => [[{ kind: 'heading', id: `h${n}`, text: `Part ${n}` }]];
  const pagesOf = (n: number) =>
    Array.from({ length: n }, (_, p) => ({
      title: `Page ${p + 1}`,
      rows: page(p).map((blocks) => ({ id: `row${p}`, blocks })),
    }));

  it('stands in reports of six sheets and more, behind the first page, and leads to each', () => {
    expect(sampleScene({ rows: [], pages: pagesOf(5) }).pages.map((p) => p.title)).not.toContain('Contents');
    const scene = sampleScene({ rows: [], pages: pagesOf(6) });
    expect(scene.pages.map((p) => p.title)).toEqual([
      'Page 1',
      'Contents',
      'Page 2',
      'Page 3',
      'Page 4',
      'Page 5',
      'Page 6',
    ]);
    const contents = scene.pages[1]!;
    const texts = contents.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : []));
    expect(texts.join(' ')).toContain('Page 2 3 Part 1 3 Page 3 4');
    const led = contents.ops.flatMap((op) => (op.k === 'open' && op.to !== undefined ? [op.to] : []));
    expect([...new Set(led)]).toEqual([0, 2, 3, 4, 5, 6]);
  });

  it.each(['portrait', 'landscape'] as const)(
    'has every page of the longest report on one sheet, %s',
    (orientation) => {
      const paper = { size: 'letter', orientation } as const;
      const scene = sampleScene({ rows: [], pages: pagesOf(MOST_PAGES), paper });
      const contents = scene.pages[1]!;
      expect(scene.pages).toHaveLength(MOST_PAGES + 1);
      expect(pageFaults(contents)).toEqual([]);
      const led = contents.ops.flatMap((op) => (op.k === 'open' && op.to !== undefined ? [op.to] : []));
      expect(new Set(led).size).toBe(MOST_PAGES);
    },
  );

  it('lists pages of one title as the pages that they are', () => {
    const scene = sampleScene({ rows: [], pages: pagesOf(7).map((p) => ({ ...p, title: 'Shop' })) });
    const led = scene.pages[1]!.ops.flatMap((op) => (op.k === 'open' && op.to !== undefined ? [op.to] : []));
    expect([...new Set(led)]).toEqual([0, 2, 3, 4, 5, 6, 7]);
    const listed = textsOf({ ...scene, pages: [scene.pages[1]!] }).filter((t) => t === 'Shop');
    expect(listed).toHaveLength(7);
  });

  it('is left out where it is not wanted', () => {
    const { input, document } = sampleOf({ rows: [], pages: pagesOf(7) });
    expect(compose({ ...input, document: { ...document, noContents: true } }).pages).toHaveLength(7);
  });
});
