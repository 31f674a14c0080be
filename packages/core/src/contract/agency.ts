import { z } from 'zod';
import { FILE, HOLIDAY_NAME, MAILS_A_MINUTE, MOST_HOLIDAYS, MOST_READERS, SESSION } from '../bounds/index.ts';
import { SETTINGS } from '../client/index.ts';
import { agencyBrandInput, agencyBrandSchema, BRAND_PICTURES } from '../report/brand.ts';
import { paperSpec } from '../report/paper.ts';
import { civilDate } from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, ROLES, route } from './route.ts';
import { mailAddress, memberName } from './session.ts';

const OWNERS = ['owner'] as const;

/** A day on which nobody works, and what it is called. */
export const holiday = z.object({
  date: civilDate,
  name: z.string().trim().max(HOLIDAY_NAME, `Maximum ${HOLIDAY_NAME} characters.`).default(''),
});
export type Holiday = z.infer<typeof holiday>;

const holidays = z.array(holiday).max(MOST_HOLIDAYS, `A calendar holds ${MOST_HOLIDAYS} days.`);
const workingDays = z.array(z.int().min(1).max(7)).min(1, 'Choose at least one day.').max(7);

/** What an agency says of itself. */
export const agencyInput = z.object({
  name: memberName,
  zone: SETTINGS.zone.schema,
  language: SETTINGS.language.schema,
  weekStart: SETTINGS.weekStart.schema,
  workingDays,
  /** The address that reports come from. */
  mailFrom: mailAddress,
  /** At the foot of every mail that goes to a reader; lines. */
  postalAddress: z.string().trim().max(400, 'Maximum 400 characters.').default(''),
});
export type AgencyInput = z.infer<typeof agencyInput>;

/** How people sign in. */
export const signInRules = z.object({
  /** Roles that may do nothing before they have a second factor. */
  secondFactor: z.array(z.enum(ROLES)).max(ROLES.length),
  /** A session ends so many hours after its last use, and so many days after it began. */
  idleHours: z.int().min(1, 'At least one hour.').max(SESSION.idleHours, `At most ${SESSION.idleHours} hours.`),
  longestDays: z.int().min(1, 'At least one day.').max(SESSION.longestDays, `At most ${SESSION.longestDays} days.`),
});
export type SignInRules = z.infer<typeof signInRules>;

/** Set stricter limits than the defaults. */
export const agencyLimits = z.object({
  /** Readers of one schedule. */
  readers: z.int().min(1, 'At least one.').max(MOST_READERS, `At most ${MOST_READERS}.`),
  /** Megabytes of a file of figures that is brought. */
  fileMegabytes: z
    .int()
    .min(1, 'At least one.')
    .max(FILE.bytes / 1024 ** 2, `At most ${FILE.bytes / 1024 ** 2}.`),
});
export type AgencyLimits = z.infer<typeof agencyLimits>;

/** What an owner set beyond what the agency says of itself; each with what holds until then. */
export const agencySettings = z.object({
  postalAddress: z.string().default(''),
  brand: agencyBrandSchema.default({ main: '#0f5e6b', second: '#a86a12', footer: '' }),
  signIn: signInRules.default({ secondFactor: [], idleHours: 12, longestDays: 7 }),
  paper: paperSpec.default({ size: 'a4', orientation: 'portrait' }),
  limits: agencyLimits.default({ readers: MOST_READERS, fileMegabytes: FILE.bytes / 1024 ** 2 }),
});
export type AgencySettings = z.infer<typeof agencySettings>;

const host = z
  .string()
  .trim()
  .min(1, 'Enter the mail server’s host name.')
  .max(253)
  .regex(/^[A-Za-z0-9.:_-]+$/, 'Enter a valid host name, e.g. smtp.example.com.');

/** `21:00`. */
const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Enter a time like 21:00.');

/** How the agency’s mails go out. */
export const mailRules = z.object({
  /** Where mails come back that are not taken; empty: at the address that reports come from. */
  bounces: z.union([z.literal(''), mailAddress]).default(''),
  /** Mails that are handed over within a minute at most; null for as many as the server takes. */
  perMinute: z.int().min(1, 'At least one.').max(MAILS_A_MINUTE, 'At most 6,000.').nullable().default(null),
  /** When none go, by the agency’s clock: from, and until; what is due then goes afterwards. */
  quiet: z.object({ from: clockTime, until: clockTime }).nullable().default(null),
});
export type MailRules = z.infer<typeof mailRules>;

/** What mails are signed with; the key itself is made here and never shown. */
export const dkimInput = z.object({
  domain: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^([a-z0-9-]+\.)+[a-z]{2,}$/, 'Enter the sender domain, e.g. agency.example.'),
  selector: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9]([a-z0-9-]{0,40}[a-z0-9])?$/, 'Enter a short name of letters and digits, e.g. reports.'),
});

