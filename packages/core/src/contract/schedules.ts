import { z } from 'zod';
import { MOST_READERS } from '../bounds/index.ts';
import { WORKING_DAY_RULES } from '../calendar/index.ts';
import { assumedSchema } from '../report/assumptions.ts';
import { filterSchema } from '../report/filterSchema.ts';
import { civilDate, comparisonSpec, periodSpec, ruleSpec, wallTime, zoneName } from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, range, route } from './route.ts';

/** When a schedule runs and what each run covers: all that a look ahead needs. */
const plan = {
  rule: ruleSpec,
  time: wallTime,
  zone: zoneName,
  firstDate: civilDate,
  lastDate: civilDate.nullable(),
  /** Where a run goes that falls on no working day; every day is every day. */
  workingDayRule: z.enum(WORKING_DAY_RULES).default('as is'),
  period: periodSpec,
  comparison: comparisonSpec,
};

export const scheduleInput = z
  .object({
    reportId: z.string(),
    ...plan,
    /** The report's assumptions that are set anew, by key. */
    assumed: assumedSchema.default({}),
    /** What alone is counted, beside the filters of the report and its blocks: dimensions and segments. */
    filter: filterSchema.default([]),
    /** Contacts of the client. */
    readers: z
      .array(z.string())
      .min(1, 'Choose at least one reader.')
      .max(MOST_READERS, `Choose at most ${MOST_READERS} readers.`),
    subject: z.string().trim().min(1, 'Give the mail a subject.').max(200, 'Keep the subject to 200 characters.'),
    message: z
      .string()
      .trim()
      .min(1, 'Say something to the reader.')
      .max(4000, 'Keep the message to 4,000 characters.'),
  })
  .refine((s) => s.rule.freq !== 'daily' || s.workingDayRule === 'as is', {
    message: 'A run of every day stays on its day. Choose every working day instead.',
    path: ['workingDayRule'],
  })
  .refine((s) => s.lastDate === null || s.firstDate <= s.lastDate, {
    message: 'The schedule ends before it begins.',
    path: ['lastDate'],
  });

export type ScheduleInput = z.infer<typeof scheduleInput>;

const schedule = z.object({
  id: z.string(),
  clientId: z.string(),
  reportTitle: z.string(),
  active: z.boolean(),
  /** Since when it sends nothing more, in words; null while it may. */
  ended: z.string().nullable(),
  /** Why it was stopped without a person's doing; null when it was not. */
  stopped: z.string().nullable(),
  input: scheduleInput,
});

/** One run to come: what will go out when, covering what, held against what, to how many. */
const comingRun = z.object({
  nominal: z.string(),
  at: z.string(),
  /** As a clock in the schedule's zone shows it. */
  local: z.object({ date: z.string(), time: z.string() }),
  period: range.extend({ label: z.string() }),
  compared: range.extend({ label: z.string() }).nullable(),
  notes: z.array(z.string()),
});

export type Schedule = z.infer<typeof schedule>;
export type ComingRun = z.infer<typeof comingRun>;

export const scheduleRoutes = {
  'GET /api/clients/:client/schedules': route({
    about: 'The schedules of a client.',
    roles: EVERYONE,
    reply: z.array(schedule),
  }),
  'POST /api/clients/:client/schedules': route({
    about: 'Start a schedule.',
    roles: MANAGERS,
    body: scheduleInput,
    reply: schedule,
  }),
  'POST /api/clients/:client/schedules/look-ahead': route({
    about: 'What a schedule would do, before it is saved.',
    roles: EVERYONE,
    body: z.object({ ...plan, schedule: z.string().optional() }),
    reply: z.object({
      runs: z.array(comingRun),
      /** The dates as a rule of calendars (RFC 5545); null where none can say them. */
      calendarRule: z.string().nullable(),
    }),
  }),
  'GET /api/schedules/:schedule': route({ about: 'One schedule.', roles: EVERYONE, reply: schedule }),
  'PUT /api/schedules/:schedule': route({
    about: 'Change a schedule; dates that were made already are never made again.',
    roles: MANAGERS,
    body: scheduleInput,
    reply: schedule,
  }),
  'PUT /api/schedules/:schedule/active': route({
    about: 'Pause or resume a schedule.',
    roles: MANAGERS,
    body: z.object({ active: z.boolean() }),
    reply: schedule,
  }),
  'POST /api/schedules/:schedule/make': route({
    about: 'Make an edition of the schedule now, for the dates of its next run. It waits to be looked at and sent.',
    roles: MANAGERS,
    reply: z.object({ editionId: z.string() }),
  }),
  'POST /api/schedules/:schedule/test': route({
    about: 'Make an edition of the schedule now and mail it, as its readers would get it, to oneself alone.',
    roles: EVERYONE,
    reply: z.object({ editionId: z.string() }),
  }),
  'DELETE /api/schedules/:schedule': route({
    about: 'End a schedule; its editions stay.',
    roles: MANAGERS,
    reply: done,
  }),
};
