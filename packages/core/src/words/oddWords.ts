import { addDays, type Range } from '../calendar/index.ts';
import {
  changeWithout,
  type Metric,
  type MetricBook,
  type MetricUnit,
  type Odd,
  type OddDayOf,
} from '../figures/index.ts';
import { datesIn, fewOf, listDays } from './dayLists.ts';
import type { Formatter } from './formatter.ts';
import { measureName } from './measureName.ts';
import { fill } from './registry.ts';

/** A sum's name and unit: of the metric that it is shown as, else its own. */
function sumOf(measure: string, metric: Metric, book: MetricBook, format: Formatter) {
  const isIt = ({ aggregation: a }: Metric) => a.kind === 'sum' && a.measure === measure;
  const shown = isIt(metric) ? metric : book.metrics.find(isIt);
  if (shown) return { label: book.labelOf(shown.key, format.words.metrics), unit: shown.unit };
  const { measures, metrics } = format.words;
  return { label: measures[measure] ?? metrics[measure] ?? measureName(measure), unit: 'count' as MetricUnit };
}

/** Odd days of one sum that follow each other. */
interface OddRun extends Range {
  measure: string;
  value: number;
  usual: number;
}

function runsOf(days: readonly OddDayOf[]): OddRun[] {
  const runs: OddRun[] = [];
  for (const { day, measure, value, usual } of days) {
    const last = runs.findLast((r) => r.measure === measure);
    if (last?.to === day) continue;
    if (last && addDays(last.to, 1) === day)
      Object.assign(last, { to: day, value: last.value + value, usual: last.usual + usual });
    else runs.push({ from: day, to: day, measure, value, usual });
  }
  return runs;
}

/**
 * What came on the odd days of a metric and what is usual: `8 Oct: 6, usually 36`. Of a rate, and wherever they stand
 * alone, with the name of the sum: `Orders, 8 Oct: 6, usually 36`.
 */
export function oddDayWords(
  days: readonly OddDayOf[],
  metric: Metric,
  book: MetricBook,
  format: Formatter,
  alone = false,
): string[] {
  const datesOf = datesIn(
    days.map((o) => o.day),
    format,
  );
  const own = book.labelOf(metric.key, format.words.metrics);
  const said = runsOf(days).map((run) => {
    const { label, unit } = sumOf(run.measure, metric, book, format);
    // What is usual is no count of its own: it has no more decimals than that.
    const usual = unit === 'count' ? Math.round(run.usual) : run.usual;
    const value = `${format.figure(run.value, unit)}, ${fill(format.words.typical, { value: format.figure(usual, unit) })}`;
    const dates = datesOf(run);
    return fill(format.words.noteDay, { dates: alone || label !== own ? `${label}, ${dates}` : dates, text: value });
  });
  return fewOf(said);
}

/** That change in words, with the days: `without 8 Sept, 8 Oct: −4.0% worse`; null where there is none. */
export function withoutWords(odd: Odd, metric: Metric, format: Formatter): string | null {
  const change = changeWithout(odd, metric);
  const told = change && format.change(change);
  if (!odd.without || !change || !told) return null;
  const { better, worse, steady, changed } = format.words;
  const verdict = { better, worse, steady, changed, none: '' }[change.verdict];
  const dates = listDays(odd.without.days, format);
  return fill(format.words.withoutDays, { dates, change: told === verdict ? told : `${told} ${verdict}`.trim() });
}
