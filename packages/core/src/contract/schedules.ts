import { z } from 'zod';
import { MOST_BLOCKS } from '../bounds/index.ts';
import { WORKING_DAY_RULES } from '../calendar/index.ts';
import { language as clientLanguage } from '../client/settings/language.ts';
import { assumedSchema } from '../report/assumptions.ts';
import { filterSchema } from '../report/filterSchema.ts';
import { mailDesign, PLAIN_MAIL } from '../report/mailDesign.ts';
import { patienceSpec } from '../report/patience.ts';
import { FORMATS, MAILINGS, scheduleReaders } from '../report/readers.ts';
import { readersGroup, readersGroups } from '../report/readersGroups.ts';
import { signOffSpec } from '../report/signOff.ts';
import {
  civilDate,
  comparisonSpec,
  exceptionSpec,
  exceptionsSpec,
  periodSpec,
  ruleSpec,
  wallTime,
  zoneName,
} from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, range, route } from './route.ts';

/** When a schedule runs and what each run covers. */
const plan = {
  rule: ruleSpec,
  time: wallTime,
  zone: zoneName,
  firstDate: civilDate,
  lastDate: civilDate.nullable(),
  /** Where a run goes that falls on no working day; every day is every day. */
  workingDayRule: z.enum(WORKING_DAY_RULES).default('as is'),
  exceptions: exceptionsSpec.default({}),
  period: periodSpec,
  comparison: comparisonSpec,
};

/** Characters of a schedule that is not started yet. */
const MOST_OF_DRAFT = 200_000;

/** What members may be told of. */
export const NOTIFIED_OF = ['made', 'sent', 'held'] as const;

/** What a schedule says; one that is stored may break a rule that holds for what is typed in. */
export const scheduleSays = z.object({
  reportId: z.string(),
  ...plan,
  /** The report's assumptions that are set anew, by key. */
  assumed: assumedSchema.default({}),
  /** What alone is counted, beside the filters of the report and its blocks: dimensions and segments. */
  filter: filterSchema.default([]),
  /** Pages of the report, by id; null for all that it has. */
  pages: z.array(z.string().max(60)).min(1, 'Choose at least one page.').max(60).nullable().default(null),
  /** Blocks of the report that it leaves out, by id: what its filter cannot apply to, say. */
  leftOut: z.array(z.string().max(60)).max(MOST_BLOCKS).default([]),
  /** The locale of pages and mails; null for the client's. */
  language: clientLanguage.schema.nullable().default(null),
  formats: z.array(z.enum(FORMATS)).max(FORMATS.length).default([]),
  /** What the file is called, with merge fields; empty: client, report and dates. */
  fileName: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
  signOff: signOffSpec.default({ rule: 'none' }),
  patience: patienceSpec.default(0),
  readers: scheduleReaders.default([]),
  /** It has no readers, and none are wanted: its editions are kept in the archive. */
  archive: z.boolean().default(false),
  mailing: z.enum(MAILINGS).default('each'),
  groups: readersGroups.nullable().default(null),
  notified: z
    .array(z.strictObject({ member: z.string().max(60), of: z.array(z.enum(NOTIFIED_OF)).min(1) }))
    .max(50, 'Choose at most 50 members.')
    .default([]),
  /** How the mail is made up around its message. */
  mail: mailDesign.default(PLAIN_MAIL),
  subject: z.string().trim().min(1, 'Enter a subject.').max(200, 'Maximum 200 characters.'),
  message: z.string().trim().min(1, 'Enter a message.').max(4000, 'Maximum 4,000 characters.'),
});

export const scheduleInput = scheduleSays
  .refine((s) => s.rule.freq !== 'daily' || s.workingDayRule === 'as is', {
    message: 'Daily runs can’t move. Choose every working day instead.',
    path: ['workingDayRule'],
  })
  .refine((s) => s.lastDate === null || s.firstDate <= s.lastDate, {
    message: 'The end date is before the start date.',
    path: ['lastDate'],
  })
  .refine((s) => s.archive || s.readers.length > 0 || s.groups !== null, {
    message: 'Add a reader or choose “archive only”.',
    path: ['readers'],
  })
  .refine((s) => s.signOff.rule !== 'until' || s.signOff.until >= s.time, {
    message: 'The approval deadline can’t be before the send time.',
    path: ['signOff.until'],
  });

