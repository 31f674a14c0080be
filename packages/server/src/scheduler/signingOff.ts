import { civilDateAt, instantOf } from '@chronicon/core/calendar';
import type { EditionRow } from '../store/editions.ts';
import type { StoredSchedule } from '../store/schedules.ts';

/**
 * Until when an edition of a schedule waits to be signed off, UTC ISO text: the time of its rule on the day on which it
 * is due by the schedule's clock, never before it is due; null where it waits however long, or asks nobody.
 */
export function asksUntil(s: Pick<StoredSchedule, 'signOff' | 'zone'>, e: Pick<EditionRow, 'due_at'>): string | null {
  if (s.signOff.rule !== 'until') return null;
  const until = new Date(instantOf(civilDateAt(e.due_at, s.zone), s.signOff.until, s.zone)).toISOString();
  return until > e.due_at ? until : e.due_at;
}
