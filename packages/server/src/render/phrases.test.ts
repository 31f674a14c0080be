import { type Answers, answerAll, hasDrivers, STANDARD } from '@chronicon/core/figures';
import { compose } from '@chronicon/core/page';
import { GALLERY_DATES, GALLERY_STATES, galleryFacts, pageFaults } from '@chronicon/core/page/gallery';
import { A4, type Block, type Dates, questionsOf, type ReportDocument } from '@chronicon/core/report';
import { formatterOf, LOCALES } from '@chronicon/core/words';
import { describe, expect, it } from 'vitest';
import { createShaper } from './shaper.ts';

const shaper = createShaper();
const facts = Object.fromEntries(GALLERY_STATES.map((s) => [s, galleryFacts(s, STANDARD)]));
/** One locale of each language: what differs between the others is numbers and dates. */
const LANGUAGES = LOCALES.map((l) => l.value).filter(
  (l, i, all) => all.findIndex((o) => o.slice(0, 2) === l.slice(0, 2)) === i,
);
const KEYS = STANDARD.metrics.map((m) => m.key);
const divided = STANDARD.metrics.filter((m) => hasDrivers(m.aggregation, STANDARD.lookup)).map((m) => m.key);

const DATES: Dates[] = [
  GALLERY_DATES,
  { ...GALLERY_DATES, compared: null, yardstick: { kind: 'target' } },
  { ...GALLERY_DATES, compared: null, yardstick: { kind: 'typical', ranges: [GALLERY_DATES.compared] } },
];

let n = 0;
const id = () => `b${n++}`;
/** Every metric in every kind of block that names one, at the narrowest and the widest. */
function rows(): Block[][] {
  const thirds = <T>(list: readonly T[]): T[][] =>
    Array.from({ length: Math.ceil(list.length / 3) }, (_, i) => list.slice(i * 3, i * 3 + 3));
  return [
    ...thirds(KEYS).map((keys) => keys.map((k): Block => ({ kind: 'kpiRow', id: id(), metrics: [k] }))),
    ...thirds(KEYS).map((keys): Block[] => [{ kind: 'kpiRow', id: id(), metrics: keys }]),
    ...thirds(KEYS).map((keys) => keys.map((k): Block => ({ kind: 'trend', id: id(), metric: k, title: '' }))),
    ...thirds(KEYS).map((keys) =>
      keys.map((k): Block => ({ kind: 'ranking', id: id(), dimension: 'landingPage', metrics: [k], n: 2, title: '' })),
    ),
    ...thirds(KEYS).map((metrics): Block[] => [
      { kind: 'ranking', id: id(), dimension: 'channel', metrics, n: 2, title: '' },
    ]),
    ...thirds(divided).map((keys) =>
      keys.map((k): Block => ({ kind: 'drivers', id: id(), dimension: 'channel', metric: k, n: 3, title: '' })),
    ),
    ...(['bars', 'ring'] as const).map((form): Block[] =>
      ['visits', 'revenue', 'orders'].map(
        (metric): Block => ({ kind: 'share', id: id(), metric, dimension: 'channel', form, limit: 3, title: '' }),
      ),
    ),
    ['visits', 'revenue', 'bounceRate'].map((metric): Block => ({ kind: 'rhythm', id: id(), metric, title: '' })),
    [{ kind: 'opening', id: id(), metric: 'visits', dimension: 'channel' }],
  ];
}

const SHOWN = rows().map((blocks) => ({ id: id(), blocks }));

/** A report for certain dates with its figures, which no language changes. */
function made(state: 'full' | 'none' | 'partial', dates: Dates): { document: ReportDocument; answers: Answers } {
  const key = JSON.stringify([state, dates]);
  const before = known.get(key);
  if (before) return before;
  const document: ReportDocument = {
    version: 2,
    period: { kind: 'fixed', ...dates.period },
    comparison: { kind: 'previous' },
    pages: [{ id: 'p', title: 'Page', rows: SHOWN }],
  };
  const now = { document, answers: answerAll(questionsOf(document, dates, STANDARD), facts[state]!) };
  known.set(key, now);
  return now;
}
const known = new Map<string, { document: ReportDocument; answers: Answers }>();

describe.each(LANGUAGES)('in %s', (language) => {
  it.each(['full', 'none', 'partial'] as const)('no phrase is cut at any width, of figures that are %s', (state) => {
    for (const dates of state === 'full' ? DATES : DATES.slice(0, 1)) {
      const scene = compose({
        ...dates,
        title: 'Overview',
        clientName: 'Tarnbeck Pottery',
        agencyName: 'Fernglass Media',
        manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
        asOf: '2026-11-02',
        paper: A4,
        ...made(state, dates),
        book: STANDARD,
        dayNotes: [],
        commentary: {},
        brand: { main: '#274e66', second: '#d98f3d', footer: '', logo: null },
        format: formatterOf(language, 'EUR'),
        ruler: shaper,
      });
      const cut = scene.pages.flatMap((p) =>
        p.ops.flatMap((op) => (op.k === 'text' && op.text.includes('…') ? [op.text] : [])),
      );
      expect(cut).toEqual([]);
      expect(scene.pages.flatMap(pageFaults)).toEqual([]);
    }
  });
});
