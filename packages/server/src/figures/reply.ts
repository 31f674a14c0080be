import { type CivilDate, daysOf, fromDayNumber, maxDate, minDate, type Range } from '@chronicon/core/calendar';
import type { Figures } from '@chronicon/core/contract';
import {
  type Conversion,
  changeOf,
  changeWithout,
  conversionsFor,
  countedFor,
  datasetOf,
  excludedDaysOf,
  isKnown,
  isTurned,
  type Knowledge,
  keyOf,
  type Lack,
  NOTHING_ODD,
  na,
  type Odd,
  type Pair,
  partOf,
  type Question,
  targetAdds,
  targetOf,
  targetsFor,
  undelivered,
  type Value,
  valueOfAnswer,
} from '@chronicon/core/figures';
import { excludedIn } from '@chronicon/core/report';
import {
  conversionWords,
  describeLacks,
  type Formatter,
  oddDayCame,
  oddDayWords,
  ownName,
  withoutDaysWords,
  withoutWords,
} from '@chronicon/core/words';
import type { StoredFeed } from '../store/feeds.ts';
import { englishFor, metricHead, namedRange } from './english.ts';
import { type Asked, type Basis, knowledgeOf } from './reading.ts';
import {
  beforeOf,
  comparedLineQuestion,
  type FiguresPlan,
  lineQuestion,
  oddQuestionOf,
  totalOf,
} from './viewQuestions.ts';

/** A view of Figures with all that its reply is made from but the facts: plain data, so that a worker can answer it. */
export interface FiguresView {
  basis: Basis;
  plan: FiguresPlan;
  today: CivilDate;
  currency: string;
  notes: Figures['notes'];
  exclusions: Figures['exclusions'];
  conversions: Conversion[];
  feeds: Pick<StoredFeed, 'name' | 'trouble'>[];
}

/** What a view's answers are made into a reply from. */
interface Answered extends FiguresView, Asked {
  knowledge: Knowledge;
}

type Line = NonNullable<Figures['series']>['lines'][number];

/** One value for each step; a day without one says why. */
function lineOf(q: Question | null, { answers, shapes, knowledge }: Answered): (Value | null)[] {
  const found = q && answers[keyOf(q)];
  if (found?.op === 'bySteps' || found?.op === 'typicalSteps') return found.values;
  if (found?.op !== 'byDay' || q?.op !== 'byDay') return [];
  const { values } = found;
  const days = daysOf(q.range);
  if (!Array.isArray(values)) return days.map(() => values);
  const shape = datasetOf(q, shapes, knowledge);
  const counted = countedFor(q.range, [q.metric], knowledge.book);
  const excluded = new Set(excludedDaysOf(counted));
  const missing = shape ? undelivered(shape, counted) : [];
  const unmade = knowledge.book.lookup(q.metric).kind === 'unique' ? 'not-additive' : 'zero-denominator';
  return days.map((day, i): Value => {
    const value = values[i] ?? null;
    if (value !== null) return { value };
    if (found.partly?.[i]) return found.partly[i];
    if (excluded.has(day)) return na('excluded');
    if (shape && day < shape.firstDay) return na('before-start');
    if (shape && (shape.grain ?? 'day') !== 'day') return na('coarser');
    return na(missing.some((r) => r.from <= day && day <= r.to) ? 'not-covered' : unmade);
  });
}

/** A metric's target for each step; null when it has none at all. */
function targetLine(
  metric: string,
  { times, filter }: Pick<FiguresPlan, 'times' | 'filter'>,
  { book, targets }: Knowledge,
): (number | null)[] | null {
  const own = targetsFor(targets, metric, filter);
  if (own.length === 0) return null;
  const adds = targetAdds(book.lookup(metric), book.lookup);
  const line = times.map((range) => {
    const value = targetOf(adds, own, countedFor(range, [metric], book));
    return isKnown(value) ? value.value : null;
  });
  return line.some((v) => v !== null) ? line : null;
}

