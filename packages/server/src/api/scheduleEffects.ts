import { addMinutes, wallClock } from '@chronicon/core/calendar';
import type { ScheduleEffect, ScheduleInput } from '@chronicon/core/contract';
import { runsOf } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { followingOf } from '../scheduler/follow.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import type { StoredClient } from '../store/clients.ts';
import { unsentOf } from '../store/editions.ts';
import { recurrenceOf, type StoredSchedule } from '../store/schedules.ts';
import type { Api } from './context.ts';
import { changesOf } from './scheduleHistory.ts';

/** Minutes ahead within which runs are counted. */
const AHEAD = 100 * 24 * 60;
/** Parts that change neither pages nor mails. */
const ASIDE = ['notified', 'patience', 'firstDate', 'lastDate'];

/** On which runs and waiting editions a change of a schedule would act (SEMANTICS §10). */
export async function effectsOf(
  api: Api,
  schedule: StoredSchedule,
  client: StoredClient,
  input: ScheduleInput,
): Promise<{ runs: { before: number; after: number }; editions: ScheduleEffect[] }> {
  const now = api.clock.now();
  const agency = await agencyFor(api.store, client);
  const english = formatterOf('en-GB', client.currency);
  const counted = (s: ScheduleInput) =>
    runsOf(recurrenceOf(s, agency, client.weekStart), s, client, {
      after: now,
      until: addMinutes(now, AHEAD),
      least: 0,
    }).length;
  const after = { ...schedule, ...input };
  const isDrawnAnew = changesOf(schedule, input).some((c) => !ASIDE.includes(c.part));
  const editions: ScheduleEffect[] = [];
  for (const e of await unsentOf(api.store, schedule.id)) {
    const follows = followingOf(after, agency, client, e, now);
    const label = `${e.title}, ${english.date(e.nominal!)}`;
    const becomes = (text: string) => editions.push({ editionId: e.id, label, at: e.due_at, becomes: text });
    if (follows.kind === 'left-out') becomes('is skipped');
    else if (follows.kind === 'moves' && follows.passed) becomes('is put on hold: its new time has passed');
    else if (follows.kind === 'moves') {
      const { date, time } = wallClock(follows.dueAt, input.zone);
      becomes(`is sent at ${time} on ${english.date(date)}`);
    } else if (isDrawnAnew) becomes('is regenerated before it is sent');
  }
  return { runs: { before: counted(schedule), after: counted(after) }, editions };
}
