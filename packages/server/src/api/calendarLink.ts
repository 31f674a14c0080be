import { createHash, randomBytes } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import ICAL from 'ical.js';
import { calendarLinkSince, endCalendarLink, memberOfCalendarLink, setCalendarLink } from '../store/calendarLinks.ts';
import { record } from '../store/ledger.ts';
import { memberById } from '../store/members.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Handlers } from './context.ts';
import type { Reading } from './reads/reading.ts';
import { showRuns, spanOf } from './spans.ts';

/** Minutes ahead that the calendar shows. */
const AHEAD = 100 * 24 * 60;
/** How long a run stands in a day, in minutes. */
const LENGTH = 15;
/** Events of one calendar. */
const MOST = 2_000;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('base64url');

/** The member whose calendar a secret opens; null for one that opens nothing, or no more. */
export async function memberOfCalendar(db: Store, secret: string) {
  const id = await memberOfCalendarLink(db, hashOf(secret));
  const member = id === null ? null : await memberById(db, id);
  return member?.state === 'active' ? member : null;
}

/** What goes out in the next hundred days for the clients that a member sees, as iCalendar (RFC 5545). */
export async function calendarOf(
  api: Reading,
  member: { id: string; role: 'owner' | 'manager' | 'analyst' | 'reviewer' },
) {
  const now = api.clock.now();
  const span = await spanOf(api, now, addMinutes(now, AHEAD), { visibility: { member, working: true } });
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('prodid', '-//Chronicon//Almanac//EN');
  calendar.addPropertyWithValue('name', 'Report deliveries');
  const instant = (at: string) => ICAL.Time.fromJSDate(new Date(at), true);
  for (const run of await showRuns(api, span, span.runs.slice(0, MOST))) {
    const event = new ICAL.Component('vevent');
    // The same run is the same event, wherever it is moved to.
    event.addPropertyWithValue('uid', `${run.scheduleId}.${run.nominal}@chronicon`);
    event.addPropertyWithValue('dtstamp', instant(now));
    event.addPropertyWithValue('dtstart', instant(run.at));
    event.addPropertyWithValue('dtend', instant(addMinutes(run.at, LENGTH)));
    event.addPropertyWithValue('summary', `${run.around.client.name}: ${run.title}`);
    const said = [
      `Covers ${run.around.english.range(run.period)}`,
      `To ${run.people.map((p) => p.name).join(', ') || 'nobody'}`,
      ...run.warnings,
    ];
    event.addPropertyWithValue('description', said.join('\n'));
    calendar.addSubcomponent(event);
  }
  return `${calendar.toString()}\r\n`;
}

export const calendarLinkHandlers: Handlers<Extract<RouteName, `${string} /api/calendar-link`>> = {
  'GET /api/calendar-link': async ({ api, session: { member } }) => {
    return { since: await calendarLinkSince(api.store, member.id) };
  },

  'POST /api/calendar-link': async ({ api, session: { member } }) => {
    const secret = randomBytes(24).toString('base64url');
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await setCalendarLink(tx, member.id, { hash: hashOf(secret), made_at: at });
      await record(tx, { at, actor: member.id, action: 'calendar.linked', subject: member.id });
    });
    return { url: new URL(`/api/calendar/${secret}.ics`, api.config.url ?? 'http://localhost').href };
  },

  'DELETE /api/calendar-link': async ({ api, session: { member } }) => {
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await endCalendarLink(tx, member.id);
      await record(tx, { at, actor: member.id, action: 'calendar.unlinked', subject: member.id });
    });
    return { done: true };
  },
};