const oneLine = z
  .string()
  .trim()
  .max(200)
  .regex(/^\P{Cc}*$/u, 'Remove line breaks.');

/** A mailbox to which mails come back; it is read, and nothing in it is taken away. */
const boxInput = z.object({
  host,
  port: z.int().min(1, 'A port is a number from 1 to 65535.').max(65_535, 'A port is a number from 1 to 65535.'),
  tls: z.enum(['implicit', 'require', 'offered', 'never']),
  user: oneLine.min(1, 'Enter the mailbox user.'),
  /** Left out, the one that is kept goes on being used. */
  password: z.string().max(500).optional(),
  folder: oneLine.min(1, 'Enter the folder, e.g. INBOX.').default('INBOX'),
});

const boxView = boxInput.omit({ password: true }).extend({
  /** When it was last read; null before it ever was. */
  readAt: z.string().nullable(),
  trouble: z.object({ since: z.string(), reason: z.string(), mend: z.string() }).nullable(),
});

export const mailServerInput = z.object({
  host,
  port: z.int().min(1, 'A port is a number from 1 to 65535.').max(65_535, 'A port is a number from 1 to 65535.'),
  tls: z.enum(['implicit', 'require', 'offered', 'never']),
  user: z.string().trim().max(200).default(''),
  /** Left out, the one that is kept goes on being used. */
  password: z.string().max(500).optional(),
});
export type MailServerInput = z.infer<typeof mailServerInput>;

const mailServerView = z.object({
  host: z.string(),
  port: z.int(),
  tls: mailServerInput.shape.tls,
  user: z.string(),
  /** Whether a password is kept; what it is is never said. */
  hasPassword: z.boolean(),
  /** The variable that sets it; null where an owner did. */
  setBy: z.string().nullable(),
});

export const serviceInput = z.object({
  address: z.url({ protocol: /^https?$/, error: 'Enter a web address like https://service.example/api.' }).max(500),
  /** Empty for a service without authorisation, whose tokens are given by hand. */
  clientId: z.string().trim().max(300),
  /** Left out, the one that is kept goes on being used; empty where the registration has none. */
  clientSecret: z.string().max(500).optional(),
  /** What people call a further service of a kind. */
  name: z.string().trim().max(40, 'Maximum 40 characters.').optional(),
});

const serviceView = z.object({
  kind: z.string(),
  label: z.string(),
  address: z.string().nullable(),
  clientId: z.string(),
  hasSecret: z.boolean(),
  setBy: z.string().nullable(),
  connections: z.int(),
  /** Of a further service of a kind; empty for the first one. */
  name: z.string(),
  /** What another service of the kind would be; null where there can be no more, and of a further one. */
  next: z.string().nullable(),
});

const calendarInput = z.object({ name: memberName, days: holidays });
const calendar = calendarInput.extend({
  id: z.string(),
  /** Clients that keep it and that one may see, and how many others do. */
  clients: z.array(z.object({ id: z.string(), name: z.string() })),
  others: z.int(),
});

const which = 'main (reports), or notices (alerts to members if the main one fails)';

