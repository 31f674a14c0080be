import { isObjectName } from '../../bounds/index.ts';
import { maxDate, minDate, monthEnd, monthStart, type Range } from '../../calendar/index.ts';
import { DIMENSION_KEYS, METRICS } from '../../figures/index.ts';
import { type Cell, isBlank, textOf } from './cell.ts';
import { currenciesOf, currencyOfHeading, isCurrency } from './currencies.ts';
import { guessDates, readDate } from './dates.ts';
import { keyOfName } from './keyOfName.ts';
import { type ColumnUse, type FileMapping, rateOn } from './mapping.ts';
import { guessNumbers, isDuration } from './numbers.ts';
import { looksLikeRates } from './rates.ts';
import type { DateStyle, NumberStyle } from './styles.ts';
import { findHeader, nameColumns } from './table.ts';
import type { FileHints } from './tableSchema.ts';
import { isTotalLabel } from './totals.ts';
import { tallNames, tallRows, type WideTable, wideTable } from './wide.ts';

export interface InspectedColumn {
  name: string;
  /** The first few filled-in cells as they stand. */
  samples: string[];
  use: ColumnUse;
  /** It seems to hold rates or averages, which are never added up. */
  rates?: true;
  /** What its figures seem to be, beyond counts. */
  unit?: 'duration' | 'percent' | 'money';
  /** Another currency than the client's, which its heading or its format names (a code or a sign). */
  currency?: string;
  /** The currencies that it names, of a column that names them. */
  currencies?: string[];
}

/** What was found out of a file by its first rows. */
export interface Inspection {
  /** The row that names the columns, from 0; -1 when none does. */
  headerAt: number;
  columns: InspectedColumn[];
  mapping: FileMapping;
  /** Rows that call themselves totals, counted from 0; those of the first rows that were looked at. */
  totals: number[];
  /** What somebody has to say before the file can be read. */
  doubts: ('dates' | 'numbers' | 'currency' | 'rates')[];
  /** Styles in which the date column can be read, the best first. */
  dateStyles: DateStyle[];
  notices: string[];
  /** The whole months that the first rows are of; null where none of their days could be read. */
  days: Range | null;
  /** Of a table with a column for each day: how its rows become rows of one day. Its columns are named as those are. */
  wide?: WideTable;
}

const SAMPLES = 4;
/** Headings of days, also where these are mere numbers. */
const DAY_HEADING = /day|date|datum|fecha|time|zeit|stamp|epoch/i;

/** Words that people use for what the library measures. */
const ALIASES: Record<string, string> = {
  sessions: 'visits',
  spend: 'cost',
  costs: 'cost',
  turnover: 'revenue',
  sales: 'revenue',
  income: 'revenue',
  enquiries: 'leads',
  medium: 'channel',
};
/** Dimensions that read like figures. */
const LABELS_EVEN_IF_NUMBERS = /\b(id|number|no|code|hour|postcode|zip)\b/i;

/** Headings under which 08:15 is no length of time. */
const TIME_OF_DAY =
  /^\s*(time|time of day|hour|uhrzeit|zeit|stunde|heure|hora|ora|tijd|uur|godzina|czas|время|час|שעה)\s*$/iu;
/** Headings of figures in millionths. */
const MICROS = /(^|[^a-z])micros?$|[a-z]Micros?$|millionths/i;

/** What the figures of a column are, where nearly all of them say so by how they are written. */
function unitOf(samples: readonly Cell[]): NonNullable<InspectedColumn['unit']> | null {
  const most = (is: (text: string) => boolean) =>
    samples.length > 0 && samples.filter((s) => typeof s === 'string' && is(s.trim())).length >= samples.length * 0.8;
  if (most(isDuration)) return 'duration';
  if (most((text) => text.endsWith('%'))) return 'percent';
  return most((text) => /\p{Sc}/u.test(text)) ? 'money' : null;
}

/** Measures that metrics of the library add up or take as levels, by their own name. */
const LIBRARY_MEASURES = new Set(
  METRICS.flatMap((m) =>
    m.aggregation.kind === 'sum' || m.aggregation.kind === 'level' ? [m.aggregation.measure] : [],
  ),
);

function useFor(name: string, kind: 'number' | 'text', taken: Set<string>): ColumnUse {
  const raw = keyOfName(name);
  const known = Object.hasOwn(ALIASES, raw.toLowerCase()) ? ALIASES[raw.toLowerCase()]! : raw;
  const free = (key: string) => {
    let found = key;
    for (let n = 2; taken.has(found) || isObjectName(found); n++) found = `${key.slice(0, 37)}${n}`;
    taken.add(found);
    return found;
  };
  if (kind === 'number') {
    const key = [...LIBRARY_MEASURES].find((m) => m.toLowerCase() === known.toLowerCase()) ?? raw;
    return { as: 'measure', key: free(key) };
  }
  const key = DIMENSION_KEYS.find((d) => d.toLowerCase() === known.toLowerCase()) ?? raw;
  return { as: 'dimension', key: free(key) };
}

