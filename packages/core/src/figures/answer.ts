import { daysOf, lengthOf, type Range } from '../calendar/index.ts';
import { aggregate, measuresOf, type Typical, typical } from './aggregate.ts';
import { type Breakdown, type Pair, topOfMany } from './breakdown.ts';
import { byDay, type DailyValues, dailyFormula } from './byDay.ts';
import { type Dataset, type DatasetShape, datasetFor } from './dataset.ts';
import { ofFeeds } from './feedParts.ts';
import type { Filter } from './filter.ts';
import { evaluateFormula } from './formula/evaluate.ts';
import { keysOf, parseFormula } from './formula/parse.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { type Odd, type OddDayOf, oddDaysOf, oddPairs, withoutDays } from './oddAnswer.ts';
import {
  type Against,
  type Answer,
  type Answers,
  type Knowledge,
  keyOf,
  metricsOf,
  PLAIN,
  type Question,
} from './questions.ts';
import { rhythmOf } from './rhythm.ts';
import { datasetOf, isOfSums, partsOfTop, sourcesOf, sumsOf } from './sources.ts';
import { pairSteps } from './steps.ts';
import { targetAdds, targetOf, targetsFor } from './targets.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';
import { driversOf } from './why.ts';

/** Why no dataset answers: because of the filter or breakdown alone, or because none has the measures. */
function whyNone(q: Question, datasets: readonly DatasetShape[], { book }: Knowledge): NotAvailable {
  const has = metricsOf(q).some((key) => sourcesOf(book.lookup(key), [], datasets, book.lookup, false) !== null);
  return na(has ? 'filtered-out-of-feed' : 'no-data');
}

/** Asks a metric of the dataset that has its parts, or a formula's inputs each of their own. */
function across<T>(
  a: Aggregation,
  filter: Filter,
  datasets: readonly Dataset[],
  metrics: MetricLookup,
  of: { one(dataset: Dataset, a: Aggregation): T; formula(formula: string, inputOf: (key: string) => T): T; none(): T },
): T {
  const dataset = datasetFor(datasets, measuresOf(a, metrics), Object.keys(filter));
  if (dataset) return of.one(dataset, a);
  if (a.kind !== 'derived') return of.none();
  return of.formula(a.formula, (key) => across(metrics(key), filter, datasets, metrics, of));
}

const plainValue = (v: Typical | NotAvailable): Value => ('na' in v ? v : { value: v.value });

function evaluate(formula: string, inputOf: (key: string) => Value): Value {
  const parsed = parseFormula(formula);
  return parsed.ok ? evaluateFormula(parsed.tree, inputOf) : na('no-data');
}

