import { z } from 'zod';
import { MOST_AT_ONCE, MOST_FOLLOWING } from '../bounds/index.ts';
import { scheduleReaders } from '../report/readers.ts';
import { signOffSpec } from '../report/signOff.ts';
import { civilDate, wallTime, zoneName } from '../report/specs.ts';
import { scopeQuery } from './clients.ts';
import { EDITION_STATES } from './editions.ts';
import { done, EVERYONE, MANAGERS, route } from './route.ts';
import { mailAddress } from './session.ts';

/** What of the visible clients a question is about. */
const visibility = { client: z.string().max(60).optional(), scope: scopeQuery };
const page = z.coerce.number().int().min(1).max(100_000).default(1);
const text = z.string().trim().max(100).default('');

/** Weeks that the calendar shows. */
export const ALMANAC_WEEKS = [5, 13] as const;

/** A run or an edition as the calendar shows it. */
const mark = z.object({
  key: z.string(),
  scheduleId: z.string().nullable(),
  nominal: z.string().nullable(),
  editionId: z.string().nullable(),
  /** As the client's clock shows it. */
  date: z.string(),
  time: z.string(),
  at: z.string(),
  /** The same on the schedule's clock, by which it is moved; null for what was made by hand. */
  clock: z.object({ date: z.string(), time: z.string() }).nullable(),
  title: z.string(),
  /** Of a run that is left out: `skipped`. */
  state: z.enum(EDITION_STATES),
  period: z.string(),
  readers: z.array(z.string()),
  /** A person moved it, or gave it other dates. */
  changed: z.boolean(),
  /** It is not on its way yet, so that it can be moved. */
  movable: z.boolean(),
  warnings: z.array(z.string()),
});
export type AlmanacMark = z.infer<typeof mark>;

const plannedRow = z.object({
  at: z.string(),
  date: z.string(),
  time: z.string(),
  zone: z.string(),
  clientId: z.string(),
  clientName: z.string(),
  title: z.string(),
  period: z.string(),
  compared: z.string(),
  readers: z.array(z.string()),
  warnings: z.array(z.string()),
});

export const SCHEDULE_STATES = ['runs', 'paused', 'over'] as const;
const scheduleRow = z.object({
  id: z.string(),
  clientId: z.string(),
  clientName: z.string(),
  colour: z.string(),
  reportId: z.string(),
  title: z.string(),
  manager: z.string(),
  /** Rule, time and the rest as a sentence's parts need them. */
  rule: z.unknown(),
  time: z.string(),
  zone: z.string(),
  period: z.unknown(),
  signOff: signOffSpec,
  readers: z.array(z.string()),
  groups: z.int(),
  archive: z.boolean(),
  state: z.enum(SCHEDULE_STATES),
  /** Why it is paused, or since when it is over; empty for one that runs. */
  why: z.string(),
  lastDate: z.string().nullable(),
  endsSoon: z.boolean(),
  last: z.object({ at: z.string(), state: z.enum(EDITION_STATES), editionId: z.string() }).nullable(),
  next: z.string().nullable(),
  editions: z.int(),
});
export type ScheduleRow = z.infer<typeof scheduleRow>;

/** Somebody, by the address or as a member; what they get, and by which way. */
const person = z.object({
  /** An address, or a member's id. */
  key: z.string(),
  name: z.string(),
  email: z.string(),
  member: z.boolean(),
  /** Why nothing is sent to them, in words. */
  stopped: z.string().nullable(),
  gets: z.array(
    z.object({
      scheduleId: z.string(),
      clientId: z.string(),
      clientName: z.string(),
      title: z.string(),
      rule: z.unknown(),
      active: z.boolean(),
      /** The value whose edition it is, and the list by which it comes. */
      group: z.string().nullable(),
      list: z.string().nullable(),
      line: z.enum(['to', 'cc', 'bcc']),
    }),
  ),
});
export type WhoGets = z.infer<typeof person>;

const name = z.string().trim().min(1, 'Enter a name.').max(120, 'Maximum 120 characters.');
/** Somebody who is to read: a member, or a person at a client by name and address. */
const somebody = z.union([
  z.strictObject({ member: z.string().max(60) }),
  z.strictObject({
    email: mailAddress,
    firstName: name,
    lastName: z.string().trim().max(120, 'Maximum 120 characters.').default(''),
  }),
]);
export type Somebody = z.infer<typeof somebody>;
/** Somebody who reads at present: a member's id, or an address. */
const reading = z.string().min(1).max(200);

