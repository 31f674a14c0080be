import { rruleOf, wallClock } from '@chronicon/core/calendar';
import type { ComingRun } from '@chronicon/core/contract';
import { repeatOf } from '../scheduler/plan.ts';
import { sameDates } from '../store/changeSchedule.ts';
import type { StoredClient } from '../store/clients.ts';
import { reportTitles } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule, schedulesOf } from '../store/schedules.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import type { Api } from './context.ts';
import { newValues } from './groupValues.ts';
import { comingRuns, type Plan, readersOfPlan, type SameDay } from './lookAhead.ts';

/** Runs that are looked at ahead. */
const AHEAD = 12;
/** Runs of each other schedule that are looked at for days that two reports share. */
const MOST_SAME_DAY = 60;

/** Says of a run that a change of the dates would have it cover what was covered already. */
async function noteRepeats(
  api: Api,
  saved: StoredSchedule,
  plan: Plan,
  client: StoredClient,
  runs: ComingRun[],
): Promise<ComingRun[]> {
  const changedAt = sameDates(saved, plan) ? saved.ruleChangedAt : api.clock.now();
  const changed = { ...saved, ...plan, ruleChangedAt: changedAt };
  return Promise.all(
    runs.map(async (run) => {
      const repeat = run.skipped ? null : await repeatOf(api.store, changed, client, run.nominal);
      if (repeat === null) return run;
      const text = `It starts as skipped. ${repeat}`;
      return { ...run, warnings: [{ kind: 'repeat' as const, text }, ...run.warnings] };
    }),
  );
}

/** Other reports that a client's readers get on the days to come, but those of one schedule. */
async function sameDayOf(api: Api, around: ClientAround, self: string | undefined): Promise<SameDay> {
  const others = (await schedulesOf(api.store, around.client.id)).filter((s) => s.id !== self && s.state === 'active');
  const runs = await nextRunsOf(
    api.store,
    others.map((s) => s.id),
    api.clock.now(),
    MOST_SAME_DAY,
  );
  const titles = await reportTitles(
    api.store,
    others.map((s) => s.reportId),
  );
  const days = new Map<string, { reader: string; id: string; title: string }[]>();
  for (const s of others) {
    const title = titles.get(s.reportId) ?? '';
    const people = peopleAround(around, readersOfPlan(s));
    for (const run of runs.get(s.id)!) {
      const { date } = wallClock(run.at, around.zone);
      const found = people.map((p) => ({ reader: p.name, id: p.id, title }));
      days.set(date, [...(days.get(date) ?? []), ...found]);
    }
  }
  return (date) => days.get(date) ?? [];
}

/** The next runs of a schedule as somebody is writing it, with what one ought to know of each, and its rule for calendars. */
export async function runsAhead(
  api: Api,
  client: StoredClient,
  plan: Plan,
  saved: StoredSchedule | null,
): Promise<{ runs: ComingRun[]; calendarRule: string | null }> {
  const around = (await aroundOf(api, [client.id])).get(client.id)!;
  const unknown = plan.groups ? await newValues(api, client.id, plan.groups) : [];
  const sameDay = await sameDayOf(api, around, saved?.id);
  const runs = comingRuns({ ...plan, unknown }, around, api.clock.now(), AHEAD, sameDay);
  return {
    runs: saved ? await noteRepeats(api, saved, plan, client, runs) : runs,
    calendarRule: rruleOf(recurrenceOf(plan, around.agency, client.weekStart)),
  };
}
