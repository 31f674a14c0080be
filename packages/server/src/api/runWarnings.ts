import { addDays, addMinutes, lengthOf, type Range, startOfDay, wallClock, weekdayOf } from '@chronicon/core/calendar';
import { GUARD_WORDS, type GuardFault } from '@chronicon/core/client';
import type { RunWarning } from '@chronicon/core/contract';
import type { Formatter } from '@chronicon/core/words';
import type { Agency } from '../store/members.ts';

/** When services have finished the day before, by a client's clock, as long as nothing is known of their habit. */
const ARRIVAL = 5 * 60 + 20;
/** Minutes after figures are usually there from when on it is safe to send, rounded up to half an hour. */
const SAFETY = 30;
/** A period that ended longer ago than this, in days, is old news. */
const OLD_DAYS = 20;
/** Months differ by a day or three all the time; more than that is worth a word. */
const DAYS_APART = 3;

/** A feed by which a client's figures come, and when they usually are there. */
export interface FeedHabit {
  name: string;
  /** Minutes after the end of a day; null while nothing is known. */
  minutes: number | null;
}

/** Somebody whom a run reaches, as far as warnings hang on them. */
export interface WarnedReader {
  id: string;
  name: string;
  fault: GuardFault | null;
  /** Members need none. */
  consents: boolean;
}

/** What is known of a run and of what surrounds it. */
export interface WarnedRun {
  at: string;
  period: Range;
  compared: Range | null;
  /** Its rule names every day, so that no day of the week is a surprise. */
  daily: boolean;
  readers: readonly WarnedReader[];
  /** No readers, and none are wanted. */
  archive: boolean;
  /** Values that have a group without readers, and values in the data without a group. */
  unread: readonly string[];
  unknown: readonly string[];
  /** Other reports on the same day, by reader. */
  others: readonly { reader: string; title: string }[];
}

interface Around {
  zone: string;
  agency: Pick<Agency, 'workingDays' | 'namedHolidays'>;
  /** Whose holidays they are. */
  whose: 'the agency' | 'the client';
  feeds: readonly FeedHabit[];
  english: Formatter;
}

const LISTS = new Intl.ListFormat('en-GB');
const list = (names: readonly string[]): string => {
  const shown = names.slice(0, 3);
  const more = names.length - shown.length;
  return LISTS.format(more > 0 ? [...shown, `${more} more`] : shown);
};

/** The figures of a period's last day that are not there yet when a run is due; null where all usually are. */
function lateData({ at, period }: WarnedRun, { zone, feeds, english }: Around): string | null {
  if (feeds.length === 0) return null;
  const ended = startOfDay(addDays(period.to, 1), zone);
  const slowest = feeds.map((f) => ({ ...f, by: f.minutes ?? ARRIVAL })).sort((a, b) => b.by - a.by)[0]!;
  const safe = addMinutes(ended, Math.ceil((slowest.by + SAFETY) / 30) * 30);
  if (at >= safe) return null;
  const day = english.shortRange({ from: period.to, to: period.to });
  const clock = (instant: string) => {
    const { date, time } = wallClock(instant, zone);
    return date === addDays(period.to, 1) ? time : `${time} on ${english.shortRange({ from: date, to: date })}`;
  };
  const whose = slowest.minutes === null ? '' : ` from ${slowest.name}`;
  return `Data for ${day} usually arrives by ${clock(addMinutes(ended, slowest.by))}${whose}. At ${wallClock(at, zone).time} the edition would be held – send after ${clock(safe)}.`;
}

/** What somebody ought to know of a run before it goes, the gravest first. */
export function warningsOf(run: WarnedRun, around: Around): RunWarning[] {
  const { agency, zone, whose } = around;
  const found: RunWarning[] = [];
  const say = (kind: RunWarning['kind'], text: string | null) => {
    if (text !== null) found.push({ kind, text });
  };
  const { date } = wallClock(run.at, zone);
  const { readers, period, compared } = run;
  if (readers.length === 0 && !run.archive && run.unread.length === 0) say('nobody', 'No readers.');
  if (run.unread.length > 0) say('nobody', `No reader for ${list(run.unread)}.`);
  for (const r of readers) if (r.fault !== null) say('guard', `${r.name} ${GUARD_WORDS[r.fault]}`);
  if (run.unknown.length > 0) {
    say(
      'new-value',
      `${list(run.unknown)} ${run.unknown.length === 1 ? 'has' : 'have'} no group, so nobody receives ${run.unknown.length === 1 ? 'it' : 'them'}.`,
    );
  }
  if (period.to >= date) say('unfinished', 'The period isn’t over by then: the edition would be held.');
  else say('late-data', lateData(run, around));
  const ago = lengthOf({ from: period.to, to: date }) - 1;
  if (ago > OLD_DAYS) say('old', `Its period ended ${ago} days earlier.`);
  const holiday = agency.namedHolidays.find((h) => h.date === date);
  if (holiday) say('holiday', `This is a holiday of ${whose}${holiday.name && `: ${holiday.name}`}.`);
  else if (!run.daily && !agency.workingDays.includes(weekdayOf(date))) say('weekend', 'Not a working day.');
  for (const title of new Set(run.others.map((o) => o.title))) {
    const names = [...new Set(run.others.filter((o) => o.title === title).map((o) => o.reader))];
    say('same-day', `${list(names)} also ${names.length === 1 ? 'gets' : 'get'} “${title}” on that day.`);
  }
  const silent = readers.filter((r) => !r.consents && r.fault === null).map((r) => r.name);
  if (silent.length > 0) say('consent', `No consent recorded for ${list(silent)}.`);
  if (compared && Math.abs(lengthOf(period) - lengthOf(compared)) > DAYS_APART) {
    say('length', `Compares ${lengthOf(period)} days with ${lengthOf(compared)} days.`);
  }
  return found;
}