/** One metric's steps, and what each is held against: in time, what is usual there, or its target. */
function pairedLine(metric: string, answered: Answered): Omit<Line, 'without'> {
  const { plan } = answered;
  const target = targetLine(metric, plan, answered.knowledge);
  const current = lineOf(lineQuestion(plan, metric), answered) as Value[];
  const before = lineOf(comparedLineQuestion(plan, metric), answered);
  if (plan.pairs) {
    let at = 0;
    const compared = plan.pairs.map((p) => (p.compared ? (before[at++] ?? null) : null));
    return { current, compared, beyond: before.slice(at) as Value[], target };
  }
  const aims = target?.map((t): Value | null => (t === null ? null : { value: t })) ?? null;
  const compared = plan.yardstick?.kind === 'typical' ? before : plan.yardstick ? aims : null;
  return { current, compared, beyond: [], target };
}

/** By step, which days it and what it is held against leave out, in words. */
const leftOutSteps = (metric: string, { plan, knowledge }: Answered, english: Formatter): string[] =>
  plan.times.map((period, i) => {
    const own = excludedIn(metric, { period, compared: plan.pairs?.[i]?.compared ?? null }, knowledge.book);
    return withoutDaysWords([...own.period, ...own.compared], english);
  });

function seriesOf(answered: Answered, english: Formatter): Figures['series'] {
  const { plan } = answered;
  if (plan.top) return null;
  return {
    step: plan.step,
    times: plan.times,
    comparedTimes: plan.pairs?.map((p) => p.compared) ?? null,
    comparable: plan.times.map((_, i) => plan.pairs?.[i]?.comparable ?? true),
    beyond: plan.beyond,
    lines: plan.metrics.map((m) => ({ ...pairedLine(m, answered), without: leftOutSteps(m, answered, english) })),
  };
}

/** Days up to the newest delivered one that should be there and are not: later ones are merely not in yet. */
function missingOf(metric: string, { plan, shapes, today, knowledge }: Answered): Range[] {
  const own = datasetOf(totalOf(plan, metric), shapes, knowledge);
  const newest = own?.covered.at(-1)?.[1];
  if (!own || newest === undefined) return [];
  const to = minDate(minDate(plan.period.to, today), fromDayNumber(newest));
  const from = maxDate(plan.period.from, own.firstDay);
  return from > to ? [] : undelivered(own, partOf(countedFor(plan.period, [metric], knowledge.book), { from, to }));
}

/** What was found odd of a metric's total, and of what it is held against. */
function oddOf({ plan, answers }: Answered, metric: string): Odd {
  const found = answers[keyOf(oddQuestionOf(plan, metric))];
  return found?.op === 'oddDays' ? found.odd : NOTHING_ODD;
}

/** Days that look wrong: odd ones, and those of the period that were not delivered. */
function suspectsIn(answered: Answered, english: Formatter): Figures['suspects'] {
  const { book } = answered.knowledge;
  return answered.plan.metrics.flatMap((key) => {
    const metric = book.of(key);
    const label = book.labelOf(key, english.words.metrics);
    const missing = missingOf(key, answered).flatMap(daysOf);
    return [
      ...oddOf(answered, key).days.map((o) => {
        const words = oddDayWords([o], metric, book, english).join('; ');
        const came = oddDayCame(o, metric, book, english);
        return { metric: key, day: o.day, kind: o.kind, side: o.side, words, came };
      }),
      ...missing.map((day) => {
        const side = 'current' as const;
        const words = `${label}: no data`;
        return { metric: key, day, kind: 'missing' as const, side, words, came: words };
      }),
    ];
  });
}

/** What the odd days behind a total come to, explained or not; null for none. */
function oddFigure(answered: Answered, key: string, { current, compared }: Pair, english: Formatter) {
  const { book } = answered.knowledge;
  const odd = oddOf(answered, key);
  const metric = book.of(key);
  if (odd.days.length === 0) return null;
  const without = changeWithout(odd, metric);
  const change = compared && changeOf(current, compared, metric.unit, metric.polarity);
  return {
    days: oddDayWords(odd.days, metric, book, english).join('; '),
    without: withoutWords({ metric, label: book.labelOf(key, english.words.metrics), odd }, english),
    turned: without !== null && change !== null && isTurned(change, without),
  };
}

/** What figures are held against where they have a target. */
export const AGAINST_TARGET = 'the target';