/** What is done with many schedules at once. */
export const bulkAct = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('pause'), resumesOn: civilDate.nullable() }),
  z.strictObject({ do: z.literal('resume') }),
  z.strictObject({ do: z.literal('extend'), lastDate: civilDate.nullable() }),
  z.strictObject({ do: z.literal('retime'), time: wallTime, zone: zoneName.nullable() }),
  z.strictObject({ do: z.literal('signOff'), signOff: signOffSpec }),
  z.strictObject({ do: z.literal('add'), who: somebody }),
  z.strictObject({ do: z.literal('drop'), from: reading }),
  z.strictObject({
    do: z.literal('replace'),
    from: reading,
    who: somebody,
    /** Whoever read before is marked as having left. */
    left: z.boolean().default(false),
    /** The new address is right although it is outside a client's usual domains. */
    outside: z.boolean().default(false),
  }),
  z.strictObject({ do: z.literal('end') }),
  z.strictObject({ do: z.literal('make') }),
]);
export type BulkAct = z.infer<typeof bulkAct>;

const bulkRow = z.object({
  /** A schedule, or a list. */
  id: z.string(),
  kind: z.enum(['schedule', 'list']),
  clientId: z.string(),
  clientName: z.string(),
  title: z.string(),
  before: z.string(),
  after: z.string(),
  /** Why it stays as it is; null where it changes. */
  problem: z.string().nullable(),
});
export type BulkRow = z.infer<typeof bulkRow>;

const bulkDone = z.object({
  id: z.string(),
  at: z.string(),
  who: z.string(),
  what: z.string(),
  count: z.int(),
  undone: z.boolean(),
});
export type BulkDone = z.infer<typeof bulkDone>;

