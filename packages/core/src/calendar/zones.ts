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

const CLOCKS = new Map<string, Intl.DateTimeFormat>();

function clockOf(zone: string): Intl.DateTimeFormat {
  const known = CLOCKS.get(zone);
  if (known) return known;
  const digits = '2-digit' as const;
  const clock = new Intl.DateTimeFormat('en-US', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: digits,
    day: digits,
    hour: digits,
    minute: digits,
    second: digits,
  });
  CLOCKS.set(zone, clock);
  return clock;
}

const pad = (n: number, width = 2): string => String(n).padStart(width, '0');

/** Offsets from UTC that were looked up, by zone and minute: days begin at few moments, and are asked for often. */
const OFFSETS = new Map<string, Map<number, number>>();
const MOST_OFFSETS = 20_000;
const MINUTE = 60_000;

/** Milliseconds by which a clock in a zone is ahead of UTC at a time; no clock is set within a minute. */
function offsetAt(ms: number, zone: string): number {
  let known = OFFSETS.get(zone);
  if (!known || known.size >= MOST_OFFSETS) {
    known = new Map();
    OFFSETS.set(zone, known);
  }
  const minute = Math.floor(ms / MINUTE);
  const found = known.get(minute);
  if (found !== undefined) return found;
  const shown = /(\d+)\D+(\d+)\D+(\d+)\D+(\d+)\D+(\d+)\D+(\d+)/.exec(clockOf(zone).format(minute * MINUTE))!;
  const [, month, day, year, hour, min, second] = shown.map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const offset = Date.UTC(year, month - 1, day, hour, min, second) - minute * MINUTE;
  known.set(minute, offset);
  return offset;
}

/** Milliseconds around a time within which clocks are asked whether they are set. */
const AROUND = 24 * 60 * 60 * 1000;

/**
 * The instant at which a wall clock in `zone` shows `date` and `time` (`HH:MM`).
 * A time that the clock jumps over happens at the same distance after the gap's start, one that
 * comes twice happens the first time (SEMANTICS §1).
 * @example instantOf('2026-03-29', '01:30', 'Europe/London') // '2026-03-29T01:30:00Z', shown as 02:30
 */
export function instantOf(date: CivilDate, time: string, zone: string): Instant {
  const shown = Date.parse(`${date}T${time}:00Z`);
  const [before, after] = [shown - AROUND, shown + AROUND].map((ms) => offsetAt(ms, zone)) as [number, number];
  // Where no clock is set nearby, there is one answer, and it is soon found.
  if (before === after) return new Date(shown - before).toISOString().replace('.000Z', 'Z');
  return Temporal.PlainDateTime.from(`${date}T${time}`)
    .toZonedDateTime(zone, { disambiguation: 'compatible' })
    .toInstant()
    .toString();
}

/** What a wall clock in `zone` shows at an instant. */
export function wallClock(at: Instant, zone: string): { date: CivilDate; time: string } {
  const ms = Date.parse(at);
  const shown = new Date(ms + offsetAt(ms, zone));
  const date = `${pad(shown.getUTCFullYear(), 4)}-${pad(shown.getUTCMonth() + 1)}-${pad(shown.getUTCDate())}`;
  return { date, time: `${pad(shown.getUTCHours())}:${pad(shown.getUTCMinutes())}` };
}

/** The instant at which a day begins in `zone`, as it is stored: the first that its clock shows. */
export const startOfDay = (date: CivilDate, zone: string): Instant =>
  new Date(instantOf(date, '00:00', zone)).toISOString();

/** The civil date in `zone` at an instant. */
export const civilDateAt = (at: Instant, zone: string): CivilDate => wallClock(at, zone).date;

/** `at` moved by minutes of elapsed time. */
export const addMinutes = (at: Instant, minutes: number): Instant =>
  new Date(Date.parse(at) + minutes * 60_000).toISOString();
