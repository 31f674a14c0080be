import { daysOf, lengthOf } from '../calendar/index.ts';
import { aggregate, measuresOf, type Typical, typical } from './aggregate.ts';
import type { MetricBook } from './book.ts';
import { type Breakdown, type Pair, topOfMany } from './breakdown.ts';
import { byDay, type DailyValues, dailyFormula } from './byDay.ts';
import { type CountedRange, excludedDaysOf, withoutKey } from './countedRange.ts';
import { type Dataset, type DatasetShape, datasetFor } from './dataset.ts';
import { countedFor, exclusionsFor, isExcluded } from './excluded.ts';
import { ofFeeds } from './feedParts.ts';
import type { Filter } from './filter.ts';
import { evaluateFormula } from './formula/evaluate.ts';
import { keysOf, parseFormula } from './formula/parse.ts';
import { type Item, itemFacts, type Standing, standing } from './items.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { type Odd, type OddDayOf, oddDaysOf, oddPairs } from './oddAnswer.ts';
import { type Pace, paceAnswer } from './paceAnswer.ts';
import { type Peers, peersAnswer } from './peersAnswer.ts';
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
import { datasetOf, isOfSums, partsOfTop, sourcesOf, sumsOf, type TopPart } from './sources.ts';
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
  range: CountedRange,
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

/** A part of a breakdown as parts whose metrics leave out the same days. */
function alikeExcluded(
  { dataset, at }: TopPart<Dataset>,
  q: Extract<Question, { op: 'top' }>,
  book: MetricBook,
): (TopPart<Dataset> & { range: CountedRange; compared: CountedRange | null })[] {
  const groups = new Map<string, { at: number[]; range: CountedRange; compared: CountedRange | null }>();
  for (const i of at) {
    const own = [q.metrics[i]!];
    const range = countedFor(q.range, own, book);
    const compared = q.compared && countedFor(q.compared, own, book);
    const key = `${withoutKey(range)} ${compared ? withoutKey(compared) : ''}`;
    const group = groups.get(key);
    if (group) group.at.push(i);
    else groups.set(key, { at: [i], range, compared });
  }
  return [...groups.values()].map((group) => ({ dataset, ...group }));
}

