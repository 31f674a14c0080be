import { addDays, addMonths, type CivilDate, lengthOf, minDate, type Range } from '@chronicon/core/calendar';
import type { TargetProgress } from '@chronicon/core/contract';
import {
  type Answers,
  type CountedRange,
  countedDays,
  daysToReach,
  excludeDays,
  exclusionsFor,
  isKnown,
  keyOf,
  type Metric,
  na,
  partOf,
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
  /** Without the days that are excluded. */
  span: CountedRange;
  /** What of the target falls to the days that count. */
  aim: number;
  phase: 'ahead' | 'running' | 'over';
  soFar: Question | null;
  /** Where it will end: a sum by its pace, a level by its growth. */
  outlook: Extract<Question, { op: 'byDay' | 'pace' }> | null;
}

function planOf(target: StoredTarget, figures: ClientFigures): Plan {
  const { book } = figures.knowledge;
  const { today } = figures;
  const { filter = {} } = target;
  const metric = book.of(target.metric);
  const span = excludeDays(
    spanOf(target, today),
    null,
    exclusionsFor(figures.client.excluded, metric.key, book),
  ).period;
  const phase = phaseOf(span, today);
  const yesterday = addDays(today, -1);
  const level = metric.aggregation.kind === 'level' && !metric.aggregation.net;
  // A level is what it is now; anything else counts from the span's first day.
  const until = minDate(span.to, yesterday);
  const from = level || target.span === 'date' ? minDate(span.from, until) : span.from;
  const known = until >= from;
  const adds = targetAdds(metric.aggregation, book.lookup);
  const { weekStart } = figures.client;
  const outlook: Plan['outlook'] =
    phase !== 'running' || !(adds || level)
      ? null
      : level
        ? { op: 'byDay', metric: metric.key, range: { from: addDays(today, -GROWTH_DAYS - 1), to: yesterday }, filter }
        : { op: 'pace', metric: metric.key, range: span, at: today, weekStart, filter };
  const range = partOf(span, { from, to: until });
  const soFar: Question | null = known ? { op: 'total', metric: metric.key, range, filter } : null;
  const whole = target.span === 'date' ? target.value : (target.value * countedDays(span)) / lengthOf(span);
  return { target, metric, span, aim: adds ? whole : target.value, phase, soFar, outlook };
}

const valueIn = (answers: Answers, q: Question | null): Value => valueOfAnswer(q && answers[keyOf(q)]) ?? na('no-data');

function projectionOf(plan: Plan, answers: Answers, { today }: ClientFigures) {
  const nothing = { projection: null, daysToReach: null };
  const a = plan.outlook && answers[keyOf(plan.outlook)];
  if (a?.op === 'pace') return { projection: a.pace.projected, daysToReach: null };
  if (a?.op !== 'byDay' || !Array.isArray(a.values)) return nothing;
  const levels = a.values.slice(-(GROWTH_DAYS + 1));
  if (levels.length <= GROWTH_DAYS || levels.some((v) => v === null)) return nothing;
  const known = levels as number[];
  const ahead = Math.max(0, lengthOf({ from: today, to: plan.span.to }));
  return {
    projection: { value: projectLevel(known, GROWTH_DAYS, ahead) },
    daysToReach: daysToReach(known, GROWTH_DAYS, plan.target.value) ?? ('never' as const),
  };
}

/** What is to be thought of it: by the projection while it runs, by the value once it is over. */
function outlookOf(plan: Plan, soFar: Value, projection: Value | null, adds: boolean): TargetProgress['outlook'] {
  const { metric, aim, phase } = plan;
  const good = (v: number) => (metric.polarity === 'lower' ? v <= aim : v >= aim);
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
  const questions = plans.flatMap((p) => [p.soFar, p.outlook].filter((q) => q !== null));
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
      span: {
        from: span.from,
        to: span.to,
        label: target.span === 'date' ? `by ${english.date(target.on)}` : english.range(span),
      },
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
