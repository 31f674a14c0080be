import { describe, expect, it } from 'vitest';
import { addDays } from '../calendar/index.ts';
import { type Answers, excludeDays, keyOf, NOTHING_ODD, type Odd, STANDARD } from '../figures/index.ts';
import {
  A4,
  type Block,
  documentFrom,
  oddQuestion,
  questionsOf,
  type ReportDocument,
  turnedBy,
  wholeScope,
} from '../report/index.ts';
import { createFormatter, inText, LOCALES, wordsFor } from '../words/index.ts';
import { type ComposeInput, compose, type Ruler } from './index.ts';
import type { ScenePage } from './scene.ts';

const ruler: Ruler = {
  runs: (face, text) => [{ face, text, advance: text.length / 2 }],
  syllables: (word) => [word],
};
const period = { from: '2026-10-01', to: '2026-10-31' };
const compared = { from: '2026-09-01', to: '2026-09-30' };
const visits: Block[] = [
  { kind: 'kpiRow', id: 'k', metrics: ['visits', 'orders'] },
  { kind: 'trend', id: 't', metric: 'visits', title: '' },
  { kind: 'drivers', id: 'd', metric: 'visits', dimension: 'channel', n: 3, title: '' },
  { kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['orders', 'visits'], n: 3, title: '' },
];
let ids = 0;
const starter = documentFrom('shop', wordsFor('en'), () => `b${ids++}`);
const document: ReportDocument = {
  ...starter,
  pages: [{ id: 'p', title: 'Overview', rows: visits.map((b) => ({ id: `row-${b.id}`, blocks: [b] })) }],
};

const odd: Odd = {
  days: [{ day: '2026-09-08', kind: 'zero', value: 0, usual: 410.4, measure: 'visits', side: 'compared' }],
  without: { current: { value: 9_600 }, compared: { value: 10_000 }, days: ['2026-09-08', '2026-10-08'] },
};

/** Visits read better by a day without any in September; nothing is odd of orders. */
function input(more: { dayNotes?: { from: string; to: string; text: string }[]; locale?: string; found?: Odd } = {}) {
  const answers: Answers = Object.fromEntries(
    questionsOf(document, { period, compared }, STANDARD).flatMap((q) =>
      q.op === 'total'
        ? [[keyOf(q), { op: 'total', value: { value: q.range === period ? 10_200 : 9_900 } }] as const]
        : [],
    ),
  );
  const pair = (value: number) => ({ current: { value }, compared: { value } });
  for (const q of questionsOf(document, { period, compared }, STANDARD)) {
    if (q.op !== 'top') continue;
    const rows = [{ label: 'Email', status: 'both' as const, cells: [pair(3), pair(4)] }];
    answers[keyOf(q)] = { op: 'top', breakdown: { rows, other: null, total: [pair(3), pair(4)], fresh: [], gone: [] } };
  }
  answers[keyOf(oddQuestion('visits', wholeScope(document, { period, compared })))] = {
    op: 'oddDays',
    odd: more.found ?? odd,
  };
  return {
    period,
    compared,
    title: 'Monthly overview',
    clientName: 'Mosswick Botanic Garden',
    agencyName: 'Fernglass Media',
    manager: null,
    asOf: null,
    paper: A4,
    document,
    answers,
    book: STANDARD,
    dayNotes: more.dayNotes ?? [],
    commentary: {},
    brand: { main: '#2f6b3a', second: '#b8862d', footer: '', logo: null },
    format: createFormatter(more.locale ?? 'en-GB', 'GBP'),
    ruler,
  };
}
const textsOf = (of: ComposeInput) =>
  compose(of).pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])));
const notesOf = (of: ComposeInput) => textsOf(of).join(' ');
const aNote = (text: string) => ({ from: '2026-09-08', to: '2026-09-08', text });

