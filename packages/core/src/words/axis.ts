import { scaleLinear } from 'd3-scale';
import type { MetricUnit } from '../figures/index.ts';
import type { Numbers } from './numbers.ts';

/** A value axis: its two ends and the places that are labelled, two at least, each label another. */
export interface Axis {
  domain: [number, number];
  ticks: { value: number; label: string }[];
}

/** Things that are counted, and seconds, have no parts on an axis. */
const isWhole = (unit: MetricUnit): boolean => unit === 'count' || unit === 'duration';

/** An axis from 0 over all of the values, with about `n` labels; their decimals follow from its step (SEMANTICS §9). */
export function axisOf(values: readonly number[], unit: MetricUnit, n: number, numbers: Numbers): Axis {
  const low = Math.min(0, ...values);
  const high = Math.max(0, ...values);
  const least = isWhole(unit) && high - low < 1 ? [Math.floor(low), Math.max(1, Math.ceil(high))] : [low, high];
  const scale = scaleLinear(least[0] === least[1] ? [0, 1] : least, [0, 1]).nice(n);
  const all = scale.ticks(n).filter((v) => !isWhole(unit) || Number.isInteger(v));
  const [from, to] = scale.domain() as [number, number];
  const step = all.length > 1 ? all[1]! - all[0]! : to - from;
  return { domain: [from, to], ticks: all.map((value) => ({ value, label: numbers.axis(value, unit, step) })) };
}
