import { type CivilDate, civilDateAt, fromDayNumber, isCivilDate, toDayNumber } from '../../calendar/index.ts';
import type { Cell } from './cell.ts';
import { monthNamed, saysNothing } from './monthNames.ts';
import { DATE_STYLES, type DateStyle } from './styles.ts';

function made(year: string | number, month: string | number, day: string | number): CivilDate | null {
  const y = Number(year);
  const full = y < 100 ? 2000 + y : y;
  const text = `${String(full).padStart(4, '0')}-${String(Number(month)).padStart(2, '0')}-${String(Number(day)).padStart(2, '0')}`;
  return isCivilDate(text) ? text : null;
}

const PARTS = /^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})$/;
/** Midnight behind a day says nothing more. */
const bare = (text: string): string => text.replace(/[ T]00:00(:00(\.0+)?)?$/, '');
const TIME = /[\s,T]+\d{1,2}[:.]\d\d([:.]\d\d([.,]\d+)?)?(\s*[ap]\.?m\.?)?(\s*(uhr|h))?$/i;
const FIRST_WORD = /^(\p{L}[\p{L}\p{M}]*)\.?,?\s+(.+)$/u;

/** A day without the time of the day behind it, or the weekday before it. */
function dayAlone(text: string): string {
  const day = text.replace(TIME, '');
  const [, word, rest] = FIRST_WORD.exec(day) ?? [];
  if (word === undefined || !saysNothing(word)) return day;
  // “mar” is a Tuesday in French, and March in English: what follows tells.
  const isMonth =
    monthNamed(word) > 0 && !PARTS.test(rest!) && !(rest!.match(WORDS) ?? []).some((w) => monthNamed(w) > 0);
  return isMonth ? day : rest!;
}

/** Words of a date: numbers, and letters with their marks. */
const WORDS = /\d+|\p{L}[\p{L}\p{M}]*/gu;

/** A day with its month by name, in any language of reports; words that say nothing may stand between. */
function namedDay(text: string): CivilDate | null {
  if (!/^[\p{L}\p{M}\d\s.,/׳-]+$/u.test(text)) return null;
  const words = (text.match(WORDS) ?? []).filter((w) => /^\d/.test(w) || !saysNothing(w) || monthNamed(w) > 0);
  const [first, second, third, ...rest] = words;
  if (third === undefined || rest.length > 0) return null;
  const dayFirst = /^\d/.test(first!);
  const [day, month] = dayFirst ? [first!, second!] : [second!, first!];
  const number = monthNamed(month);
  if (!/^\d{1,2}$/.test(day) || number === 0 || !/^(\d{2}|\d{4})$/.test(third)) return null;
  // The day of the month never stands last but where its year is whole.
  return dayFirst || third.length === 4 ? made(third, number, day) : null;
}

/** The first day of an ISO week (ISO 8601): the week with the year's first Thursday is number 1. */
function isoDay(year: number, week: number, weekday: number): CivilDate | null {
  const fourth = toDayNumber(`${String(year).padStart(4, '0')}-01-04`);
  // Day 0 of day numbers was a Thursday.
  const monday = fourth - ((((fourth + 3) % 7) + 7) % 7);
  const day = fromDayNumber(monday + 7 * (week - 1) + weekday - 1);
  const nextFirst = toDayNumber(`${String(year + 1).padStart(4, '0')}-01-04`);
  const end = nextFirst - ((((nextFirst + 3) % 7) + 7) % 7);
  return week >= 1 && weekday >= 1 && weekday <= 7 && toDayNumber(day) < end ? day : null;
}

/** A week before its year, in the languages of files: `W40 2026`, `KW 40/2026`, `Week 40, 2026`. */
const WEEK_FIRST =
  /^(?:W|KW|S|week|woche|semaine|semana|settimana|tydzień|неделя)\.?[ -]?(?<w>\d{1,2})[,]?[-/ ]+(?<y>\d{4})$/iu;

/** Day 0 of spreadsheets; they count 29 February 1900, which never was, so it holds from March 1900 on. */
const SERIAL_ZERO = toDayNumber('1899-12-30');

