import { type Lack, type MetricBook, SEGMENT } from '../figures/index.ts';
import type { Formatter } from './formatter.ts';

/** A feed, and what is wrong with it at present. */
export interface FeedTrouble {
  name: string;
  trouble: string | null;
}

/** What keeps a report from being drawn, in sentences for the manager (the interface is English). */
export function describeLacks(
  lacks: readonly Lack[],
  feeds: readonly FeedTrouble[],
  english: Formatter,
  book: MetricBook,
): string[] {
  const sentences = lacks.map((lack) => {
    if (lack.kind === 'gone') {
      const what = lack.what.map((w) => (w === SEGMENT ? english.words.aSegment : w)).join(', ');
      return `A part of the report asks for what is no longer there: ${what}. Choose something else in its place.`;
    }
    if (lack.kind === 'typeface')
      return `The file of the typeface ${lack.names.join(', ')} is missing or damaged. Bring the same file again under Brand, or choose another.`;
    if (lack.kind === 'no-dataset') {
      return feeds.length === 0
        ? 'No feed is connected yet.'
        : `No feed brings ${lack.metrics.map((m) => book.labelOf(m, english.words.metrics)).join(', ')}.`;
    }
    if (lack.kind === 'no-dimension') {
      const metrics = lack.metrics.map((m) => book.labelOf(m, english.words.metrics)).join(', ');
      const by = lack.dimensions.map((d) => english.words.dimensions[d] ?? d).join(', ');
      return `No feed knows ${metrics} by ${by}. Choose another breakdown in the report.`;
    }
    if (lack.kind === 'uncounted') {
      const ranges = lack.ranges.map((r) => english.dates(r)).join(', ');
      return `${lack.dataset}: the service has not counted its visitors or reach for ${ranges}.`;
    }
    const days = lack.missing.map((r) => english.dates(r)).join(', ');
    return `${lack.dataset}: no figures yet for ${days}.`;
  });
  for (const feed of feeds) if (feed.trouble && lacks.length > 0) sentences.push(`${feed.name}: ${feed.trouble}`);
  return [...new Set(sentences)];
}
