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
      return `The report uses something that was deleted: ${what}. Choose a replacement.`;
    }
    if (lack.kind === 'typeface')
      return `The font file of ${lack.names.join(', ')} is missing or damaged. Upload it again under Brand, or choose another font.`;
    if (lack.kind === 'no-dataset') {
      return feeds.length === 0
        ? 'No feed is connected yet.'
        : `No feed provides ${lack.metrics.map((m) => book.labelOf(m, english.words.metrics)).join(', ')}.`;
    }
    if (lack.kind === 'no-dimension') {
      const metrics = lack.metrics.map((m) => book.labelOf(m, english.words.metrics)).join(', ');
      const by = lack.dimensions.map((d) => english.words.dimensions[d] ?? d).join(', ');
      return `${metrics} isn’t available by ${by}. Choose another breakdown in the report.`;
    }
    if (lack.kind === 'uncounted') {
      const ranges = lack.ranges.map((r) => english.dates(r)).join(', ');
      return `${lack.dataset}: no unique-visitor or reach data for ${ranges}.`;
    }
    const days = lack.missing.map((r) => english.dates(r)).join(', ');
    return `${lack.dataset}: no data yet for ${days}.`;
  });
  for (const feed of feeds) if (feed.trouble && lacks.length > 0) sentences.push(`${feed.name}: ${feed.trouble}`);
  return [...new Set(sentences)];
}