/** The whole months that days are of. */
function monthsOf(samples: readonly Cell[], style: DateStyle, zone: string): Range | null {
  const days = samples.map((s) => readDate(s, style, zone)).filter((d) => d !== null);
  if (days.length === 0) return null;
  return { from: monthStart(days.reduce(minDate)), to: monthEnd(days.reduce(maxDate)) };
}

/** Whether any of the rows is of a day for which its money has no rate yet. */
function lacksRate(
  mapping: FileMapping,
  names: readonly string[],
  rows: readonly (readonly Cell[])[],
  currency: string,
  zone: string,
): boolean {
  const useOf = (name: string) => mapping.columns[name]!;
  const dateAt = names.findIndex((n) => useOf(n).as === 'date');
  const currencyAt = mapping.otherCurrency === 'converted' ? names.findIndex((n) => useOf(n).as === 'currency') : -1;
  const headed = names.flatMap((n) => {
    const use = useOf(n);
    return use.as === 'measure' && use.currency !== undefined ? [use.currency] : [];
  });
  if (currencyAt < 0 && headed.length === 0) return false;
  return rows.some((row) => {
    const day = readDate(row[dateAt] ?? null, mapping.dates, zone);
    const named = currencyAt < 0 ? '' : textOf(row[currencyAt]).toUpperCase();
    const wanted = named === '' || isCurrency(named, currency) ? headed : [named, ...headed];
    return day !== null && wanted.some((c) => rateOn(mapping, c, day) === null);
  });
}

/** Rows of one day each by which a table with a column for each day is judged, and days of each of its rows. */
const JUDGED_TALL = 4_000;
const JUDGED_DAYS = 62;

/**
 * Judges the first rows of a file, as many as there are at hand; a mapping of before is kept where it fits. A table with a
 * column for each day is judged by the rows of one day that its rows come to.
 * @param currency the client's: money of another one is asked about, never added (SEMANTICS §13)
 * @param formatted the currencies that a workbook writes beside the numbers of a column
 */
export function inspectRows(
  rows: readonly (readonly Cell[])[],
  zone: string,
  hints: FileHints | null,
  before: FileMapping | null,
  currency: string,
  formatted: (column: number) => readonly string[] = () => [],
): Inspection {
  const wide = hints?.header === false ? null : wideTable(rows, zone);
  if (wide === null) return inspectTall(rows, zone, hints, before, currency, formatted);
  const few = { ...wide, days: wide.days.slice(0, JUDGED_DAYS) };
  const tall: Cell[][] = [tallNames(wide)];
  // A total of its own row is listed by the row that it is in.
  const totals: number[] = [];
  for (const [n, row] of rows.entries()) {
    if (n <= wide.headerAt || tall.length > JUDGED_TALL) continue;
    if (wide.kept.some((k) => isTotalLabel(row[k.at]))) totals.push(n);
    else tall.push(...tallRows(few, row).map((r) => r.cells));
  }
  const ofDays = [...new Set(wide.days.flatMap(({ at }) => formatted(at)))];
  const found = inspectTall(tall, zone, hints, before, currency, (at) => (at > wide.kept.length ? ofDays : []));
  const notice = `The file has ${wide.days.length} date columns. Each is read as its own row.`;
  return { ...found, headerAt: wide.headerAt, totals, wide, notices: [notice, ...found.notices] };
}