function totalOf(
  metric: string,
  range: Range,
  filter: Filter,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Value {
  return across<Value>(book.lookup(metric), filter, datasets, book.lookup, {
    one: (d, a) => aggregate(d, a, range, filter, book.lookup),
    formula: evaluate,
    none: () => none,
  });
}

function typicalAcross(
  q: Extract<Question, { op: 'typical' }>,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Typical | NotAvailable {
  return across<Typical | NotAvailable>(book.lookup(q.metric), q.filter, datasets, book.lookup, {
    one: (d, a) => typical(d, a, q.ranges, q.filter, book.lookup),
    formula(formula, inputOf) {
      const parsed = parseFormula(formula);
      if (!parsed.ok) return none;
      const inputs = new Map(keysOf(parsed.tree).map(({ key }) => [key, inputOf(key)]));
      const value = evaluateFormula(parsed.tree, (key) => plainValue(inputs.get(key)!));
      if (!isKnown(value)) return value;
      const counts = [...inputs.values()].map((t) => ('na' in t ? 0 : t.count));
      return { value: value.value, count: Math.min(q.ranges.length, ...counts), of: q.ranges.length };
    },
    none: () => none,
  });
}

function topAcross(
  q: Extract<Question, { op: 'top' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Breakdown | NotAvailable {
  const { book } = knowledge;
  const parts = partsOfTop(q, datasets, book.lookup);
  if (parts.length === 0) return none;
  const found = topOfMany(
    parts.map(({ dataset, at }) => ({ dataset, aggregations: at.map((i) => book.lookup(q.metrics[i]!)) })),
    q,
    book.lookup,
  );
  if ('na' in found) return found;
  const places = parts.flatMap((p) => p.at);
  const inOrder = (cells: Pair[]): Pair[] =>
    q.metrics.map((key, i) => {
      const at = places.indexOf(i);
      if (at >= 0) return cells[at]!;
      // Metrics of datasets that do not know the dimension keep their column, each with its own reason.
      const lack = whyNone({ ...q, metrics: [key] }, datasets, knowledge);
      return { current: lack, compared: q.compared ? lack : null };
    });
  /** What the first metric is held against, of one label or as a whole; of the rest together nothing is known. */
  const heldAgainst = (cells: Pair[], label: string | null): Pair[] => {
    const [first, ...more] = cells;
    if (!q.against || !first) return cells;
    const filter = label === null ? q.filter : { ...q.filter, [q.dimension]: [label] };
    return [
      { ...first, compared: yardstickOf(q.metrics[0]!, q.against, q.range, filter, datasets, knowledge, none) },
      ...more,
    ];
  };
  return {
    ...found,
    rows: found.rows.map((r) => ({ ...r, cells: heldAgainst(inOrder(r.cells), r.label) })),
    other: found.other && inOrder(found.other),
    total: heldAgainst(inOrder(found.total), null),
  };
}

/** What a metric usually is, or is to be, over a range and filter. */
function yardstickOf(
  metric: string,
  against: Against,
  range: Range,
  filter: Filter,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Value {
  if (against.kind === 'typical')
    return plainValue(
      typicalAcross({ op: 'typical', metric, ranges: against.ranges, filter }, datasets, knowledge, none),
    );
  const { book, targets } = knowledge;
  return targetOf(targetAdds(book.lookup(metric), book.lookup), targetsFor(targets, metric, filter), range);
}

/** The odd days of a figure's sums, each of the dataset that has it, and the figure without them. */
function oddAcross(
  q: Extract<Question, { op: 'oddDays' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Odd {
  const { book, holidays = [] } = knowledge;
  const { metric, range, compared, filter } = q;
  const aggregation = book.lookup(metric);
  const idle = new Set(holidays);
  // Money in whole units is money all the same: its number says nothing of how many events stand behind it.
  const isCount = (measure: string): boolean | undefined => {
    const shown = book.metrics.find(({ aggregation: a }) => a.kind === 'sum' && a.measure === measure);
    return shown && shown.unit === 'count';
  };
  const days: OddDayOf[] = [];
  const judged = new Set<string>();
  across<null>(aggregation, filter, datasets, book.lookup, {
    one(dataset, a) {
      const measures = sumsOf(a, book.lookup).filter((m) => !judged.has(m));
      for (const m of measures) judged.add(m);
      days.push(...oddDaysOf({ dataset, filter }, measures, q, idle, isCount));
      return null;
    },
    formula(formula, inputOf) {
      const parsed = parseFormula(formula);
      if (parsed.ok) for (const { key } of keysOf(parsed.tree)) inputOf(key);
      return null;
    },
    none: () => null,
  });
  days.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  const pairs = compared && days.length > 0 && isOfSums(aggregation, book.lookup) && oddPairs(days, range, compared);
  if (!compared || !pairs) return { days, without: null };
  const left = (side: 0 | 1, over: Range): Value => {
    const gone = new Set(pairs.map((p) => p[side]));
    return totalOf(
      metric,
      over,
      filter,
      datasets.map((d) => withoutDays(d, gone)),
      knowledge,
      none,
    );
  };
  const sides = { current: left(0, range), compared: left(1, compared) };
  const isWhole = (v: Value) => isKnown(v) && !v.partial;
  if (!isWhole(sides.current) || !isWhole(sides.compared)) return { days, without: null };
  return { days, without: { ...sides, days: [...new Set(pairs.flat())].sort() } };
}

/** Days of which the sum of several feeds is not known, with what some of them brought. */
function partlyByDay(
  q: Extract<Question, { op: 'byDay' }>,
  values: DailyValues,
  datasets: readonly Dataset[],
  { book }: Knowledge,
): Record<number, Value> | null {
  const a = book.lookup(q.metric);
  const dataset = datasetFor(datasets, measuresOf(a, book.lookup), Object.keys(q.filter));
  if (!dataset?.parts) return null;
  const days = daysOf(q.range).flatMap((day, i): [number, Value][] => {
    if (values[i] !== null) return [];
    const value = aggregate(dataset, a, { from: day, to: day }, q.filter, book.lookup);
    return isKnown(value) ? [[i, value]] : [];
  });
  return days.length > 0 ? Object.fromEntries(days) : null;
}

/** Answers one question from the datasets that were read for it. */
export function answer(q: Question, read: readonly Dataset[], knowledge: Knowledge = PLAIN): Answer {
  const { book } = knowledge;
  const datasets = read.map((d) => ofFeeds(d, q.filter));
  const none = whyNone(q, datasets, knowledge);
  switch (q.op) {
    case 'total':
      return { op: 'total', value: totalOf(q.metric, q.range, q.filter, datasets, knowledge, none) };
    case 'bySteps':
      return {
        op: 'bySteps',
        values: q.ranges.map((range) => totalOf(q.metric, range, q.filter, datasets, knowledge, none)),
      };
    case 'byDay': {
      const days = lengthOf(q.range);
      const values = across<DailyValues | null>(book.lookup(q.metric), q.filter, datasets, book.lookup, {
        one: (d, a) => byDay(d, a, q.range, q.filter, book.lookup),
        formula: (formula, inputOf) => dailyFormula(formula, (key) => inputOf(key) ?? [], days),
        none: () => null,
      });
      const partly = values && partlyByDay(q, values, datasets, knowledge);
      return { op: 'byDay', values: values ?? none, ...(partly && { partly }) };
    }
    case 'top':
      return { op: 'top', breakdown: topAcross(q, datasets, knowledge, none) };
    case 'drivers': {
      const dataset = datasetOf(q, datasets, knowledge);
      const drivers = dataset ? driversOf(dataset, book.lookup(q.metric), q, book.lookup) : none;
      return { op: 'drivers', drivers };
    }
    case 'typical':
      return { op: 'typical', value: typicalAcross(q, datasets, knowledge, none) };
    case 'typicalSteps': {
      const pairs = q.ranges.map((range) => pairSteps(q.period, range, q.step, q.weekStart));
      const values = (pairs[0] ?? []).map((_, i) => {
        const ranges = pairs.flatMap((p) => (p[i]!.comparable ? [p[i]!.compared!] : []));
        if (ranges.length === 0) return null;
        return plainValue(typicalAcross({ ...q, op: 'typical', ranges }, datasets, knowledge, none));
      });
      return { op: 'typicalSteps', values };
    }
    case 'target':
      return {
        op: 'target',
        value: yardstickOf(q.metric, { kind: 'target' }, q.range, q.filter, datasets, knowledge, none),
      };
    case 'oddDays':
      return { op: 'oddDays', odd: oddAcross(q, datasets, knowledge, none) };
    case 'rhythm': {
      const dataset = datasetOf(q, datasets, knowledge);
      const rhythm = dataset && rhythmOf(dataset, book.lookup(q.metric), q.range, q.filter, q.weekStart);
      return { op: 'rhythm', rhythm: rhythm ?? (dataset ? na('not-additive') : none) };
    }
  }
}

/** The one value of an answer that has one: of a total, a usual level or a target. */
export function valueOfAnswer(found: Answer | undefined | null): Value | null {
  if (found?.op === 'total' || found?.op === 'target') return found.value;
  return found?.op === 'typical' ? plainValue(found.value) : null;
}

/** All answers by {@link keyOf}. */
export function answerAll(
  questions: readonly Question[],
  datasets: readonly Dataset[],
  knowledge: Knowledge = PLAIN,
): Answers {
  return Object.fromEntries(questions.map((q) => [keyOf(q), answer(q, datasets, knowledge)]));
}