function topAcross(
  q: Extract<Question, { op: 'top' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Breakdown | NotAvailable {
  const { book } = knowledge;
  const parts = partsOfTop(q, datasets, book.lookup).flatMap((part) => alikeExcluded(part, q, book));
  if (parts.length === 0) return none;
  const found = topOfMany(
    parts.map(({ at, ...part }) => ({ ...part, aggregations: at.map((i) => book.lookup(q.metrics[i]!)) })),
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
  range: CountedRange,
  filter: Filter,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Value {
  const { book, targets } = knowledge;
  if (against.kind === 'typical') {
    const ranges = against.ranges.map((r) => countedFor(r, [metric], book));
    return plainValue(typicalAcross({ op: 'typical', metric, ranges, filter }, datasets, knowledge, none));
  }
  const counted = countedFor(range, [metric], book);
  return targetOf(targetAdds(book.lookup(metric), book.lookup), targetsFor(targets, metric, filter), counted);
}

/** The odd days of a figure's sums, each of the dataset that has it, and the figure without them. */
function oddAcross(
  q: Extract<Question, { op: 'oddDays' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Odd {
  const { book, holidays = [], excluded = [] } = knowledge;
  const { metric, range, compared, filter } = q;
  const aggregation = book.lookup(metric);
  // What is excluded is explained, and says nothing of what is usual.
  const gone = exclusionsFor(excluded, metric, book).flatMap((e) => daysOf(e));
  const idle = new Set([...holidays, ...gone, ...[range, compared].flatMap((r) => (r ? excludedDaysOf(r) : []))]);
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
  const left = (side: 0 | 1, over: CountedRange): Value => {
    const without = [...(over.without ?? []), ...pairs.map((p) => ({ day: p[side] }))];
    return totalOf(metric, { ...over, without }, filter, datasets, knowledge, none);
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
  const excluded = new Set(excludedDaysOf(q.range));
  const days = daysOf(q.range).flatMap((day, i): [number, Value][] => {
    if (values[i] !== null || excluded.has(day)) return [];
    const value = aggregate(dataset, a, { from: day, to: day }, q.filter, book.lookup);
    return isKnown(value) ? [[i, value]] : [];
  });
  return days.length > 0 ? Object.fromEntries(days) : null;
}

function paceAcross(
  q: Extract<Question, { op: 'pace' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Pace {
  const { metric, filter } = q;
  const { lookup } = knowledge.book;
  const a = lookup(metric);
  const kind = a.kind === 'level' && !a.net ? 'level' : targetAdds(a, lookup) ? 'sum' : 'other';
  const gone = exclusionsFor(knowledge.excluded ?? [], metric, knowledge.book);
  const own = new Set(excludedDaysOf(q.range));
  return paceAnswer(q.range, q.at, q.weekStart, {
    kind,
    total: (range) => totalOf(metric, range, filter, datasets, knowledge, none),
    daily(range) {
      const found = answer({ op: 'byDay', metric, range, filter }, datasets, knowledge);
      return found.op === 'byDay' && Array.isArray(found.values) ? found.values : [];
    },
    isExcluded: (day) => own.has(day) || isExcluded(day, gone),
  });
}

/** More items than any period has. */
const ALL_ITEMS = 1_000_000;

function itemsAcross(
  q: Extract<Question, { op: 'items' }>,
  datasets: readonly Dataset[],
  knowledge: Knowledge,
  none: NotAvailable,
): Standing | NotAvailable {
  const { metric, dimension, range, filter } = q;
  const top = { op: 'top', metrics: [metric], dimension, n: ALL_ITEMS, range, compared: null, filter } as const;
  const found = topAcross({ ...top, metrics: [metric] }, datasets, knowledge, none);
  if ('na' in found) return found;
  const facts = itemFacts(datasetOf(q, datasets, knowledge)!, dimension, range, filter);
  const items = found.rows.flatMap(({ label, cells }): Item[] => {
    const of = facts.get(label);
    return of ? [{ label, value: cells[0]!.current, ...of }] : [];
  });
  return standing(items, q.n);
}

function peersAcross(
  q: Extract<Question, { op: 'peers' }>,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Peers | NotAvailable {
  const { lookup } = book;
  const sideOf = (metric: string, dimensions: string[], filter: Filter) => {
    const aggregation = lookup(metric);
    const dataset = datasetFor(datasets, measuresOf(aggregation, lookup), [...dimensions, ...Object.keys(filter)]);
    return dataset && { dataset, aggregation, filter };
  };
  const [own, theirs] = [sideOf(q.metric, [], q.filter), sideOf(q.theirs, [q.dimension], {})];
  return own && theirs ? peersAnswer(own, theirs, q.dimension, q.range, lookup) : none;
}

/** A question with its ranges as they count for its metric; of a breakdown each metric has its own. */
function countedQuestion<Q extends Question>(q: Q, book: MetricBook): Q {
  const own = metricsOf(q);
  const of = <R extends CountedRange | null>(range: R): R => (range && countedFor(range, own, book)) as R;
  switch (q.op) {
    case 'top':
      return q;
    case 'bySteps':
    case 'typical':
      return { ...q, ranges: q.ranges.map(of) };
    case 'typicalSteps':
      return { ...q, period: of(q.period), ranges: q.ranges.map(of) };
    case 'drivers':
    case 'oddDays':
      return { ...q, range: of(q.range), compared: of(q.compared) };
    default:
      return { ...q, range: of(q.range) };
  }
}

/** Answers one question from the datasets that were read for it. */
export function answer(asked: Question, read: readonly Dataset[], known: Knowledge = PLAIN): Answer {
  const knowledge = asked.op === 'total' && asked.usual && known.usual ? { ...known, book: known.usual } : known;
  const { book } = knowledge;
  const q = countedQuestion(asked, book);
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
    case 'pace':
      return { op: 'pace', pace: paceAcross(q, datasets, knowledge, none) };
    case 'items':
      return { op: 'items', standing: itemsAcross(q, datasets, knowledge, none) };
    case 'topByDay': {
      const { metric, dimension, n, range, filter } = q;
      const top = { op: 'top', metrics: [metric], dimension, n, range, compared: null, filter } as const;
      const found = topAcross({ ...top, metrics: [metric] }, datasets, knowledge, none);
      if ('na' in found) return { op: 'topByDay', series: found };
      const series = found.rows.map(({ label }) => {
        const only = { ...filter, [dimension]: [label] };
        const days = answer({ op: 'byDay', metric, range, filter: only }, datasets, knowledge);
        return { label, values: days.op === 'byDay' && Array.isArray(days.values) ? days.values : [] };
      });
      return { op: 'topByDay', series };
    }
    case 'links': {
      const dataset = datasetOf(q, datasets, knowledge);
      const facts = dataset ? [...itemFacts(dataset, q.dimension, q.range, q.filter)] : [];
      return { op: 'links', links: Object.fromEntries(facts.flatMap(([l, { link }]) => (link ? [[l, link]] : []))) };
    }
    case 'peers':
      return { op: 'peers', peers: peersAcross(q, datasets, knowledge, none) };
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