export const agencyRoutes = {
  'GET /api/agency': route({
    about: 'The agency’s settings, and those set by environment variables.',
    roles: MANAGERS,
    reply: z.object({
      agency: agencyInput,
      settings: agencySettings,
      holidays,
      mail: z.object({ main: mailServerView.nullable(), notices: mailServerView.nullable() }),
      mailRules: mailRules.extend({
        /** What mails are signed with, and the record that says so to other servers; null where no key was made. */
        dkim: z.object({ domain: z.string(), selector: z.string(), name: z.string(), record: z.string() }).nullable(),
        /** Where this server itself takes what comes back; null where it does not. */
        listens: z.int().nullable(),
        /** The mailbox that is read for what comes back; null where none is. */
        box: boxView.nullable(),
        /** Mails that came back and that could not be read, the last first; a few are kept. */
        unread: z.array(z.object({ id: z.string(), at: z.string(), subject: z.string() })),
      }),
      languages: z.array(z.object({ value: z.string(), label: z.string() })).readonly(),
      /** Where links of mails lead, and whether CHRONICON_URL says so; else it is this machine alone. */
      home: z.object({ url: z.string(), set: z.boolean() }),
      environment: z.array(z.object({ name: z.string(), value: z.string(), about: z.string(), set: z.boolean() })),
    }),
  }),
  'PUT /api/agency': route({
    about: 'Change the agency’s details and working days.',
    roles: OWNERS,
    body: agencyInput,
    reply: done,
  }),
  'PUT /api/agency/holidays': route({
    about: 'Set the agency’s days off; working-day schedules follow.',
    roles: OWNERS,
    body: z.object({ holidays }),
    reply: done,
  }),
  'PUT /api/agency/brand': route({
    about: 'Change the agency’s brand kit; clients that follow it change too.',
    roles: OWNERS,
    body: agencyBrandInput,
    reply: done,
  }),
  'DELETE /api/agency/logo': route({
    about: 'Remove the agency’s logo, dark-background logo, cover picture or email header.',
    roles: OWNERS,
    query: z.object({ as: z.enum(BRAND_PICTURES).default('logo') }),
    reply: done,
  }),
  'GET /api/agency/brand/followers': route({
    about: 'Reports of clients that follow any part of the agency’s brand kit.',
    roles: OWNERS,
    reply: z.array(
      z.object({ id: z.string(), title: z.string(), client: z.object({ id: z.string(), name: z.string() }) }),
    ),
  }),
  'PUT /api/agency/paper': route({
    about: 'Set the default paper of reports.',
    roles: OWNERS,
    body: paperSpec,
    reply: done,
  }),
  'PUT /api/agency/sign-in': route({
    about: 'Set the sign-in rules: two-factor authentication, and how long a session lasts.',
    roles: OWNERS,
    body: signInRules,
    reply: done,
  }),
  'PUT /api/agency/limits': route({
    about: 'Set stricter limits than the defaults.',
    roles: OWNERS,
    body: agencyLimits,
    reply: done,
  }),
  'PUT /api/agency/mail/:use': route({
    about: `Set a mail server: ${which}. It is tested first with an email to the caller; the response contains its reply.`,
    roles: OWNERS,
    body: mailServerInput,
    reply: z.object({ said: z.string(), to: z.string() }),
  }),
  'PUT /api/agency/mail-rules': route({
    about: 'Set the sending rules: bounce address, limit per minute, quiet hours.',
    roles: OWNERS,
    body: mailRules,
    reply: done,
  }),
  'PUT /api/agency/bounce-box': route({
    about: 'Set the bounce mailbox. It is opened first; the response says how many emails it contains.',
    roles: OWNERS,
    body: boxInput,
    reply: z.object({ mails: z.int() }),
  }),
  'DELETE /api/agency/bounce-box': route({
    about: 'Stop checking the bounce mailbox, and delete its password.',
    roles: OWNERS,
    reply: done,
  }),
  'DELETE /api/agency/unread-mails/:mail': route({
    about: 'Remove a bounce we couldn’t read.',
    roles: OWNERS,
    reply: done,
  }),
  'POST /api/agency/dkim': route({
    about: 'Create a DKIM key; the response is the DNS record its domain needs.',
    roles: OWNERS,
    body: dkimInput,
    reply: z.object({ name: z.string(), record: z.string() }),
  }),
  'DELETE /api/agency/dkim': route({
    about: 'Stop signing emails, and delete the key.',
    roles: OWNERS,
    reply: done,
  }),
  'DELETE /api/agency/mail/:use': route({
    about: `Remove a mail server: ${which}.`,
    roles: OWNERS,
    reply: done,
  }),
  'GET /api/services': route({
    about: 'The agency’s registrations with services, by kind of feed.',
    roles: MANAGERS,
    reply: z.array(serviceView),
  }),
  'PUT /api/services/:kind': route({
    about: 'Set a registration with a service; it is tested first.',
    roles: OWNERS,
    body: serviceInput,
    reply: done,
  }),
  'DELETE /api/services/:kind': route({
    about: 'Remove a registration that no connection uses.',
    roles: OWNERS,
    reply: done,
  }),
  'GET /api/calendars': route({
    about: 'Holiday calendars for clients that don’t follow the agency’s.',
    roles: EVERYONE,
    reply: z.array(calendar),
  }),
  'POST /api/calendars': route({ about: 'Create a calendar.', roles: MANAGERS, body: calendarInput, reply: calendar }),
  'PUT /api/calendars/:calendar': route({
    about: 'Change a calendar; the schedules of its clients follow.',
    roles: MANAGERS,
    body: calendarInput,
    reply: calendar,
  }),
  'DELETE /api/calendars/:calendar': route({
    about: 'Remove a calendar that no client uses.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/calendars/read': route({
    about: 'The days of an iCalendar file (RFC 5545), as a preview.',
    roles: MANAGERS,
    body: z.object({ text: z.string().max(1024 * 1024, 'This file is larger than a calendar of holidays.') }),
    reply: z.object({ days: z.array(holiday), leftOut: z.array(z.string()) }),
  }),
};