function inspectTall(
  rows: readonly (readonly Cell[])[],
  zone: string,
  hints: FileHints | null,
  before: FileMapping | null,
  currency: string,
  formatted: (column: number) => readonly string[],
): Inspection {
  const headerAt = hints?.header === false ? -1 : findHeader(rows);
  const body = rows.slice(headerAt + 1).filter((r) => r.some((c) => !isBlank(c)));
  const width = headerAt >= 0 ? rows[headerAt]!.length : Math.max(0, ...body.map((r) => r.length));
  const { names, notices } = nameColumns(headerAt >= 0 ? rows[headerAt]! : null, width);
  const samplesOf = (i: number) => body.map((r) => r[i] ?? null).filter((c) => !isBlank(c));
  const hintOf = (name: string) => (hints && Object.hasOwn(hints.columns, name) ? hints.columns[name]! : null);
  const doubts: Inspection['doubts'] = [];
  const remembered = before && names.every((n) => Object.hasOwn(before.columns, n)) ? before : null;

  const guesses = names.map((n, i) => guessDates(samplesOf(i), zone, n));
  let dateAt = names.findIndex((n) => (remembered ? remembered.columns[n]!.as === 'date' : hintOf(n)?.type === 'date'));
  // Mere numbers are days where their heading says so.
  const isBare = (style: DateStyle) => style === 'serial' || style === 'epoch';
  if (dateAt < 0) dateAt = guesses.findIndex((g) => g.fits.length > 0 && !isBare(g.fits[0]!.style));
  if (dateAt < 0) dateAt = names.findIndex((n, i) => guesses[i]!.fits.length > 0 && DAY_HEADING.test(n));
  const dates = guesses[dateAt];
  const dateHint = dateAt >= 0 ? (hintOf(names[dateAt]!)?.dates ?? null) : null;
  const settledDates = remembered?.dates ?? dateHint;
  if (dates?.doubtful && !settledDates) doubts.push('dates');
  if (dates?.mixed) notices.push('Dates have more than one format. Rows that don’t match the chosen one are skipped.');

  const taken = new Set<string>(['day', 'feed']);
  const found = { point: 0, comma: 0, unlike: 0 };
  let numberHint: NumberStyle | null = null;
  const columns = names.map((name, i): InspectedColumn => {
    const samples = samplesOf(i);
    const shown = samples.slice(0, SAMPLES).map((s) => textOf(s).slice(0, 60));
    if (i === dateAt) return { name, samples: shown, use: { as: 'date' } };
    const currencies = currenciesOf(name, samples);
    if (currencies) {
      // One is enough: another such column is what it is called.
      const isFirst = !names.slice(0, i).some((n, j) => currenciesOf(n, samplesOf(j)));
      const use: ColumnUse = isFirst ? { as: 'currency' } : useFor(name, 'text', taken);
      return { name, samples: shown, use: remembered?.columns[name] ?? use, currencies };
    }
    const hint = hintOf(name);
    const numbers = hint?.type === 'text' ? null : guessNumbers(samples);
    const isTime = TIME_OF_DAY.test(name) && samples.every((s) => isDuration(s));
    const isNumber = hint?.type === 'number' || (numbers !== null && !LABELS_EVEN_IF_NUMBERS.test(name) && !isTime);
    if (isNumber) {
      numberHint ??= hint?.numbers ?? null;
      for (const k of ['point', 'comma', 'unlike'] as const) found[k] += numbers?.[k] ?? 0;
    }
    const rates = isNumber && looksLikeRates(name, samples);
    const said = isNumber ? [currencyOfHeading(name), ...formatted(i)].filter((c) => c !== null) : [];
    const other = said.find((c) => !isCurrency(c, currency)) ?? null;
    const isLeftOut = (samples.length === 0 && !hint) || rates || other !== null;
    const proposed = isLeftOut ? ({ as: 'skip' } as const) : useFor(name, isNumber ? 'number' : 'text', taken);
    const use: ColumnUse = proposed.as === 'measure' && MICROS.test(name) ? { ...proposed, scale: -6 } : proposed;
    const unit = isNumber ? unitOf(samples) : null;
    if (rates && !remembered) {
      notices.push(
        `“${name}” looks like rates or averages, which can’t be summed. Choose a weight column, or skip it.`,
      );
    }
    if (other !== null && !remembered) {
      notices.push(
        `“${name}” is in ${other}, not in ${currency}, so it is skipped: different currencies can’t be added.`,
      );
    }
    return {
      name,
      samples: shown,
      use: remembered?.columns[name] ?? use,
      ...(rates && { rates: true as const }),
      ...(unit !== null && { unit }),
      ...(other !== null && { currency: other }),
    };
  });
  const isOther = (named: string) => !isCurrency(named, currency);
  const others = columns.flatMap((c) => (c.use.as === 'currency' ? (c.currencies?.filter(isOther) ?? []) : []));
  const knowsOthers =
    remembered?.otherCurrency === 'split'
      ? others.every((c) => remembered.splitInto?.includes(c))
      : remembered?.otherCurrency !== undefined;
  if (others.length > 0 && !knowsOthers) doubts.push('currency');
  if (remembered && lacksRate(remembered, names, body, currency, zone)) doubts.push('rates');
  if (found.point > 0 && found.comma > 0) {
    notices.push('Numbers have more than one format. Rows that don’t match the chosen one are skipped.');
  }
  const labelled = columns.flatMap((c, i) => (c.use.as === 'date' || c.use.as === 'dimension' ? [i] : []));
  const totals = rows.flatMap((r, n) => (n > headerAt && labelled.some((i) => isTotalLabel(r[i])) ? [n] : []));
  const guessed: NumberStyle = found.comma > found.point ? 'comma' : 'point';
  if (!remembered && numberHint === null && found.unlike > 0 && found.point === found.comma) doubts.push('numbers');
  return {
    headerAt,
    columns,
    mapping: {
      dates: settledDates ?? dates?.fits[0]?.style ?? 'ymd',
      numbers: remembered?.numbers ?? numberHint ?? guessed,
      gaps: remembered?.gaps ?? 'zero',
      ...(remembered?.aside && { aside: remembered.aside }),
      ...(remembered?.totals && { totals: remembered.totals }),
      ...(remembered?.otherCurrency && { otherCurrency: remembered.otherCurrency }),
      ...(remembered?.ownMoney && { ownMoney: remembered.ownMoney }),
      ...(remembered?.rates && { rates: remembered.rates }),
      ...(remembered?.splitInto && { splitInto: remembered.splitInto }),
      ...(remembered?.onlyCurrency && { onlyCurrency: remembered.onlyCurrency }),
      columns: Object.fromEntries(columns.map((c) => [c.name, c.use])),
    },
    totals,
    doubts,
    days: monthsOf(dateAt < 0 ? [] : samplesOf(dateAt), settledDates ?? dates?.fits[0]?.style ?? 'ymd', zone),
    dateStyles: (dates?.fits ?? []).map((f) => f.style),
    notices,
  };
}