export type ScheduleInput = z.infer<typeof scheduleInput>;

/** A block that a filter cannot apply to. */
const filterGap = z.object({
  block: z.string(),
  /** What it is called on its page, and which page that is. */
  name: z.string(),
  page: z.string(),
  /** Which of its figures no feed knows by what. */
  why: z.string(),
});
export type FilterGapRow = z.infer<typeof filterGap>;

/** What a schedule chooses beyond its dates, report, readers and mail, where nothing is chosen. */
export const PLAIN_CHOICES = {
  workingDayRule: 'as is',
  exceptions: {},
  assumed: {},
  filter: [],
  pages: null,
  leftOut: [],
  language: null,
  formats: [],
  fileName: '',
  signOff: { rule: 'none' },
  patience: 0,
  archive: false,
  mailing: 'each',
  groups: null,
  notified: [],
  mail: PLAIN_MAIL,
} satisfies Partial<ScheduleInput>;

const schedule = z.object({
  id: z.string(),
  clientId: z.string(),
  reportTitle: z.string(),
  active: z.boolean(),
  /** Since when it sends nothing more, in words; null while it may. */
  ended: z.string().nullable(),
  /** Why it was stopped without a person's doing; null when it was not. */
  stopped: z.string().nullable(),
  /** The day on which one that is paused goes on by itself. */
  resumesOn: z.string().nullable(),
  /** The last date of one that ends within the next weeks; null for any other. */
  endsSoon: z.string().nullable(),
  input: scheduleSays,
});

/** What somebody ought to know of a run before it goes. */
export const RUN_WARNINGS = [
  'holiday',
  'weekend',
  'late-data',
  'unfinished',
  'old',
  'same-day',
  'consent',
  'guard',
  'nobody',
  'new-value',
  'length',
  'repeat',
] as const;
const runWarning = z.object({ kind: z.enum(RUN_WARNINGS), text: z.string() });
export type RunWarning = z.infer<typeof runWarning>;

/** One run to come: what will go out when, covering what, held against what, to whom. */
const comingRun = z.object({
  nominal: z.string(),
  at: z.string(),
  /** As a clock in the schedule's zone shows it. */
  local: z.object({ date: z.string(), time: z.string() }),
  period: range.extend({ label: z.string() }),
  compared: range.extend({ label: z.string() }).nullable(),
  readers: z.int(),
  /** It is left out by a person. */
  skipped: z.boolean(),
  /** Why it is on another day or time than its rule says, or covers other dates. */
  notes: z.array(z.string()),
  warnings: z.array(runWarning),
});

export type Schedule = z.infer<typeof schedule>;
export type ComingRun = z.infer<typeof comingRun>;

const effect = z.object({
  editionId: z.string(),
  label: z.string(),
  at: z.string(),
  /** What becomes of it, in words. */
  becomes: z.string(),
});
export type ScheduleEffect = z.infer<typeof effect>;

