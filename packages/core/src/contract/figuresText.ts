// Single files: addresses are read before anything heavy is loaded.
import { isObjectName } from '../bounds/index.ts';
import { dateFault, rangeFault } from '../calendar/boundedDates.ts';
import type { ComparisonSpec, PeriodSpec, Unit } from '../calendar/index.ts';
import type { FilterHow, FilterPart } from '../figures/filterPart.ts';

/**
 * Periods, comparisons and filters as short text, for addresses of pages and of the API: every view can be linked.
 * `parse…` gives null for what cannot be read.
 */

const UNITS: readonly Unit[] = ['day', 'week', 'month', 'quarter', 'year'];
const DATES = /^(\d{4}-\d\d-\d\d)\.\.(\d{4}-\d\d-\d\d)$/;

const datesOf = (text: string): { from: string; to: string } | null => {
  const m = DATES.exec(text);
  if (!m) return null;
  const range = { from: m[1]!, to: m[2]! };
  return (dateFault(range.from) ?? dateFault(range.to) ?? rangeFault(range)) ? null : range;
};

/** `month.-1`, `month.toDate`, `quarter.-1.fiscal`, `rolling.28`, `2026-10-01..2026-10-31`. */
export function periodText(spec: PeriodSpec): string {
  if (spec.kind === 'fixed') return `${spec.from}..${spec.to}`;
  if (spec.kind === 'rolling') return `rolling.${spec.days}`;
  return `${spec.unit}.${spec.toDate ? 'toDate' : (spec.offset ?? 0)}${spec.fiscal ? '.fiscal' : ''}`;
}

export function parsePeriod(text: string): PeriodSpec | null {
  const dates = datesOf(text);
  if (dates) return { kind: 'fixed', ...dates };
  const [head, second = '', third] = text.split('.');
  if (head === 'rolling') {
    const days = Number(second);
    return Number.isInteger(days) && days >= 1 && days <= 1_100 ? { kind: 'rolling', days } : null;
  }
  const unit = UNITS.find((u) => u === head);
  if (!unit || (third !== undefined && third !== 'fiscal')) return null;
  const fiscal = third === 'fiscal' ? { fiscal: true as const } : {};
  if (second === 'toDate') return { kind: 'unit', unit, toDate: true, ...fiscal };
  const offset = Number(second);
  if (second === '' || !Number.isInteger(offset) || offset > 0 || offset < -120) return null;
  return { kind: 'unit', unit, offset: offset === 0 ? 0 : offset, ...fiscal };
}

/** `none`, `previous`, `lastYear`, `lastYear.date`, `first`, `target`, `typical.4`, or dates as of a period. */
export function comparisonText(spec: ComparisonSpec): string {
  switch (spec.kind) {
    case 'fixed':
      return `${spec.from}..${spec.to}`;
    case 'typical':
      return `typical.${spec.k}`;
    case 'lastYear':
      return spec.align ? 'lastYear.date' : 'lastYear';
    default:
      return spec.kind;
  }
}

export function parseComparison(text: string): ComparisonSpec | null {
  const dates = datesOf(text);
  if (dates) return { kind: 'fixed', ...dates };
  if (text === 'none' || text === 'previous' || text === 'first' || text === 'target' || text === 'lastYear') {
    return { kind: text };
  }
  if (text === 'lastYear.date') return { kind: 'lastYear', align: 'date' };
  const k = Number(/^typical\.(\d{1,2})$/.exec(text)?.[1]);
  return k >= 2 && k <= 24 ? { kind: 'typical', k } : null;
}

export type { FilterHow, FilterPart } from '../figures/filterPart.ts';

/** How a part takes its values, as it stands between dimension and values. */
const SIGNS: Record<FilterHow, string> = { only: '=', except: '!=', contains: '~=', lacks: '!~=' };
const HOWS = new Map(Object.entries(SIGNS).map(([how, sign]) => [sign, how as FilterHow]));

/** Keeps the characters that part a filter's text out of its values. */
const guard = (value: string): string => value.replace(/[%,;=!~]/g, (c) => `%${c.charCodeAt(0).toString(16)}`);
const unguard = (text: string): string =>
  text.replace(/%(25|2c|3b|3d|21|7e)/g, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)));

/** `channel=Email,Direct;device!=Tablet;keyword!~=brand` */
export const filterText = (parts: readonly FilterPart[]): string =>
  parts.map((p) => `${p.dimension}${SIGNS[p.how]}${p.values.map(guard).join(',')}`).join(';');

export function parseFilter(text: string): FilterPart[] | null {
  if (text === '') return [];
  const parts: FilterPart[] = [];
  for (const piece of text.split(';')) {
    const m = /^([A-Za-z]\w{0,60})(!?~?=)(.*)$/s.exec(piece);
    if (!m || isObjectName(m[1]!) || parts.some((p) => p.dimension === m[1])) return null;
    parts.push({ dimension: m[1]!, how: HOWS.get(m[2]!)!, values: m[3]!.split(',').map(unguard) });
  }
  return parts;
}
