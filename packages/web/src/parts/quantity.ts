import { createNumbers, readTyped } from '@chronicon/core/contract/display';
import type { MetricUnit } from '@chronicon/core/figures';

export type Unit = MetricUnit;

/** What stands for 1 as a person writes it: a fraction is typed as a percentage. */
export const factorOf = (unit: Unit): number => (unit === 'percent' ? 100 : 1);

/** Digits alone: neither grouped nor by powers of ten, which no field reads. */
const PLAIN = new Intl.NumberFormat('en-GB', { useGrouping: false, maximumSignificantDigits: 12 });

/** A number as a person would type it. */
export const typedText = (value: number, unit: Unit): string => PLAIN.format(value * factorOf(unit));

/** What somebody typed as a number of a unit; null for what is none. */
export function typedValue(text: string, unit: Unit): number | null {
  const typed = readTyped(text);
  return 'value' in typed ? typed.value / factorOf(unit) : null;
}

/** A number with its unit, as reports write it. */
export const quantityText = (value: number, unit: Unit, currency: string): string =>
  createNumbers('en-GB', currency).figure(value, unit);