export const scheduleHistoryEntry = z.object({
  at: z.string(),
  who: z.string(),
  action: z.string(),
  /** Parts of the schedule before and after; absent where it was not changed by hand. */
  changed: z.array(z.object({ part: z.string(), before: z.unknown(), after: z.unknown() })),
});
export type ScheduleHistoryEntry = z.infer<typeof scheduleHistoryEntry>;

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
    about: 'Preview a schedule before it is saved.',
    roles: EVERYONE,
    body: z.object({
      ...plan,
      reportId: z.string().default(''),
      readers: scheduleReaders.default([]),
      archive: z.boolean().default(false),
      groups: readersGroups.nullable().default(null),
      signOff: signOffSpec.default({ rule: 'none' }),
      schedule: z.string().optional(),
    }),
    reply: z.object({
      runs: z.array(comingRun),
      /** The dates as a rule of calendars (RFC 5545); null where none can say them. */
      calendarRule: z.string().nullable(),
    }),
  }),
  'GET /api/clients/:client/schedule-draft': route({
    about: 'Your unfinished schedule of a client; null for none.',
    roles: MANAGERS,
    reply: z.object({
      draft: z.object({ input: z.record(z.string(), z.unknown()), savedAt: z.string() }).nullable(),
    }),
  }),
  'PUT /api/clients/:client/schedule-draft': route({
    about: 'Save an unfinished schedule. Nothing is checked or sent.',
    roles: MANAGERS,
    body: z.object({
      input: z
        .record(z.string().max(40), z.unknown())
        .refine((input) => JSON.stringify(input).length <= MOST_OF_DRAFT, 'This is too long to save.'),
    }),
    reply: done,
  }),
  'DELETE /api/clients/:client/schedule-draft': route({
    about: 'Discard your unfinished schedule.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/clients/:client/schedules/filter-gaps': route({
    about: 'The blocks a schedule’s filter can’t apply to, with the reason, before it is saved.',
    roles: EVERYONE,
    body: z.object({
      reportId: z.string(),
      period: periodSpec,
      comparison: comparisonSpec,
      assumed: assumedSchema.default({}),
      filter: filterSchema.default([]),
      pages: z.array(z.string().max(60)).max(60).nullable().default(null),
      groups: readersGroups.nullable().default(null),
    }),
    reply: z.object({ gaps: z.array(filterGap) }),
  }),
  'POST /api/clients/:client/groups': route({
    about: 'Read groups of readers from CSV: value, address, greeting and file name in each row. Nothing is changed.',
    roles: MANAGERS,
    body: z.object({
      by: readersGroups.shape.by,
      text: z
        .string()
        .min(1, 'Choose a file, or paste rows.')
        .max(1024 * 1024, 'Too large: import at most one megabyte at a time.'),
    }),
    reply: z.object({
      groups: z.array(readersGroup),
      problems: z.array(z.object({ line: z.int(), text: z.string() })),
    }),
  }),
  'GET /api/schedules/:schedule': route({ about: 'One schedule.', roles: EVERYONE, reply: schedule }),
  'PUT /api/schedules/:schedule': route({
    about: 'Change a schedule; an edition is never created twice for a date.',
    roles: MANAGERS,
    body: scheduleInput,
    reply: schedule,
  }),
  'POST /api/schedules/:schedule/effects': route({
    about: 'The runs and pending editions a change would affect, before it is saved.',
    roles: EVERYONE,
    body: scheduleInput,
    reply: z.object({
      /** Runs to come within the next 100 days, before and after. */
      runs: z.object({ before: z.int(), after: z.int() }),
      editions: z.array(effect),
    }),
  }),
  'GET /api/schedules/:schedule/history': route({
    about: 'The history of a schedule, newest first.',
    roles: EVERYONE,
    reply: z.array(scheduleHistoryEntry),
  }),
  'PUT /api/schedules/:schedule/runs/:nominal': route({
    about: 'Skip one run, move it, or change the dates it covers; without any of these, reset it.',
    roles: MANAGERS,
    body: exceptionSpec,
    reply: schedule,
  }),
  'PUT /api/schedules/:schedule/active': route({
    about: 'Pause a schedule, indefinitely or until a date, or resume it.',
    roles: MANAGERS,
    body: z.object({ active: z.boolean(), resumesOn: civilDate.nullable().default(null) }),
    reply: schedule,
  }),
  'POST /api/schedules/:schedule/make': route({
    about: 'Create an edition of the schedule now, for the dates of its next or previous run. It needs review.',
    roles: MANAGERS,
    body: z.object({ of: z.enum(['next', 'last']).default('next') }),
    reply: z.object({ editionId: z.string() }),
  }),
  'POST /api/schedules/:schedule/test': route({
    about: 'Create a test edition of the schedule and email it to yourself only.',
    roles: EVERYONE,
    reply: z.object({ editionId: z.string() }),
  }),
  'DELETE /api/schedules/:schedule': route({
    about: 'End a schedule; its editions stay.',
    roles: MANAGERS,
    reply: done,
  }),
};
