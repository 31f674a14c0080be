import { addDays, type CivilDate, maxDate, minDate, type Range } from '../../calendar/index.ts';
import type { Conversion } from '../../figures/index.ts';
import type { FileMapping } from './mapping.ts';

/** What a file brought, and how it was read. */
export interface ReadFile {
  mapping: FileMapping;
  range: Range;
}

const next = (day: CivilDate): CivilDate => addDays(day, 1);
const previous = (day: CivilDate): CivilDate => addDays(day, -1);

/** The parts of a range that lie outside another one. */
const outside = (r: Range, cut: Range): Range[] => {
  if (r.to < cut.from || r.from > cut.to) return [r];
  return [
    { from: r.from, to: minDate(r.to, previous(cut.from)) },
    { from: maxDate(r.from, next(cut.to)), to: r.to },
  ].filter((p) => p.from <= p.to);
};

/** The measures of money that a mapping converts from a currency. */
function measuresIn(
  { columns, otherCurrency }: FileMapping,
  currency: string,
  isMoney: (m: string) => boolean,
): string[] {
  return Object.values(columns).flatMap((use) => {
    if (use.as !== 'measure' || !isMoney(use.key)) return [];
    const own = use.currency === undefined ? otherCurrency === 'converted' : use.currency === currency;
    return own ? [use.key] : [];
  });
}

/**
 * The rates by which the money of a feed's files was converted, on the days that they brought (SEMANTICS §13). Of days that
 * were brought twice, what the later file was read by counts.
 * @param files in the order in which they came to count
 * @param into the client's currency
 */
export function conversionsOf(
  files: readonly ReadFile[],
  into: string,
  isMoney: (measure: string) => boolean,
): Conversion[] {
  let found: Conversion[] = [];
  for (const { mapping, range } of files) {
    found = found.flatMap((c) => outside(c, range).map((r) => ({ ...c, ...r })));
    for (const { currency, rate, ...on } of mapping.rates ?? []) {
      const [from, to] = [maxDate(on.from, range.from), minDate(on.to, range.to)];
      const measures = measuresIn(mapping, currency, isMoney);
      if (from <= to && measures.length > 0) found.push({ measures, currency, into, rate, from, to });
    }
  }
  return joined(found);
}

const keyOf = ({ measures, currency, rate }: Conversion): string => JSON.stringify([measures, currency, rate]);

/** One for the days of several that follow each other: a file a day says the same rate every day. */
function joined(conversions: readonly Conversion[]): Conversion[] {
  const out: Conversion[] = [];
  for (const c of [...conversions].sort((a, b) =>
    keyOf(a) < keyOf(b) ? -1 : keyOf(a) > keyOf(b) ? 1 : a.from < b.from ? -1 : 1,
  )) {
    const last = out.at(-1);
    if (last && keyOf(last) === keyOf(c) && c.from <= next(last.to))
      out[out.length - 1] = { ...last, to: maxDate(last.to, c.to) };
    else out.push(c);
  }
  return out;
}
