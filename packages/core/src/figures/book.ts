import { checkFormula } from './formula/check.ts';
import type { KnownMetrics } from './formula/knownMetrics.ts';
import { type FormulaFault, keysOf, parseFormula } from './formula/parse.ts';
import { TOO_HEAVY, weightOf } from './formula/weight.ts';
import { METRICS } from './library/library.ts';
import type { Aggregation, Metric, MetricLookup, MetricUnit, Polarity } from './metric.ts';

/** What a client has changed of a standard metric. */
export interface MetricChange {
  label?: string | undefined;
  polarity?: Polarity | undefined;
  /** Measures that it reads in place of its own, by the name of those. */
  reads?: Record<string, string> | undefined;
}

/** A metric that a client added: a formula over others, or what a file or a hand brought that no standard one reads. */
export interface OwnMetric {
  key: string;
  label: string;
  unit: MetricUnit;
  polarity: Polarity;
  /** Empty when it reads a measure. */
  formula: string;
  definition: string;
  measure?: OwnMeasure | undefined;
  /** The agency's, for all its clients that have what it is made from; kept with the agency. */
  shared?: true | undefined;
  /** The formula with the names of what is assumed, where numbers stand in their places. */
  written?: string | undefined;
}

/** What of a feed an own metric reads, and how: rates by the measure that says how much each counts. */
export type OwnMeasure = { key: string; kind: 'sum' | 'level' } | { key: string; kind: 'weighted'; weight: string };

function readingOf(measure: OwnMeasure): Aggregation {
  return measure.kind === 'weighted'
    ? { kind: 'weighted', measure: measure.key, weight: measure.weight }
    : { kind: measure.kind, measure: measure.key };
}

/** How a client's metrics differ from the standard ones: plain data, kept with the client and with every edition. */
export interface MetricSettings {
  changed: Record<string, MetricChange>;
  own: OwnMetric[];
  /** What the values of dimensions are called, by dimension and the feed's label; nothing when left out. */
  names?: Record<string, Record<string, string>> | undefined;
}

export const NO_SETTINGS: MetricSettings = { changed: {}, own: [] };

/** All metrics that can be asked of a client. */
export interface MetricBook {
  metrics: readonly Metric[];
  keys: readonly string[];
  has(key: string): boolean;
  /** @throws RangeError for a key that no metric has */
  of(key: string): Metric;
  lookup: MetricLookup;
  /** Its name in a language’s words, or the client's own name for it. */
  labelOf(key: string, words: Readonly<Record<string, string>>): string;
}

/** An aggregation that reads other measures. */
function rewired(a: Aggregation, reads: Record<string, string>): Aggregation {
  const name = (measure: string) => (Object.hasOwn(reads, measure) ? reads[measure]! : measure);
  switch (a.kind) {
    case 'derived':
      return a;
    case 'ratio':
      return { ...a, num: name(a.num), den: name(a.den) };
    case 'weighted':
      return { ...a, measure: name(a.measure), weight: name(a.weight) };
    default:
      return { ...a, measure: name(a.measure) };
  }
}

function changedBy(metric: Metric, change: MetricChange | undefined): Metric {
  if (!change) return metric;
  return {
    ...metric,
    ...(change.label && { label: change.label }),
    ...(change.polarity && { polarity: change.polarity }),
    aggregation: rewired(metric.aggregation, change.reads ?? {}),
  };
}

const knownOf = (metrics: readonly Metric[]): KnownMetrics =>
  Object.fromEntries(
    metrics.map(({ key, unit, aggregation }) => [
      key,
      { unit, ...(aggregation.kind === 'derived' && { formula: aggregation.formula }) },
    ]),
  );

const fromOwn = ({ formula, measure, ...m }: OwnMetric): Metric => ({
  ...m,
  field: 'own',
  aggregation: measure ? readingOf(measure) : { kind: 'derived', formula },
});

/**
 * A formula that was stored before there were bounds, in a circle, or with a key that is there no more, is not computed: its
 * figure has no data.
 */
function withoutLost(metrics: Metric[]): Metric[] {
  const known = knownOf(metrics);
  const isLost = (formula: string): boolean => {
    const parsed = parseFormula(formula);
    if (parsed.ok && keysOf(parsed.tree).some(({ key }) => !Object.hasOwn(known, key))) return true;
    return weightOf(formula, known) >= TOO_HEAVY;
  };
  return metrics.map((m) =>
    m.field === 'own' && m.aggregation.kind === 'derived' && isLost(m.aggregation.formula)
      ? { ...m, aggregation: { kind: 'derived', formula: '' } }
      : m,
  );
}

/** The metrics of a client: the standard ones as it changed them, then its own. */
export function metricBook(settings: MetricSettings = NO_SETTINGS): MetricBook {
  const standard = METRICS.map((m) => changedBy(m, settings.changed[m.key]));
  const metrics = settings.own.length === 0 ? standard : withoutLost([...standard, ...settings.own.map(fromOwn)]);
  const byKey = new Map(metrics.map((m) => [m.key, m]));
  const of = (key: string): Metric => {
    const found = byKey.get(key);
    if (!found) throw new RangeError(`unknown metric: ${key}`);
    return found;
  };
  return {
    metrics,
    keys: metrics.map((m) => m.key),
    has: (key) => byKey.has(key),
    of,
    lookup: (key) => of(key).aggregation,
    labelOf: (key, words) => byKey.get(key)?.label ?? words[key] ?? key,
  };
}

/** The metrics that every client begins with. */
export const STANDARD = metricBook();

/** What keeps an own metric from being saved among the client's others, and its reports' assumptions; or null (SEMANTICS §5). */
export function checkOwnMetric(
  metric: Pick<OwnMetric, 'key' | 'formula'>,
  book: MetricBook,
  assumptions: readonly { key: string; unit: MetricUnit }[] = [],
): FormulaFault | null {
  const assumed = Object.fromEntries(assumptions.map(({ key, unit }) => [key, { unit }]));
  return checkFormula(metric.key, metric.formula, { ...assumed, ...knownOf(book.metrics) });
}
