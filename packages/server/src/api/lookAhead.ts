import { addDays, lengthOf, occurrences, wallClock } from '@chronicon/core/calendar';
import type { ComingRun } from '@chronicon/core/contract';
import { settleDates } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import type { StoredClient } from '../store/clients.ts';
import type { Agency } from '../store/members.ts';
import { recurrenceOf, type StoredSchedule } from '../store/schedules.ts';

/** When services have finished the day before, by a client's clock; and from when on it is safe to send. */
const ARRIVAL = '05:20';
const EARLY = '06:00';

type Plan = Pick<StoredSchedule, 'rule' | 'time' | 'zone' | 'firstDate' | 'lastDate' | 'period' | 'comparison'> & {
  skip?: StoredSchedule['skip'] | undefined;
  workingDayRule?: StoredSchedule['workingDayRule'];
};

/** The next `count` runs of a schedule, saved or not, with what each covers. Labels are English, for the screen. */
export function comingRuns(plan: Plan, client: StoredClient, agency: Agency, now: string, count: number): ComingRun[] {
  const english = formatterOf('en-GB', client.currency);
  const out: ComingRun[] = [];
  for (const o of occurrences(recurrenceOf(plan, agency, client.weekStart), addDays(now.slice(0, 10), -15))) {
    if (Date.parse(o.at) <= Date.parse(now)) continue;
    const { period, compared } = settleDates(plan.period, plan.comparison, o.nominal, client);
    const notes: string[] = [];
    if (o.runs !== o.nominal) notes.push(`Moved from ${english.date(o.nominal)}, which is no working day.`);
    // Months differ by a day or three all the time; more than that is worth a word.
    if (compared && Math.abs(lengthOf(period) - lengthOf(compared)) > 3) {
      notes.push(`${lengthOf(period)} days against ${lengthOf(compared)}.`);
    }
    const holiday = agency.namedHolidays.find((h) => h.date === o.runs);
    if (holiday) {
      const whose = client.calendar === '' ? 'the agency' : 'the client';
      notes.push(`This is a holiday of ${whose}${holiday.name && `: ${holiday.name}`}.`);
    }
    const [{ date: localDate, time }, dayBefore] = [
      wallClock(o.at, client.zone),
      addDays(wallClock(o.at, client.zone).date, -1),
    ];
    // Services finish a day in the early morning: sent before that, a period that ended the evening before has a hole.
    if (period.to === dayBefore && time < EARLY) {
      notes.push(
        `Figures of the last day, ${english.shortRange({ from: period.to, to: period.to })}, usually arrive at ${ARRIVAL}: sent at ${time}, the edition would be held. Send it after ${EARLY}.`,
      );
    }
    // A day's figures are there early the next morning; a period that ends with the day of sending is not over.
    if (period.to >= localDate) notes.push('The period is not over by then: the edition would be held.');
    out.push({
      nominal: o.nominal,
      at: o.at,
      local: wallClock(o.at, plan.zone),
      period: { ...period, label: english.range(period) },
      compared: compared && { ...compared, label: english.range(compared) },
      notes,
    });
    if (out.length === count) break;
  }
  return out;
}