describe('an odd day on a page', () => {
  it('is marked beside every name of its metric, and of no other, with one note made from the figures', () => {
    const texts = textsOf(input());
    expect(texts.filter((t) => t.endsWith('‡'))).toHaveLength(4);
    expect(texts.some((t) => t.startsWith('Orders') && t.includes('‡'))).toBe(false);
    const note =
      '‡ 8 September 2026: no visits (usually about 410). Without that day and the one it is compared with: visits −4.0%.';
    expect(notesOf(input()).replace(/\s+/g, ' ')).toContain(note);
    expect(notesOf(input()).split('usually about 410').length - 1).toBe(1);
  });

  it('keeps its mark, its figures and the change without it beside what somebody wrote for readers', () => {
    const explained = notesOf(input({ dayNotes: [aNote('the counter was off')] }));
    expect(explained).toContain('8 Sept: the counter was off');
    expect(explained.replace(/\s+/g, ' ')).toContain(
      '‡ 8 September 2026: no visits (usually about 410). Without that day and the one it is compared with: visits −4.0%.',
    );
  });

  it('is left out with its partner where somebody excluded it, and every figure that leaves it out says so', () => {
    const excluded = [{ from: '2026-10-19', to: '2026-10-19', metrics: ['visits'], reason: 'the counter was off' }];
    const dates = excludeDays(period, compared, excluded);
    const of: ComposeInput = { ...input({ found: NOTHING_ODD }), ...dates, excluded };
    const answers: Answers = Object.fromEntries(
      questionsOf(document, dates, STANDARD).flatMap((q) =>
        q.op === 'total' ? [[keyOf(q), { op: 'total', value: { value: 10_200 } }] as const] : [],
      ),
    );
    const text = notesOf({ ...of, answers }).replace(/\s+/g, ' ');
    expect(text).toContain('Visits § 10,200');
    expect(text).toContain('without 19 Oct');
    expect(text).toContain('§ Visits (without 19 Sept, 19 Oct): the counter was off.');
    expect(text).not.toContain('Orders §');
    const alone = excludeDays(period, compared, [{ from: '2026-10-31', to: '2026-10-31' }]);
    expect(notesOf({ ...of, ...alone, excluded: [] }).replace(/\s+/g, ' ')).toContain(
      '§ Visits: without 31 Oct. This period has 30 days; the period it is compared with has 30.',
    );
  });

  it('is no matter of rates: money that was converted is marked with its rate, in every language', () => {
    const of = (locale: string, to: string): ComposeInput => ({
      ...input({ locale, found: NOTHING_ODD }),
      converted: [{ measures: ['visits'], currency: 'EUR', into: 'GBP', rate: 0.86, from: '2026-01-01', to }],
    });
    const text = notesOf(of('en-GB', '2026-10-15')).replace(/\s+/g, ' ');
    expect(text).toContain('Visits ¤ 10,200');
    expect(text).toContain('¤ Visits: amounts in EUR converted at 1 EUR = 0.86 GBP (1 January – 15 October 2026).');
    expect(text).not.toContain('Orders ¤');
    for (const { value } of LOCALES) expect(notesOf(of(value, '2026-10-15'))).toContain('¤');
    // A rate of days that the page does not show is none of its own.
    expect(notesOf(of('en-GB', '2026-08-31'))).not.toContain('¤');
  });

  it('keeps its mark where a name is cut for room', () => {
    const long = {
      ...input(),
      book: { ...STANDARD, labelOf: () => 'A name that is far longer than any column has room for, '.repeat(4) },
    };
    expect(textsOf(long).filter((t) => t.endsWith('… ‡')).length).toBeGreaterThan(1);
  });

  it('stands as one range of days where several follow each other', () => {
    const day = (n: number) => ({ ...odd.days[0]!, day: `2026-09-0${n}` });
    const run = notesOf(input({ found: { days: [day(7), day(8), day(9)], without: null } }));
    expect(run.replace(/\s+/g, '')).toContain('‡7–9September2026:novisits(usuallyabout1,231).');
    expect(run).not.toContain('Without');
  });

  it('is named with a few others, and how many more there are', () => {
    const days = Array.from({ length: 14 }, (_, i) => ({ ...odd.days[0]!, day: addDays('2026-09-01', 2 * i) }));
    const without = { ...odd.without!, days: days.map((d) => d.day) };
    const text = notesOf(input({ found: { days, without } }));
    expect(text.match(/usually about 410/g)).toHaveLength(14);
    expect(text.replace(/\s+/g, ' ')).toContain(
      '11 Sept, and 8 more days and the days they are compared with: visits −4.0%.',
    );
  });

  it('in many figures needs as many pages as its notes do: none is drawn off the paper, none is lost', () => {
    const metrics = STANDARD.metrics.filter((m) => m.aggregation.kind === 'sum').map((m) => m.key);
    const rows = Array.from({ length: Math.ceil(metrics.length / 5) }, (_, i) => ({
      id: `r${i}`,
      blocks: [{ kind: 'kpiRow' as const, id: `k${i}`, metrics: metrics.slice(5 * i, 5 * i + 5) }],
    }));
    const many = { ...document, pages: [{ id: 'p', title: 'Overview', rows }] };
    const days = Array.from({ length: 6 }, (_, i) => ({ ...odd.days[0]!, day: `2026-09-0${i + 1}`, measure: `m${i}` }));
    const answers = Object.fromEntries(
      metrics.map((m) => [
        keyOf(oddQuestion(m, wholeScope(document, { period, compared }))),
        { op: 'oddDays' as const, odd: { ...odd, days } },
      ]),
    );
    const words = wordsFor('en');
    const scene = compose({ ...input(), document: many, answers });
    const textsAt = (size: number, from: ScenePage[]) =>
      from.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' && op.size === size ? [op] : [])));
    const first = scene.pages.findIndex((p) => p.title === words.notes);
    const [own, end] = [scene.pages.slice(0, first), scene.pages.slice(first)];
    expect(end.length).toBeGreaterThan(0);
    // No sheet has more than three; in place of more it says where they are.
    for (const page of own) {
      const foot = textsAt(7.5, [page]).map((op) => op.text.trim());
      expect(foot.filter((t) => t.startsWith('‡')).length).toBeLessThanOrEqual(3);
      expect(foot.join(' ')).toMatch(/\d+ notes on these figures are at the end of the report\./);
    }
    const notes = textsAt(9, end);
    for (const op of notes) {
      expect(op.y).toBeGreaterThan(42);
      expect(op.y).toBeLessThan(841.89);
    }
    const said = notes.map((op) => op.text.trim()).join(' ');
    for (const m of metrics)
      expect(said, m).toContain(`${inText(STANDARD.labelOf(m, words.metrics), words, 'en')} −4.0%`);
    // One note for each day, whatever number of figures is odd then; and once for the page, whatever number of sheets it has.
    expect(said.match(/‡ \d/g)).toHaveLength(6);
    // They stand beneath the title of the page that they belong to.
    expect(textsAt(11, end).map((op) => op.text)).toContain('Overview');
  });

  it('is worded in every language that reports speak', () => {
    for (const { value: locale } of LOCALES) {
      const text = notesOf(input({ locale }));
      expect(text, locale).toContain('‡');
      expect(text, locale).not.toMatch(/[{}]|undefined|NaN/);
    }
  });
});

describe('a verdict that an odd day turns round', () => {
  const turned = (of: ReturnType<typeof input>) =>
    turnedBy(
      of,
      ['visits', 'orders'].map((metric) => ({ metric, scope: wholeScope(document, { period, compared }) })),
    ).map((t) => t.metric.key);

  it('is found where leaving the day out says the opposite', () => {
    expect(turned(input())).toEqual(['visits']);
  });

  it('is none once somebody has said to readers what happened, or where the verdict stays', () => {
    expect(turned(input({ dayNotes: [aNote('the counter was off')] }))).toEqual([]);
    const same = { ...odd, without: { ...odd.without!, current: { value: 10_400 } } };
    expect(turned(input({ found: same }))).toEqual([]);
    expect(turned(input({ found: { ...odd, without: null } }))).toEqual([]);
  });
});
