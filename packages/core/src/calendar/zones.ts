import { Temporal } from 'temporal-polyfill';
import type { CivilDate } from './civilDate.ts';

/** A moment, UTC ISO text: `2026-11-02T08:00:00Z`, with or without a fraction of a second. */
export type Instant = string;

/** True for a zone name that the IANA database knows. */
export function isZone(name: string): boolean {
  if (!/^[A-Za-z]/.test(name)) return false;
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/**
 * The instant at which a wall clock in `zone` shows `date` and `time` (`HH:MM`).
 * A time that the clock jumps over happens at the same distance after the gap's start, one that
 * comes twice happens the first time (SEMANTICS §1).
 * @example instantOf('2026-03-29', '01:30', 'Europe/London') // '2026-03-29T01:30:00Z', shown as 02:30
 */
export function instantOf(date: CivilDate, time: string, zone: string): Instant {
  return Temporal.PlainDateTime.from(`${date}T${time}`)
    .toZonedDateTime(zone, { disambiguation: 'compatible' })
    .toInstant()
    .toString();
}

/** What a wall clock in `zone` shows at an instant. */
export function wallClock(at: Instant, zone: string): { date: CivilDate; time: string } {
  const local = Temporal.Instant.from(at).toZonedDateTimeISO(zone).toPlainDateTime().toString();
  return { date: local.slice(0, 10), time: local.slice(11, 16) };
}

/** The instant at which a day begins in `zone`, as it is stored: the first that its clock shows. */
export const startOfDay = (date: CivilDate, zone: string): Instant =>
  new Date(instantOf(date, '00:00', zone)).toISOString();

/** The civil date in `zone` at an instant. */
export const civilDateAt = (at: Instant, zone: string): CivilDate => wallClock(at, zone).date;

/** `at` moved by minutes of elapsed time. */
export const addMinutes = (at: Instant, minutes: number): Instant =>
  new Date(Date.parse(at) + minutes * 60_000).toISOString();
