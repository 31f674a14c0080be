import { addDays, addMonths, type CivilDate, lengthOf, minDate, type Range } from '@chronicon/core/calendar';
import type { TargetProgress } from '@chronicon/core/contract';
import {
  type Answers,
  daysToReach,
  isKnown,
  keyOf,
  type Metric,
  na,
  paceOver,
  projectLevel,
  type Question,
  type Target,
  targetAdds,
  type Value,
  valueOfAnswer,
} from '@chronicon/core/figures';
import type { StoredTarget } from '../store/targets.ts';
import type { ClientFigures } from './ask.ts';
import { englishFor } from './english.ts';
import type { Asks } from './reading.ts';

const MONTHS = { month: 1, quarter: 3, year: 12 } as const;
/** A level's growth is taken over the last four weeks. */
const GROWTH_DAYS = 28;
/** Weights of weekdays are made from this many days before (SEMANTICS §8: eight full weeks). */
const WEIGHT_DAYS = 70;

/** The span of a target that matters as of a day: the one under way, else the next, else the last. */
export function spanOf(target: Target, asOf: CivilDate): Range {
  if (target.span === 'date') return { from: minDate(asOf, target.on), to: target.on };
  const months = MONTHS[target.span];
  let from: CivilDate = `${target.from}-01`;
  while (target.repeats && addMonths(from, months) <= asOf) from = addMonths(from, months);
  return { from, to: addDays(addMonths(from, months), -1) };
}

const phaseOf = (span: Range, asOf: CivilDate) => (asOf < span.from ? 'ahead' : asOf > span.to ? 'over' : 'running');

interface Plan {
  target: StoredTarget;
  metric: Metric;
  span: Range;
  phase: 'ahead' | 'running' | 'over';
  soFar: Question | null;
  daily: Extract<Question, { op: 'byDay' }> | null;
}

function planOf(target: StoredTarget, figures: ClientFigures): Plan {
  const { book } = figures.knowledge;
  const { today } = figures;
  const { filter = {} } = target;
  const metric = book.of(target.metric);
  const span = spanOf(target, today);
  const phase = phaseOf(span, today);
  const yesterday = addDays(today, -1);
  const level = metric.aggregation.kind === 'level' && !metric.aggregation.net;
  // A level is what it is now; anything else counts from the span's first day.
  const until = minDate(span.to, yesterday);
  const from = level || target.span === 'date' ? minDate(span.from, until) : span.from;
  const known = until >= from;
  const adds = targetAdds(metric.aggregation, book.lookup);
  const daily: Plan['daily'] =
    phase !== 'running' || !(adds || level)
      ? null
      : {
          op: 'byDay',
          metric: metric.key,
          range: { from: addDays(level ? today : span.from, -WEIGHT_DAYS), to: yesterday },
          filter,
        };
  const soFar: Question | null = known ? { op: 'total', metric: metric.key, range: { from, to: until }, filter } : null;
  return { target, metric, span, phase, soFar, daily };
}

const valueIn = (answers: Answers, q: Question | null): Value => valueOfAnswer(q && answers[keyOf(q)]) ?? na('no-data');

function projectionOf(plan: Plan, answers: Answers, { today, client }: ClientFigures) {
  const nothing = { projection: null, daysToReach: null };
  const a = plan.daily && answers[keyOf(plan.daily)];
  if (!plan.daily || a?.op !== 'byDay' || !Array.isArray(a.values)) return nothing;
  const values = a.values;
  if (plan.metric.aggregation.kind === 'level') {
    const levels = values.slice(-(GROWTH_DAYS + 1));
    if (levels.length <= GROWTH_DAYS || levels.some((v) => v === null)) return nothing;
    const known = levels as number[];
    const ahead = Math.max(0, lengthOf({ from: today, to: plan.span.to }));
    return {
      projection: { value: projectLevel(known, GROWTH_DAYS, ahead) },
      daysToReach: daysToReach(known, GROWTH_DAYS, plan.target.value) ?? ('never' as const),
    };
  }
  // Pace needs every day from the span's first on; the weeks before it, as far back as they are all there.
  const gap = values.lastIndexOf(null);
  const history = { from: addDays(plan.daily.range.from, gap + 1), values: values.slice(gap + 1) as number[] };
  if (history.from > plan.span.from) return { ...nothing, projection: { na: 'not-covered' } as const };
  return { projection: paceOver(history, today, plan.span, client.weekStart), daysToReach: null };
}

/** What is to be thought of it: by the projection while it runs, by the value once it is over. */
function outlookOf(plan: Plan, soFar: Value, projection: Value | null, adds: boolean): TargetProgress['outlook'] {
  const { metric, target, phase } = plan;
  const good = (v: number) => (metric.polarity === 'lower' ? v <= target.value : v >= target.value);
  if (phase === 'ahead' || !isKnown(soFar)) return 'open';
  // What was added up stays: a ceiling that is broken stays broken, whatever else comes or is not known yet.
  if (adds && metric.polarity === 'lower' && !good(soFar.value)) return 'missed';
  // More of what should grow is there for good; what should stay low may still rise.
  if (metric.polarity !== 'lower' && metric.aggregation.kind !== 'ratio' && good(soFar.value)) return 'reached';
  // Nothing is said of what is partly known (SEMANTICS §4).
  if (phase === 'over') return soFar.partial ? 'open' : good(soFar.value) ? 'reached' : 'missed';
  const end = projection ?? soFar;
  if (!isKnown(end) || end.partial) return 'open';
  return good(end.value) ? 'on-course' : 'short';
}

/** How far each of a client's targets is, and where it will end (SEMANTICS §8). */
export async function progressOf(
  tools: Asks,
  figures: ClientFigures,
  targets: readonly StoredTarget[],
): Promise<TargetProgress[]> {
  const { book } = figures.knowledge;
  const english = englishFor(figures.client);
  const plans = targets.filter((t) => book.has(t.metric)).map((t) => planOf(t, figures));
  const questions = plans.flatMap((p) => [p.soFar, p.daily].filter((q) => q !== null));
  const { answers } = await tools.workers.ask(figures.basis, questions);
  return plans.map((plan) => {
    const { target, metric, span, phase } = plan;
    const soFar = valueIn(answers, plan.soFar);
    const { projection, daysToReach: days } = projectionOf(plan, answers, figures);
    const { id, filter = {}, ...rest } = target;
    const input = { ...rest, filter: Object.fromEntries(Object.entries(filter).map(([d, v]) => [d, [...v]])) };
    return {
      id,
      input,
      metric: {
        key: metric.key,
        label: book.labelOf(metric.key, english.words.metrics),
        unit: metric.unit,
        polarity: metric.polarity,
      },
      span: { ...span, label: target.span === 'date' ? `by ${english.date(target.on)}` : english.range(span) },
      of: Object.entries(filter).map(
        ([d, values]) => `${english.words.dimensions[d] ?? d} ${values.map((v) => v || '(unnamed)').join(', ')}`,
      ),
      phase,
      soFar,
      projection,
      daysToReach: days,
      outlook: outlookOf(plan, soFar, projection, targetAdds(metric.aggregation, book.lookup)),
    };
  });
}