export const planningRoutes = {
  'GET /api/almanac': route({
    about: 'What is sent on which day, by client: five weeks or a quarter.',
    roles: EVERYONE,
    query: z.object({
      ...visibility,
      from: civilDate.optional(),
      weeks: z.coerce
        .number()
        .pipe(z.union([z.literal(5), z.literal(13)]))
        .default(5),
      text,
      /** Clients of which nothing is planned in these weeks alone. */
      empty: z.stringbool().default(false),
      page,
    }),
    reply: z.object({
      from: z.string(),
      to: z.string(),
      today: z.string(),
      /** Days that are no working days of the agency. */
      free: z.array(z.string()),
      clients: z.array(
        z.object({ id: z.string(), name: z.string(), colour: z.string(), zone: z.string(), marks: z.array(mark) }),
      ),
      total: z.int(),
      /** Visible clients of which nothing is planned in these weeks. */
      empty: z.int(),
      pageSize: z.int(),
    }),
  }),
  'GET /api/look-ahead': route({
    about: 'What would be sent between two dates: periods, readers and warnings.',
    roles: EVERYONE,
    query: z.object({ ...visibility, from: civilDate, to: civilDate, page }),
    reply: z.object({ rows: z.array(plannedRow), total: z.int(), pageSize: z.int() }),
  }),
  'GET /api/schedules': route({
    about: 'All visible schedules, filtered.',
    roles: EVERYONE,
    query: z.object({
      ...visibility,
      /** A part of the client's name or of the report's title. */
      text,
      /** A part of a reader's name or address. */
      reader: text,
      rhythm: z.enum(['daily', 'workdays', 'weekly', 'monthly', 'quarterly', 'yearly', 'once']).optional(),
      manager: z.string().max(60).optional(),
      state: z.enum(SCHEDULE_STATES).optional(),
      ending: z.stringbool().default(false),
      page,
    }),
    reply: z.object({
      schedules: z.array(scheduleRow),
      /** Ids of all that were found, for doing something with all of them. */
      all: z.array(z.string()),
      total: z.int(),
      pageSize: z.int(),
    }),
  }),
  'GET /api/who-gets-what': route({
    about: 'Who gets which reports, and why.',
    roles: EVERYONE,
    query: z.object({ ...visibility, text, page }),
    reply: z.object({ people: z.array(person), total: z.int(), pageSize: z.int() }),
  }),
  'POST /api/schedules/many': route({
    about: 'Change many schedules: a preview, or, with its hash, the change.',
    roles: MANAGERS,
    body: z.object({
      /** Null for all that the member sees: somebody is dropped or replaced wherever they read. */
      schedules: z
        .array(z.string().max(60))
        .min(1, 'Choose a schedule.')
        .max(MOST_AT_ONCE, `Choose at most ${MOST_AT_ONCE.toLocaleString('en-GB')}.`)
        .nullable(),
      act: bulkAct,
      /** What the preview was called; left out, it is only looked at. */
      seen: z.string().max(100).nullable().default(null),
    }),
    reply: z.object({
      seen: z.string(),
      /** What was done, to be undone by; null while it was only looked at. */
      done: z.string().nullable(),
      rows: z.array(bulkRow),
      changes: z.int(),
      /** Mails that were already sent to the reader who was replaced, or may have been, in words: the new reader does not get those. */
      late: z.array(z.string()),
      /** What somebody else changed while it was done, by name: it stays as it is. */
      left: z.array(z.string()),
    }),
  }),
  'GET /api/schedules/many': route({
    about: 'Recent bulk changes.',
    roles: EVERYONE,
    reply: z.array(bulkDone),
  }),
  'POST /api/schedules/many/:act/undo': route({
    about: 'Undo a bulk change; whatever changed since stays and is named.',
    roles: MANAGERS,
    reply: z.object({ undone: z.int(), kept: z.array(z.string()) }),
  }),
  'GET /api/schedules/:schedule/series': route({
    about: 'Clients with a tag that have the same schedule, and those that could.',
    roles: EVERYONE,
    query: z.object({ tag: z.string().max(40).default('') }),
    reply: z.object({
      /** Tags to choose from, and the one that is looked at. */
      tags: z.array(z.string()),
      tag: z.string(),
      clients: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          /** The report that would go: of the same template, or of the same title. */
          report: z.object({ id: z.string(), title: z.string() }).nullable(),
          /** The schedule of the series that it has. */
          schedule: z.string().nullable(),
          contacts: z.array(z.object({ id: z.string(), name: z.string(), stopped: z.string().nullable() })),
        }),
      ),
    }),
  }),
  'POST /api/schedules/:schedule/series': route({
    about: 'Repeat a schedule for clients with a tag, each with its own report and readers.',
    roles: MANAGERS,
    body: z.object({
      tag: z.string().min(1, 'Choose a tag.').max(40),
      clients: z
        .array(
          z.strictObject({
            client: z.string().max(60),
            readers: scheduleReaders,
            greeting: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
            fileName: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
          }),
        )
        .min(1, 'Choose a client.')
        .max(MOST_FOLLOWING, `Choose at most ${MOST_FOLLOWING} clients.`),
    }),
    reply: z.object({
      made: z.int(),
      /** Clients for which it could not be, with the reason. */
      problems: z.array(z.object({ client: z.string(), text: z.string() })),
    }),
  }),
  'GET /api/zone-moves': route({
    about: 'Runs moved by new time-zone rules, until someone confirms.',
    roles: EVERYONE,
    reply: z.object({
      /** The first of them. */
      moves: z.array(
        z.object({
          scheduleId: z.string(),
          clientName: z.string(),
          title: z.string(),
          zone: z.string(),
          /** As clocks in the schedule's zone show both by the rules of today. */
          was: z.object({ at: z.string(), date: z.string(), time: z.string() }),
          becomes: z.object({ at: z.string(), date: z.string(), time: z.string() }),
        }),
      ),
      /** How many there are. */
      total: z.int(),
    }),
  }),
  'POST /api/zone-moves/agree': route({
    about: 'Confirm runs moved by new time-zone rules, for all clients you can see.',
    roles: MANAGERS,
    reply: z.object({ runs: z.int() }),
  }),
  'GET /api/calendar-link': route({
    about: 'Whether your calendar link exists, and since when.',
    roles: EVERYONE,
    reply: z.object({ since: z.string().nullable() }),
  }),
  'POST /api/calendar-link': route({
    about: 'Create a calendar link; an earlier one stops working.',
    roles: EVERYONE,
    reply: z.object({ url: z.string() }),
  }),
  'DELETE /api/calendar-link': route({ about: 'Delete your calendar link.', roles: EVERYONE, reply: done }),
};
