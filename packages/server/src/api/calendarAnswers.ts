import { LRUCache } from 'lru-cache';
import { changeMark } from '../store/changeMark.ts';
import type { Member } from '../store/members.ts';
import type { Api } from './context.ts';

/** Milliseconds for which a calendar is good while nothing changes: runs come nearer all the same. */
const GOOD_FOR = 5 * 60_000;
/** Members whose calendars are kept. */
const MOST = 200;

/**
 * Calendars of members, each worked out once for as long as nothing has changed: programs ask for them every few minutes, and from
 * several devices at once.
 */
export function createCalendarAnswers(
  api: Pick<Api, 'store' | 'reads' | 'clock'>,
): (member: Member) => Promise<Buffer> {
  const kept = new LRUCache<string, { until: number; body: Promise<Buffer> }>({ max: MOST });
  return async (member) => {
    // Whom one sees is among what the mark counts.
    const key = `${member.id} ${member.role} ${await changeMark(api.store)}`;
    const now = api.clock.steady();
    const known = kept.get(key);
    if (known && now < known.until) return known.body;
    const body = api.reads
      .run({ name: 'calendar.ics', query: {}, member, now: api.clock.now() })
      .then((bytes) => Buffer.from(bytes));
    kept.set(key, { until: now + GOOD_FOR, body });
    body.catch(() => kept.delete(key));
    return body;
  };
}
