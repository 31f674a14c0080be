import {
  type CivilDate,
  civilDateAt,
  daysOf,
  fromDayNumber,
  lengthOf,
  maxDate,
  minDate,
  type Range,
} from '@chronicon/core/calendar';
import type { Figures, FiguresQuery, FilterPart } from '@chronicon/core/contract';
import {
  type Answers,
  byCodePoint,
  datasetOf,
  type Filter,
  isKnown,
  type Knowledge,
  keyOf,
  metricBook,
  missingDays,
  na,
  type Pair,
  type Question,
  rangeToJudge,
  type Step,
  stepsOf,
  suspectsOf,
  targetAdds,
  targetOf,
  type Value,
} from '@chronicon/core/figures';
import { fill } from '@chronicon/core/words';
import { atField } from '../api/refusal.ts';
import { settleDates } from '../clockwork/dates.ts';
import { describeLacks } from '../clockwork/lacks.ts';
import type { Tools } from '../clockwork/tools.ts';
import { type CoveredShape, datasetsOf } from '../facts/factReader.ts';
import { labelsOf } from '../facts/reported.ts';
import { uniquesFor } from '../feeds/uniques.ts';
import type { StoredClient } from '../store/clients.ts';
import { notesOf } from '../store/dayNotes.ts';
import { feedsOf } from '../store/feeds.ts';
import { targetsOf } from '../store/targets.ts';
import { englishFor, metricHead, namedRange } from './english.ts';
import type { Basis } from './reading.ts';

const MOST_LABELS = 20_000;

export interface ClientFigures {
  client: StoredClient;
  basis: Basis;
  knowledge: Knowledge;
  today: CivilDate;
}

/** What a client's figures are asked of. */
export async function figuresOf(tools: Tools, client: StoredClient): Promise<ClientFigures> {
  const targets = await targetsOf(tools.store, client.id);
  return {
    client,
    basis: { clientId: client.id, metrics: client.metrics, targets },
    knowledge: { book: metricBook(client.metrics), targets },
    today: civilDateAt(tools.clock.now(), client.zone),
  };
}

/** @throws Refusal at `metrics` for one that the client does not have */
export function checkMetrics(keys: readonly string[], { knowledge }: ClientFigures, field = 'metrics'): void {
  const unknown = keys.find((key) => !knowledge.book.has(key));
  if (unknown) throw atField(field, `There is no metric ${unknown}.`);
}

/** Every label of a dimension that any of the client's datasets has. */
export async function allLabels(tools: Tools, shapes: readonly CoveredShape[], dimension: string): Promise<string[]> {
  const found = new Set<string>();
  for (const shape of shapes.filter((s) => s.dimensions.includes(dimension))) {
    for (const label of await labelsOf(tools.facts, shape.id, dimension, MOST_LABELS)) found.add(label);
  }
  return [...found].sort(byCodePoint);
}

/** "All but these" as the labels that stay. */
export async function settleFilter(tools: Tools, clientId: string, parts: readonly FilterPart[]): Promise<Filter> {
  const shapes = parts.some((p) => p.except) ? await datasetsOf(tools.facts, clientId) : [];
  const filter: Record<string, string[]> = {};
  for (const { dimension, values, except } of parts) {
    const kept = except ? (await allLabels(tools, shapes, dimension)).filter((l) => !values.includes(l)) : values;
    filter[dimension] = kept;
  }
  return filter;
}

/** About as many points as an eye can follow: days up to half a year, then weeks, then months. */
function stepFor(range: Range, chosen: FiguresQuery['step']): Step {
  if (chosen !== 'auto') return chosen;
  const days = lengthOf(range);
  return days <= 190 ? 'day' : days <= 800 ? 'week' : 'month';
}

const totalIn = (answers: Answers, q: Question | null): Value | null => {
  const found = q && answers[keyOf(q)];
  if (found?.op === 'total' || found?.op === 'target') return found.value;
  if (found?.op !== 'typical') return null;
  return 'na' in found.value ? found.value : { value: found.value.value };
};

