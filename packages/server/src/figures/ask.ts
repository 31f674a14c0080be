import {
  type CivilDate,
  civilDateAt,
  daysOf,
  fromDayNumber,
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
  type Lack,
  metricBook,
  missingDays,
  na,
  type Pair,
  type Question,
  suspectsOf,
  targetAdds,
  targetOf,
  type Value,
  valueOfAnswer,
} from '@chronicon/core/figures';
import { type Formatter, fill } from '@chronicon/core/words';
import { atField } from '../api/refusal.ts';
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
import { type FiguresPlan, planFigures, questionsOfPlan } from './plan.ts';
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

/** What a view's answers are made into a reply from. */
interface Answered {
  figures: ClientFigures;
  plan: FiguresPlan;
  answers: Answers;
  shapes: readonly CoveredShape[];
}

/** One value for each step; a day without one says why. */
function lineOf(q: Question | null, { answers, shapes, figures: { knowledge } }: Answered): Value[] {
  const found = q && answers[keyOf(q)];
  if (found?.op === 'bySteps') return found.values;
  if (found?.op !== 'byDay' || q?.op !== 'byDay') return [];
  const { values } = found;
  const days = daysOf(q.range);
  if (!Array.isArray(values)) return days.map(() => values);
  const shape = datasetOf(q, shapes, knowledge);
  const missing = shape ? missingDays(shape.covered, q.range, shape.firstDay) : [];
  const unmade = knowledge.book.lookup(q.metric).kind === 'unique' ? 'not-additive' : 'zero-denominator';
  return days.map((day, i): Value => {
    const value = values[i] ?? null;
    if (value !== null) return { value };
    if (shape && day < shape.firstDay) return na('before-start');
    if (shape && (shape.grain ?? 'day') !== 'day') return na('coarser');
    return na(missing.some((r) => r.from <= day && day <= r.to) ? 'not-covered' : unmade);
  });
}

/** A metric's target for each step; null when it has none at all. */
function targetLine(metric: string, times: readonly Range[], { book, targets }: Knowledge): (number | null)[] | null {
  const own = targets.filter((t) => t.metric === metric);
  if (own.length === 0) return null;
  const adds = targetAdds(book.lookup(metric), book.lookup);
  const line = times.map((range) => {
    const value = targetOf(adds, own, range);
    return isKnown(value) ? value.value : null;
  });
  return line.some((v) => v !== null) ? line : null;
}

function seriesOf(answered: Answered): Figures['series'] {
  const { plan } = answered;
  if (plan.top) return null;
  return {
    step: plan.step,
    times: plan.times,
    comparedTimes: plan.comparedTimes,
    lines: plan.metrics.map((m) => ({
      current: lineOf(plan.line(m), answered),
      compared: plan.compared && lineOf(plan.comparedLine(m), answered),
      target: targetLine(m, plan.times, answered.figures.knowledge),
    })),
  };
}

/** Days up to the newest delivered one that should be there and are not: later ones are merely not in yet. */
function missingOf(metric: string, { plan, shapes, figures }: Answered): Range[] {
  const own = datasetOf(plan.total(metric), shapes, figures.knowledge);
  const newest = own?.covered.at(-1)?.[1];
  if (!own || newest === undefined) return [];
  const to = minDate(minDate(plan.period.to, figures.today), fromDayNumber(newest));
  const from = maxDate(plan.period.from, own.firstDay);
  return from > to ? [] : missingDays(own.covered, { from, to }, own.firstDay);
}

function suspectsIn(answered: Answered): Figures['suspects'] {
  const { plan, answers, figures } = answered;
  const range = { from: plan.period.from, to: minDate(plan.period.to, figures.today) };
  if (!plan.history || range.from > range.to) return [];
  const { from } = plan.history;
  return plan.metrics.flatMap((metric) => {
    const found = answers[keyOf(plan.judge(metric)!)];
    if (found?.op !== 'byDay' || !Array.isArray(found.values)) return [];
    const { unit } = figures.knowledge.book.of(metric);
    const odd = suspectsOf({ from, values: found.values }, range, missingOf(metric, answered), unit);
    return odd.map((s) => ({ metric, ...s }));
  });
}

function againstWords({ compared, yardstick }: FiguresPlan, english: Formatter): string | null {
  if (compared) return english.shortRange(compared);
  if (!yardstick) return null;
  if (yardstick.kind === 'target') return english.words.theTarget;
  return fill(english.words.theTypical, { count: yardstick.ranges.length });
}

/** The parts of a breakdown; null when the view is one of time. */
function breakdownOf({ plan, answers }: Answered, english: Formatter): Figures['breakdown'] {
  if (!plan.top) return null;
  const key = plan.top.dimension;
  const found = answers[keyOf(plan.top)];
  const breakdown = found?.op === 'top' ? found.breakdown : na('no-data');
  const known = 'na' in breakdown ? null : breakdown;
  return {
    dimension: { key, label: english.words.dimensions[key] ?? key },
    rows: known?.rows ?? [],
    other: known?.other ?? null,
    lack: 'na' in breakdown ? english.words.reasons[breakdown.na] : null,
  };
}

/** Everything that the Figures place shows of one question. */
export async function askFigures(tools: Tools, figures: ClientFigures, query: FiguresQuery): Promise<Figures> {
  const { client, basis, knowledge, today } = figures;
  const { book } = knowledge;
  checkMetrics(query.metrics, figures);
  const english = englishFor(client);
  const plan = planFigures(client, today, query, await settleFilter(tools, client.id, query.filter));
  const { period, compared } = plan;
  const questions = questionsOfPlan(plan);
  await uniquesFor(tools, client.id, questions, knowledge);
  const answered: Answered = { figures, plan, ...(await tools.press.ask(basis, questions)) };
  const valueIn = (q: Question | null) => valueOfAnswer(q && answered.answers[keyOf(q)]);
  const notes = (await notesOf(tools.store, client.id)).filter((n) => n.from <= period.to && n.to >= period.from);
  return {
    period: namedRange(period, english),
    compared: compared && namedRange(compared, english),
    against: againstWords(plan, english),
    metrics: query.metrics.map((key) => metricHead(book.of(key), book, english)),
    totals: query.metrics.map(
      (m): Pair => ({ current: valueIn(plan.total(m)) ?? na('no-data'), compared: valueIn(plan.before(m)) }),
    ),
    series: seriesOf(answered),
    breakdown: breakdownOf(answered, english),
    suspects: suspectsIn(answered),
    notes: notes.map(({ madeBy: _, ...n }) => n),
    lacks: await lacksIn(tools, figures, answered.shapes, query.metrics),
  };
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
  const lacks: Lack[] = lacking.length > 0 || feeds.length === 0 ? [{ kind: 'no-dataset', metrics: lacking }] : [];
  return describeLacks(lacks, feeds, englishFor(client), book);
}
