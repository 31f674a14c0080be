import type { MetricSettings, OwnMetric } from './book.ts';
import { keysOf, parseFormula } from './formula/parse.ts';

/** Decimals that a number may have within a formula: more than doubles tell apart. */
const DECIMALS = 20;

/** A number as a formula has it: no exponent, a negative one in parentheses. */
function literal(value: number): string {
  const text = Math.abs(value).toLocaleString('en', { useGrouping: false, maximumFractionDigits: DECIMALS });
  return value < 0 ? `(-${text})` : text;
}

/** A formula with numbers in the places of some of its keys. */
function withNumbers(formula: string, values: Readonly<Record<string, number>>): string {
  const parsed = parseFormula(formula);
  if (!parsed.ok) return formula;
  let text = formula;
  // From its end, so that places before stay where they are.
  for (const { key, at } of [...keysOf(parsed.tree)].sort((a, b) => b.at - a.at)) {
    if (Object.hasOwn(values, key)) text = text.slice(0, at) + literal(values[key]!) + text.slice(at + key.length);
  }
  return text;
}

/** A metric with what it assumes in place; what was written is kept beside it, for whoever asks how it is made. */
function assumed(metric: OwnMetric, values: Readonly<Record<string, number>>): OwnMetric {
  const formula = withNumbers(metric.formula, values);
  return formula === metric.formula ? metric : { ...metric, formula, written: metric.written ?? metric.formula };
}

/** A client's metrics under a report's assumptions: those that formulas name stand in them as numbers. */
export function assume(settings: MetricSettings, values: Readonly<Record<string, number>>): MetricSettings {
  if (Object.keys(values).length === 0) return settings;
  return { ...settings, own: settings.own.map((m) => assumed(m, values)) };
}

/** The keys that formulas name and no metric has: those of assumptions. */
export function assumedIn(settings: MetricSettings, isMetric: (key: string) => boolean): string[] {
  const keys = settings.own.flatMap(({ formula }) => {
    const parsed = parseFormula(formula);
    return parsed.ok ? keysOf(parsed.tree).map((k) => k.key) : [];
  });
  return [...new Set(keys)].filter((key) => !isMetric(key));
}
