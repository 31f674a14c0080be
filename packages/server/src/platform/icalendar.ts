import { addDays } from '@chronicon/core/calendar';
import type { Holiday } from '@chronicon/core/contract';
import ICAL from 'ical.js';

/** Days of one event that are taken: a longer one is no holiday. */
const LONGEST = 40;
/** Years ahead for which an event that comes again is written out, and of events that are taken at all. */
const YEARS = 10;
const MOST_EVENTS = 2_000;

export interface ReadCalendar {
  days: Holiday[];
  /** What was not taken, and why. */
  leftOut: string[];
}

const civil = (t: ICAL.Time): string =>
  `${String(t.year).padStart(4, '0')}-${String(t.month).padStart(2, '0')}-${String(t.day).padStart(2, '0')}`;

/**
 * The days of an iCalendar file (RFC 5545): events of whole days, those that come again written out for ten years from
 * `from`. An event that has a time of day is no holiday, and one that was cancelled is none.
 * @throws Error in a sentence where the text is no calendar
 */
export function readICalendar(text: string, from: string): ReadCalendar {
  let events: ICAL.Component[];
  try {
    const component = new ICAL.Component(ICAL.parse(text));
    if (component.name !== 'vcalendar') throw new Error('another component');
    events = component.getAllSubcomponents('vevent');
  } catch {
    throw new Error('This is no iCalendar file: it should begin with BEGIN:VCALENDAR.');
  }
  const days = new Map<string, string>();
  const leftOut: string[] = [];
  const until = `${Number(from.slice(0, 4)) + YEARS}-12-31`;
  const take = (first: string, length: number, name: string) => {
    for (let i = 0; i < length; i++) {
      const date = addDays(first, i);
      if (date >= from && date <= until) days.set(date, name);
    }
  };
  for (const component of events.slice(0, MOST_EVENTS)) {
    const event = new ICAL.Event(component);
    const name = (event.summary ?? '').trim().slice(0, 80);
    const called = name === '' ? 'An event without a name' : `“${name}”`;
    if (String(component.getFirstPropertyValue('status') ?? '').toUpperCase() === 'CANCELLED') {
      leftOut.push(`${called} was cancelled.`);
      continue;
    }
    if (!event.startDate?.isDate) {
      leftOut.push(`${called} is at a time of day.`);
      continue;
    }
    // An event without an end lasts its day (RFC 5545 §3.6.1); the end is not included.
    const length = Math.max(1, Math.round((event.duration?.toSeconds() ?? 86_400) / 86_400));
    if (length > LONGEST) {
      leftOut.push(`${called} lasts ${length} days.`);
      continue;
    }
    if (!event.isRecurring()) {
      take(civil(event.startDate), length, name);
      continue;
    }
    const steps = event.iterator();
    for (let next = steps.next(), n = 0; next && n < 5_000 && civil(next) <= until; next = steps.next(), n++) {
      take(civil(next), length, name);
    }
  }
  if (events.length > MOST_EVENTS) leftOut.push(`Only the first ${MOST_EVENTS} events were read.`);
  return {
    days: [...days].sort(([a], [b]) => (a < b ? -1 : 1)).map(([date, name]) => ({ date, name })),
    leftOut,
  };
}
