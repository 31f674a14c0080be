import { ownOf } from '../bounds/index.ts';
import { addDays, type CivilDate, rangesOfDays } from '../calendar/index.ts';
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
import { fullStop } from './fullStop.ts';
import { atHead, inText } from './inText.ts';
import { measureName } from './measureName.ts';
import { fill } from './said.ts';

/** What was found odd of one metric, and what it is called. */
export interface OddTold {
  metric: Metric;
  label: string;
  odd: Odd;
}

/** A sum's name and unit: of the metric that it is shown as, else its own. */
function sumOf(measure: string, metrics: readonly Metric[], book: MetricBook, format: Formatter) {
  const isIt = ({ aggregation: a }: Metric) => a.kind === 'sum' && a.measure === measure;
  const shown = metrics.find(isIt) ?? book.metrics.find(isIt);
  if (shown) return { label: book.labelOf(shown.key, format.words.metrics), unit: shown.unit };
  const words = format.words;
  return {
    label: ownOf(words.measures, measure) ?? ownOf(words.metrics, measure) ?? measureName(measure),
    unit: 'count' as const,
  };
}

/** What came on one or several days that follow each other, and what is usual. */
interface OddRun {
  from: CivilDate;
  to: CivilDate;
  measure: string;
  value: number;
  usual: number;
}

/** The odd days of all sums, each once; of one sum, days that follow each other are one run. */
function runsOf(days: readonly OddDayOf[]): OddRun[] {
  const runs: OddRun[] = [];
  const once = new Map(days.map((d) => [`${d.day} ${d.measure}`, d]));
  for (const { day, measure, value, usual } of [...once.values()].sort((a, b) => (a.day < b.day ? -1 : 1))) {
    const last = runs.findLast((r) => r.measure === measure);
    if (last && addDays(last.to, 1) === day)
      Object.assign(last, { to: day, value: last.value + value, usual: last.usual + usual });
    else runs.push({ from: day, to: day, measure, value, usual });
  }
  return runs;
}

/** What came, and what is usual: `orders 6 (usually about 36)`. What is usual is no count of its own: it has no decimals. */
function cameWords(run: OddRun, metrics: readonly Metric[], book: MetricBook, format: Formatter): string {
  const { label, unit } = sumOf(run.measure, metrics, book, format);
  const { odd } = format.words;
  const whole = (value: number, as: MetricUnit) =>
    as === 'money'
      ? format.axis(Math.round(value), as, 1)
      : format.figure(as === 'count' ? Math.round(value) : value, as);
  return fill(run.value === 0 ? odd.nothing : odd.came, {
    metric: inText(label, format.words, format.locale),
    value: run.value === 0 ? whole(0, unit) : format.figure(run.value, unit),
    usual: whole(run.usual, unit),
  });
}

/** Runs of the same days, as one: `19 Oct: no visits (usually about 770), no orders (usually about 31)`. */
function dayWords(runs: readonly OddRun[], metrics: readonly Metric[], book: MetricBook, format: Formatter): string {
  const [first] = runs;
  const came = runs.map((r) => cameWords(r, metrics, book, format));
  const dates = first!.from === first!.to ? format.date(first!.from) : format.dates(first!);
  return fill(format.words.odd.day, { dates, came: came.join(', ') });
}

/** The change of a metric without its odd days: `orders −4.0%`; null where there is none. */
function movedWords({ metric, label, odd }: OddTold, format: Formatter): string | null {
  const change = changeWithout(odd, metric);
  const told = change && format.change(change);
  if (!change || !told) return null;
  const said = { metric: inText(label, format.words, format.locale), change: told };
  return fill(change.verdict === 'steady' ? format.words.odd.steady : format.words.odd.moved, said);
}

const daysOf = ({ odd }: OddTold): CivilDate[] => [...new Set(odd.days.map((d) => d.day))].sort();

/** A note on odd days: what it says, and which of the metrics it is about. */
export interface OddNote {
  text: string;
  metrics: string[];
}

/**
 * Notes on the odd days behind figures that stand together: one for each day (or days that follow each other), with all that
 * came on it, and with the changes without it. Changes that leave several days out stand in a sentence of their own.
 * @example '19 October 2026: no visits (usually about 770). Without that day and the one it is compared with: visits −4.0%.'
 */
export function oddNotes(told: readonly OddTold[], book: MetricBook, format: Formatter): OddNote[] {
  const metrics = told.map((t) => t.metric);
  const byDays = new Map<string, OddRun[]>();
  for (const run of runsOf(told.flatMap((t) => t.odd.days))) {
    const key = `${run.from} ${run.to}`;
    byDays.set(key, [...(byDays.get(key) ?? []), run]);
  }
  const { odd } = format.words;
  const sentence = (text: string) => fullStop(atHead(text, format.locale));
  const groups = new Map<string, OddTold[]>();
  for (const t of told) {
    const key = daysOf(t).join(' ');
    if (key !== '') groups.set(key, [...(groups.get(key) ?? []), t]);
  }
  const movedOf = (group: readonly OddTold[]) => group.flatMap((t) => movedWords(t, format) ?? []).join(', ');
  const isOf = (t: OddTold, { from, to }: OddRun) => t.odd.days.some((d) => from <= d.day && d.day <= to);
  const single = new Set<string>();
  const notes = [...byDays.values()].map((runs): OddNote => {
    const [run] = runs;
    const own = [...groups].find(([, group]) => {
      const days = daysOf(group[0]!);
      return days[0] === run!.from && days.at(-1) === run!.to && rangesOfDays(days).length === 1;
    });
    const moved = own ? movedOf(own[1]) : '';
    if (own) single.add(own[0]);
    const after = moved === '' ? [] : [format.count(odd.withoutIt, daysOf(own![1][0]!).length, { moved })];
    return {
      text: [dayWords(runs, metrics, book, format), ...after].map(sentence).join(' '),
      metrics: told.filter((t) => isOf(t, run!)).map((t) => t.metric.key),
    };
  });
  for (const [key, group] of groups) {
    const moved = single.has(key) ? '' : movedOf(group);
    if (moved === '') continue;
    const days = daysOf(group[0]!);
    const text = format.count(odd.without, days.length, { dates: listDays(days, format), moved });
    notes.push({ text: sentence(text), metrics: group.map((t) => t.metric.key) });
  }
  return notes;
}

/** What came on the odd days of one metric, in short: `8 Oct: orders 6 (usually about 36)`. */
export function oddDayWords(days: readonly OddDayOf[], metric: Metric, book: MetricBook, format: Formatter): string[] {
  const datesOf = datesIn(
    days.map((o) => o.day),
    format,
  );
  const said = runsOf(days).map((run) =>
    fill(format.words.odd.day, { dates: datesOf(run), came: cameWords(run, [metric], book, format) }),
  );
  return fewOf(said, format);
}

/** What came on one odd day of a metric and what is usual, without its date: `no visits (usually about 781)`. */
export const oddDayCame = (day: OddDayOf, metric: Metric, book: MetricBook, format: Formatter): string =>
  runsOf([day])
    .map((run) => cameWords(run, [metric], book, format))
    .join();

/** The change of a metric without its odd days and those they are compared with, in a sentence; null where there is none. */
export function withoutWords(told: OddTold, format: Formatter): string | null {
  const moved = movedWords(told, format);
  const days = daysOf(told);
  return moved && format.count(format.words.odd.without, days.length, { dates: listDays(days, format), moved });
}
