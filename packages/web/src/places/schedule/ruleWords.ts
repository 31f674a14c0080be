import type { On, Rule } from '@chronicon/core/calendar';

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
export const weekdayName = (n: number): string => WEEKDAYS[n - 1] ?? '';

export const monthName = (n: number): string =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' }).format(new Date(Date.UTC(2026, n - 1, 1)));

export const ordinal = (n: number): string => {
  const tens = n % 100;
  const ending = tens >= 11 && tens <= 13 ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return `${n}${ending}`;
};

const list = (words: string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

export function onWords(on: On): string {
  if ('day' in on) return `the ${ordinal(on.day)}`;
  if ('last' in on) return 'the last day';
  if ('workday' in on)
    return on.workday > 0
      ? `the ${ordinal(on.workday)} working day`
      : `the ${-on.workday === 1 ? '' : `${ordinal(-on.workday)} `}last working day`;
  return `the ${on.nth === 'last' ? 'last' : ordinal(on.nth)} ${weekdayName(on.weekday)}`;
}

/** A rule as part of a sentence: "the 3rd of each month", "every Monday and Thursday". */
export function ruleWords(rule: Rule): string {
  switch (rule.freq) {
    case 'daily':
      return 'every day';
    case 'workdays':
      return 'every working day';
    case 'weekly': {
      const days = list([...rule.weekdays].sort((a, b) => a - b).map(weekdayName));
      if (days === '') return 'no weekday yet';
      return rule.every === 1 ? `every ${days}` : `${days} of every ${ordinal(rule.every)} week`;
    }
    case 'monthly':
      return `${onWords(rule.on)} of ${rule.every === 1 ? 'each month' : `every ${ordinal(rule.every)} month`}`;
    case 'quarterly':
      return `${onWords(rule.on)} of each quarter’s ${ordinal(rule.month)} month`;
    case 'yearly':
      return `${onWords(rule.on)} of ${monthName(rule.month)}`;
    case 'once':
      return `${rule.date}, once`;
  }
}
