import type { CivilDate } from './civilDate.ts';
import { datesOf } from './exceptions.ts';
import { nextOccurrences, type On, occurrenceOn, type Recurrence, type Rule } from './recurrence.ts';
import { instantOf } from './zones.ts';

const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];
const codeOf = (weekday: number): string => WEEKDAYS[weekday - 1]!;

/** A day within a month, as parts of a rule; null where it hangs on working days, of which calendars know nothing. */
function partsOfDay(on: On): string | null {
  if ('workday' in on) return null;
  if ('last' in on || ('day' in on && on.day === 31)) return 'BYMONTHDAY=-1';
  if ('nth' in on) return `BYDAY=${on.nth === 'last' ? -1 : on.nth}${codeOf(on.weekday)}`;
  // In a shorter month its last day: the last of those days that the month has.
  if (on.day > 28) {
    const days = Array.from({ length: on.day - 27 }, (_, i) => 28 + i).join(',');
    return `BYMONTHDAY=${days};BYSETPOS=-1`;
  }
  return `BYMONTHDAY=${on.day}`;
}

/** Months of the year that have a day in each quarter's first, second or third month. */
const monthsOfQuarters = (month: number): string => [0, 3, 6, 9].map((m) => m + month).join(',');

function partsOfRule(rule: Rule, weekStart: number): string | null {
  switch (rule.freq) {
    case 'daily':
      return 'FREQ=DAILY';
    case 'weekly':
      return `FREQ=WEEKLY;INTERVAL=${rule.every};WKST=${codeOf(weekStart)};BYDAY=${[...rule.weekdays]
        .sort((a, b) => a - b)
        .map(codeOf)
        .join(',')}`;
    case 'monthly': {
      const day = partsOfDay(rule.on);
      return day && `FREQ=MONTHLY;INTERVAL=${rule.every};${day}`;
    }
    case 'quarterly': {
      const day = partsOfDay(rule.on);
      return day && `FREQ=MONTHLY;BYMONTH=${monthsOfQuarters(rule.month)};${day}`;
    }
    case 'yearly': {
      const day = partsOfDay(rule.on);
      return day && `FREQ=MONTHLY;BYMONTH=${rule.month};${day}`;
    }
    default:
      return null;
  }
}

const basic = (date: CivilDate, time: string): string => `${date.replaceAll('-', '')}T${time.replace(':', '')}00`;

/**
 * A schedule's dates as RFC 5545 writes them (§3.8.5): `DTSTART`, `RRULE`, and `EXDATE` for what is left out, `RDATE` for
 * where a run was moved to. Null where no
 * rule can say it: what runs once, on working days, or is moved to one (SEMANTICS §10).
 */
export function rruleOf(r: Recurrence): string | null {
  const parts = r.workingDayRule === 'as is' ? partsOfRule(r.rule, r.weekStart) : null;
  const [first] = parts === null ? [] : nextOccurrences({ ...r, exceptions: {} }, r.firstDate, 1);
  if (parts === null || !first) return null;
  // With a zone, the end is said in UTC (§3.3.10); it belongs.
  const until = r.lastDate === null ? '' : `;UNTIL=${instantOf(r.lastDate, r.time, r.zone).replace(/[-:]|\.\d+/g, '')}`;
  const left = [...new Set([...datesOf(r.exceptions, 'skipped'), ...datesOf(r.exceptions, 'moved')])]
    .filter((date) => date >= first.nominal && occurrenceOn({ ...r, exceptions: {} }, date))
    .sort();
  const moved = left.flatMap((date) => {
    const { skipped, moved: to } = r.exceptions[date]!;
    return to && !skipped ? basic(to.date, to.time) : [];
  });
  const at = `;TZID=${r.zone}:`;
  return [
    `DTSTART${at}${basic(first.nominal, r.time)}`,
    `RRULE:${parts}${until}`,
    ...(left.length > 0 ? [`EXDATE${at}${left.map((date) => basic(date, r.time)).join(',')}`] : []),
    ...(moved.length > 0 ? [`RDATE${at}${moved.sort().join(',')}`] : []),
  ].join('\n');
}