/** Everything that the Figures place shows of one question. */
export async function askFigures(tools: Tools, figures: ClientFigures, query: FiguresQuery): Promise<Figures> {
  const { client, basis, knowledge, today } = figures;
  const { book } = knowledge;
  checkMetrics(query.metrics, figures);
  const english = englishFor(client);
  const filter = await settleFilter(tools, client.id, query.filter);
  const { period, compared, yardstick } = settleDates(query.period, query.compare, today, client);
  const total = (metric: string, range: Range): Question => ({ op: 'total', metric, range, filter });
  const beforeOf = (metric: string): Question | null => {
    if (compared) return total(metric, compared);
    if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
    return yardstick ? { op: 'target', metric, range: period } : null;
  };
  const step = stepFor(period, query.step);
  const times = stepsOf(period, step, client.weekStart);
  const comparedTimes = compared && stepsOf(compared, step, client.weekStart);
  const line = (metric: string, range: Range, ranges: Range[]): Question =>
    step === 'day' ? { op: 'byDay', metric, range, filter } : { op: 'bySteps', metric, ranges, filter };
  const top: Question | null = query.by
    ? {
        op: 'top',
        metrics: query.metrics,
        dimension: query.by,
        n: query.n,
        range: period,
        compared,
        filter,
        order: compared ? query.order : 'current',
      }
    : null;
  const judged = rangeToJudge(period);
  const history = { from: judged.from, to: minDate(judged.to, today) };
  const judge = (metric: string): Question | null =>
    top || history.from > history.to ? null : { op: 'byDay', metric, range: history, filter };
  const questions = query.metrics.flatMap((metric) => [
    total(metric, period),
    beforeOf(metric),
    ...(top ? [] : [line(metric, period, times), compared && line(metric, compared, comparedTimes!), judge(metric)]),
  ]);
  const asked = [...questions, top].filter((q) => q !== null);
  await uniquesFor(tools, client.id, asked, knowledge);
  const { answers, shapes } = await tools.press.ask(basis, asked);

  const lineOf = (q: Question): Value[] => {
    const found = answers[keyOf(q)];
    if (found?.op === 'bySteps') return found.values;
    if (found?.op !== 'byDay' || q.op !== 'byDay') return [];
    const { values } = found;
    if (!Array.isArray(values)) return daysOf(q.range).map(() => values);
    const shape = datasetOf(q, shapes, knowledge);
    const missing = shape ? missingDays(shape.covered, q.range, shape.firstDay) : [];
    return daysOf(q.range).map((day, i): Value => {
      const value = values[i] ?? null;
      if (value !== null) return { value };
      if (shape && day < shape.firstDay) return na('before-start');
      return na(missing.some((r) => r.from <= day && day <= r.to) ? 'not-covered' : 'zero-denominator');
    });
  };
  const targetLine = (metric: string): (number | null)[] | null => {
    const own = knowledge.targets.filter((t) => t.metric === metric);
    if (own.length === 0) return null;
    const adds = targetAdds(book.lookup(metric), book.lookup);
    const line = times.map((range) => {
      const value = targetOf(adds, own, range);
      return isKnown(value) ? value.value : null;
    });
    return line.some((v) => v !== null) ? line : null;
  };
  const found = top ? answers[keyOf(top)] : null;
  const breakdown = found?.op === 'top' ? found.breakdown : null;
  const lack = breakdown && 'na' in breakdown ? english.words.reasons[breakdown.na] : null;
  const known = breakdown && !('na' in breakdown) ? breakdown : null;
  const notes = (await notesOf(tools.store, client.id)).filter((n) => n.from <= period.to && n.to >= period.from);
  return {
    period: namedRange(period, english),
    compared: compared && namedRange(compared, english),
    against: compared
      ? english.shortRange(compared)
      : yardstick
        ? yardstick.kind === 'target'
          ? english.words.theTarget
          : fill(english.words.theTypical, { count: yardstick.ranges.length })
        : null,
    metrics: query.metrics.map((key) => metricHead(book.of(key), book, english)),
    totals: query.metrics.map(
      (m): Pair => ({ current: totalIn(answers, total(m, period))!, compared: totalIn(answers, beforeOf(m)) }),
    ),
    series: top
      ? null
      : {
          step,
          times,
          comparedTimes,
          lines: query.metrics.map((m) => ({
            current: lineOf(line(m, period, times)),
            compared: compared && lineOf(line(m, compared, comparedTimes!)),
            target: targetLine(m),
          })),
        },
    breakdown: top && {
      dimension: { key: query.by!, label: english.words.dimensions[query.by!] ?? query.by! },
      rows: known?.rows ?? [],
      other: known?.other ?? null,
      labels: query.by ? (await allLabels(tools, shapes, query.by)).length : 0,
      lack,
    },
    suspects: query.metrics.flatMap((metric) => {
      const q = judge(metric);
      const values = q && answers[keyOf(q)];
      if (values?.op !== 'byDay' || !Array.isArray(values.values)) return [];
      const missing = missingOf(metric, minDate(period.to, today));
      const range = { from: period.from, to: minDate(period.to, today) };
      if (range.from > range.to) return [];
      return suspectsOf({ from: history.from, values: values.values }, range, missing, book.of(metric).unit).map(
        (s) => ({ metric, ...s }),
      );
    }),
    notes: notes.map(({ madeBy: _, ...n }) => n),
    lacks: await lacksIn(tools, figures, shapes, query.metrics),
  };

  /** Days up to the newest delivered one that should be there and are not: later ones are merely not in yet. */
  function missingOf(metric: string, to: CivilDate): Range[] {
    const own = datasetOf(total(metric, period), shapes, knowledge);
    const newest = own?.covered.at(-1)?.[1];
    if (!own || newest === undefined) return [];
    const through = minDate(to, fromDayNumber(newest));
    const from = maxDate(period.from, own.firstDay);
    return from > through ? [] : missingDays(own.covered, { from, to: through }, own.firstDay);
  }
}

/** What the client's feeds cannot answer at all, in sentences. */
async function lacksIn(
  tools: Tools,
  { client, knowledge }: ClientFigures,
  shapes: readonly CoveredShape[],
  metrics: readonly string[],
): Promise<string[]> {
  const feeds = await feedsOf(tools.store, client.id);
  const { book } = knowledge;
  const nowhere = { op: 'total', range: { from: '2000-01-01', to: '2000-01-01' }, filter: {} } as const;
  const lacking = metrics.filter((metric) => datasetOf({ ...nowhere, metric }, shapes, knowledge) === null);
  const lacks = lacking.length > 0 || feeds.length === 0 ? [{ kind: 'no-dataset', metrics: lacking } as const] : [];
  return describeLacks(
    lacks.map((l) => ({ ...l, metrics: [...l.metrics] })),
    feeds,
    englishFor(client),
    book,
  );
}