const READ: Record<DateStyle, (text: string, zone: string) => CivilDate | null> = {
  ymd(text) {
    // With hyphens and a time it is an instant, which may have an offset.
    const m = PARTS.exec(text.includes('-') ? bare(text) : dayAlone(text));
    return m && m[1]!.length === 4 ? made(m[1]!, m[2]!, m[3]!) : null;
  },
  dmy(text) {
    const m = PARTS.exec(dayAlone(text));
    return m && m[1]!.length <= 2 && m[3]!.length !== 3 ? made(m[3]!, m[2]!, m[1]!) : null;
  },
  mdy(text) {
    const m = PARTS.exec(dayAlone(text));
    return m && m[1]!.length <= 2 && m[3]!.length !== 3 ? made(m[3]!, m[1]!, m[2]!) : null;
  },
  compact(text) {
    const m = /^(\d{4})(\d\d)(\d\d)$/.exec(text);
    return m ? made(m[1]!, m[2]!, m[3]!) : null;
  },
  named: (text) => namedDay(dayAlone(text)),
  week(text) {
    const m = /^(\d{4})-?W(\d\d)-?([1-7])$/.exec(text);
    return m ? isoDay(Number(m[1]), Number(m[2]), Number(m[3])) : null;
  },
  weeks(text) {
    const m = /^(?<y>\d{4})[-/ ]?(?:W|KW|S)?[-/ ]?(?<w>\d{1,2})$/i.exec(text) ?? WEEK_FIRST.exec(text);
    const { y, w } = m?.groups ?? {};
    return y === undefined || /^\d{5,}$/.test(text) ? null : isoDay(Number(y), Number(w), 1);
  },
  epoch(text, zone) {
    if (!/^\d{10}$|^\d{13}$/.test(text)) return null;
    return civilDateAt(new Date(Number(text) * (text.length === 10 ? 1_000 : 1)).toISOString(), zone);
  },
  instant(text, zone) {
    const m = /^(\d{4}-\d\d-\d\d)[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$/.exec(text);
    if (!m || !isCivilDate(m[1]!)) return null;
    if (!m[4]) return m[1]!;
    const at = text.replace(' ', 'T').replace(/([+-]\d\d)(\d\d)$/, '$1:$2');
    try {
      return civilDateAt(at, zone);
    } catch {
      return null;
    }
  },
  month(text) {
    const digits = /^(\d{4})[-/.](\d{1,2})$/.exec(text) ?? /^(?<m>\d{1,2})[-/.](?<y>\d{4})$/.exec(text);
    if (digits) return digits.groups ? made(digits.groups.y!, digits.groups.m!, 1) : made(digits[1]!, digits[2]!, 1);
    const named = /^(\p{L}[\p{L}\p{M}]*)\.?(?:[ -]| de )(\d{4})$/u.exec(text);
    const number = named ? monthNamed(named[1]!) : 0;
    return number > 0 ? made(named![2]!, number, 1) : null;
  },
  serial(text) {
    const days = Number(text);
    return Number.isInteger(days) && days > 60 && days < 110_000 ? fromDayNumber(SERIAL_ZERO + days) : null;
  },
};

/** Characters of the longest way to write a day, with weekday and time. What is longer is none, and costs no time. */
const LONGEST = 80;

/** A date outside this range is a typing mistake. */
const FIRST_DAY: CivilDate = '1900-01-01';
const LAST_DAY: CivilDate = '2199-12-31';

/** The day that a cell means in a style, or null. Instants with an offset are told in `zone`. */
export function readDate(cell: Cell, style: DateStyle, zone: string): CivilDate | null {
  if (cell === null) return null;
  const text = typeof cell === 'string' ? cell.trim() : String(cell);
  const found = text.length > LONGEST ? null : READ[style](text, zone);
  return found !== null && found >= FIRST_DAY && found <= LAST_DAY ? found : null;
}

export interface DateFit {
  style: DateStyle;
  /** How many of the samples it reads. */
  reads: number;
}

export interface DateGuess {
  /** Those that read most samples, the best first; empty when hardly any is a day. */
  fits: DateFit[];
  /** Two styles read all samples equally well, as 03/04: somebody has to say which. */
  doubtful: boolean;
  /** Samples of one style and samples of the other: some rows will be refused whichever is taken. */
  mixed: boolean;
}

/** At least this part of a column's cells has to be days for it to be a column of days. */
const MOST = 0.8;

/** Headings of weeks, under which 2026-10 is no month. */
const WEEK_HEADING = /week|woche|\bkw\b|semaine|semana|settimana|tydz|tygod|недел|שבוע/iu;

/**
 * How a column's days are written, judged by filled-in samples. 2026-10 is a month, and a week where the heading says so.
 * @param name what the column is called
 */
export function guessDates(samples: readonly Cell[], zone: string, name = ''): DateGuess {
  const numeric = samples.every((s) => typeof s === 'number' || /^\d{5}(\.0+)?$/.test(String(s)));
  const hasMonths = samples.some((s) => readDate(s, 'month', zone) !== null);
  const ruledOut: DateStyle | null = !hasMonths ? null : WEEK_HEADING.test(name) ? 'month' : 'weeks';
  const fits = DATE_STYLES.filter((style) => (style !== 'serial' || numeric) && style !== ruledOut)
    .map((style) => ({ style, reads: samples.filter((s) => readDate(s, style, zone) !== null).length }))
    .filter((f) => f.reads > 0)
    .sort((a, b) => b.reads - a.reads);
  const isDays = (x: number) => x >= samples.length * MOST && samples.length > 0;
  const union = samples.filter((s) => fits.some((f) => readDate(s, f.style, zone) !== null)).length;
  if (!isDays(union)) return { fits: [], doubtful: false, mixed: false };
  const [first, second] = fits;
  return {
    fits,
    doubtful: second !== undefined && second.reads === first!.reads,
    mixed: first!.reads < union,
  };
}
