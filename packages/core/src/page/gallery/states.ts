import { addDays, type Range, toDayNumber } from '../../calendar/index.ts';
import { coverageOf, type Dataset, DIMENSION_KEYS, type MetricBook, measuresOf } from '../../figures/index.ts';

/** The states in which every block has to look right. */
export const GALLERY_STATES = ['full', 'none', 'partial', 'huge'] as const;
export type GalleryState = (typeof GALLERY_STATES)[number];

/** What the gallery's pages cover. */
export const GALLERY_DATES = {
  period: { from: '2026-10-01', to: '2026-10-31' },
  compared: { from: '2026-09-01', to: '2026-09-30' },
} satisfies { period: Range; compared: Range };

const FIRST = '2025-09-01';
const LABELS = ['Organic search', 'Paid search', 'Direct', 'Social', 'Email', 'Referral', ''];
const LONG = 'Landeshauptstadtverwaltungsangelegenheiten und weitere, lange Bezeichnungen';
/** Of 75 characters, as nobody would want them. */
const LONG_LABELS = Array.from({ length: 60 }, (_, i) =>
  `${String.fromCharCode(65 + (i % 26))}${i < 26 ? '' : 'x'} ${LONG}`.slice(0, 75),
);

/** A number in [0, 1) from two others, the same everywhere. */
const scatter = (a: number, b: number): number => Math.abs(Math.sin(a * 12.9898 + b * 78.233) * 43_758.5453) % 1;

/** How large the figures of a state are. */
const scaleOf = (state: GalleryState): number => (state === 'huge' ? 98_765_432_109 : 180);

/** Facts that bring every metric of a book by every dimension, as a state has them; nothing for none. */
export function galleryFacts(state: GalleryState, book: MetricBook): Dataset[] {
  if (state === 'none') return [];
  const measures = [...new Set(book.metrics.flatMap((m) => measuresOf(m.aggregation, book.lookup)))];
  const labels = state === 'huge' ? LONG_LABELS : LABELS;
  const first = toDayNumber(FIRST);
  const days = toDayNumber(GALLERY_DATES.period.to) - first + 1;
  // Half of the days of the period are missing, every other one.
  const missing = toDayNumber(GALLERY_DATES.period.from) + 4;
  const known = Array.from({ length: days }, (_, i) => first + i).filter(
    (day) => state !== 'partial' || day < missing || (day - missing) % 2 === 0,
  );
  const rows = known.length * labels.length;
  const dayOf = (i: number) => known[Math.floor(i / labels.length)]!;
  const codes = Int32Array.from({ length: rows }, (_, i) => i % labels.length);
  // Rows of a day lie at hours of their own.
  const hours = { codes: codes.map((_, i) => (i * 5) % 24), labels: Array.from({ length: 24 }, (_, h) => String(h)) };
  const scale = scaleOf(state);
  const column = (m: number) =>
    Float64Array.from({ length: rows }, (_, i) =>
      Math.round(scale * (0.2 + scatter(dayOf(i), (i % labels.length) + m * 60))),
    );
  return [
    {
      id: 'gallery',
      name: 'Gallery',
      firstDay: FIRST,
      dimensions: DIMENSION_KEYS,
      measures,
      covered: coverageOf(known),
      columns: {
        days: Int32Array.from({ length: rows }, (_, i) => dayOf(i)),
        dims: Object.fromEntries(DIMENSION_KEYS.map((d) => [d, d === 'hour' ? hours : { codes, labels }])),
        measures: Object.fromEntries(measures.map((m, i) => [m, column(i)])),
      },
    },
  ];
}

/** Days of the period that something was noted of. */
export const galleryNoteDays = (): Range => ({
  from: addDays(GALLERY_DATES.period.from, 9),
  to: addDays(GALLERY_DATES.period.from, 10),
});