function againstWords({ compared, yardstick }: FiguresPlan, english: Formatter): string | null {
  if (compared) return english.shortRange(compared);
  if (!yardstick) return null;
  if (yardstick.kind === 'target') return AGAINST_TARGET;
  return english.count(english.words.typicalOf, yardstick.ranges.length, { title: 'a typical period' });
}

/** The parts of a breakdown; null when the view is one of time. */
function breakdownOf({ plan, answers, knowledge, basis }: Answered, english: Formatter): Figures['breakdown'] {
  if (!plan.top) return null;
  const key = plan.top.dimension;
  const found = answers[keyOf(plan.top)];
  const breakdown = found?.op === 'top' ? found.breakdown : na('no-data');
  const known = 'na' in breakdown ? null : breakdown;
  // A row is held against the target of that very row, or against none.
  const aimed = plan.yardstick?.kind === 'target' && plan.top;
  const aimOf = (label: string, i: number): Value => {
    const { book, targets } = knowledge;
    const metric = plan.metrics[i]!;
    const own = targetsFor(targets, metric, { ...plan.filter, [key]: [label] });
    return targetOf(targetAdds(book.lookup(metric), book.lookup), own, plan.period);
  };
  const rows = (known?.rows ?? []).map((r) => {
    const name = ownName(basis.metrics.names, key, r.label);
    const cells = aimed ? r.cells.map((c, i) => ({ ...c, compared: aimOf(r.label, i) })) : r.cells;
    return { ...r, cells, ...(name !== undefined && { name }) };
  });
  const other = known?.other ?? null;
  return {
    dimension: { key, label: english.words.dimensions[key] ?? key },
    rows,
    other: aimed && other ? other.map((c) => ({ ...c, compared: na('no-data') })) : other,
    lack: 'na' in breakdown ? english.words.reasons[breakdown.na] : null,
  };
}

/** What the client's feeds cannot answer at all, in sentences. */
function lacksIn({ plan, shapes, knowledge, feeds }: Answered, english: Formatter): string[] {
  const nowhere = { op: 'total', range: { from: '2000-01-01', to: '2000-01-01' }, filter: {} } as const;
  const lacking = plan.metrics.filter((metric) => datasetOf({ ...nowhere, metric }, shapes, knowledge) === null);
  const lacks: Lack[] = lacking.length > 0 || feeds.length === 0 ? [{ kind: 'no-dataset', metrics: lacking }] : [];
  return describeLacks(lacks, feeds, english, knowledge.book);
}

/** The days that a metric's total, or what it is held against, leaves out; null for none. */
function leftOutOf({ plan, knowledge }: Answered, metric: string, english: Formatter): Figures['excluded'][number] {
  const { period, compared } = excludedIn(metric, plan, knowledge.book);
  const words = withoutDaysWords([...period, ...compared], english);
  return words === '' ? null : { period, compared, words };
}

/** Everything that the Figures place shows of one question. */
export function figuresReply(view: FiguresView, asked: Asked): Figures {
  const answered: Answered = { ...view, ...asked, knowledge: knowledgeOf(view.basis) };
  const { plan, answers } = answered;
  const { book } = answered.knowledge;
  const english = englishFor(view);
  const valueIn = (q: Question | null) => valueOfAnswer(q && answers[keyOf(q)]);
  const totals = plan.metrics.map(
    (m): Pair => ({ current: valueIn(totalOf(plan, m)) ?? na('no-data'), compared: valueIn(beforeOf(plan, m)) }),
  );
  return {
    period: namedRange(plan.period, english),
    compared: plan.compared && namedRange(plan.compared, english),
    against: againstWords(plan, english),
    metrics: plan.metrics.map((key) => metricHead(book.of(key), book, english)),
    totals,
    series: seriesOf(answered, english),
    breakdown: breakdownOf(answered, english),
    suspects: suspectsIn(answered, english),
    odd: plan.metrics.map((m, i) => oddFigure(answered, m, totals[i]!, english)),
    excluded: plan.metrics.map((m) => leftOutOf(answered, m, english)),
    converted: plan.metrics.map((m) => {
      const own = conversionsFor(view.conversions, m, [plan.period, plan.compared], book);
      return own.length > 0 ? conversionWords(own, english) : null;
    }),
    exclusions: view.exclusions,
    notes: view.notes,
    lacks: lacksIn(answered, english),
  };
}
