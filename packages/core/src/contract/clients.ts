import { z } from 'zod';
import { MOST_NAMES, MOST_READERS, MOST_TAGS } from '../bounds/index.ts';
import { settingShape } from '../client/index.ts';
import { BRAND_PICTURES, brandSchema } from '../report/brand.ts';
import { mailDesign } from '../report/mailDesign.ts';
import { MAIL_LINES } from '../report/readers.ts';
import { civilDate } from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, route } from './route.ts';
import { mailAddress } from './session.ts';

const name = z.string().trim().min(1, 'Enter a name.').max(120, 'Maximum 120 characters.');

export const clientInput = z.object({ name, ...settingShape });

export const brandInput = brandSchema.pick({
  main: true,
  second: true,
  typefaces: true,
  footer: true,
  address: true,
  mailLook: true,
  follows: true,
});
export type BrandInput = z.infer<typeof brandInput>;

/** What is noted of a contact beside name and address. */
export const contactDetails = z.object({
  role: z.string().trim().max(80, 'Maximum 80 characters.').default(''),
  /** What they speak, as a person notes it; mails are in the client's language. */
  language: z.string().trim().max(40, 'Maximum 40 characters.').default(''),
  phone: z.string().trim().max(40, 'Maximum 40 characters.').default(''),
  notes: z.string().trim().max(1_000, 'Maximum 1,000 characters.').default(''),
  /** That they want reports: since when, and by whose word; null where nobody noted it. */
  consent: z
    .object({ on: civilDate, by: z.string().trim().max(120, 'Maximum 120 characters.').default('') })
    .nullable()
    .default(null),
  /** The line of a mail for many in which they stand, unless a schedule says otherwise. */
  mailLine: z.enum(MAIL_LINES).default('to'),
  /** Whether they may be written to: `left` the client, or mails to the address `bounced`. */
  standing: z.enum(['reads', 'left', 'bounced', 'declined']).default('reads'),
});
export type ContactDetails = z.infer<typeof contactDetails>;

export const contactInput = contactDetails.extend({
  firstName: name,
  lastName: z.string().trim().max(120),
  email: mailAddress,
  /** What is said to an address outside the client's usual domains: this address alone, or its domain is usual, too. */
  outside: z.enum(['address', 'domain']).optional(),
});

const contact = contactDetails.extend({
  id: z.string(),
  /** The address that was approved although it is at no usual domain; empty for none. */
  approved: z.string(),
  /** Why nothing is sent to them, in words; null where they may be written to. */
  stopped: z.string().nullable(),
  firstName: z.string(),
  lastName: z.string(),
  email: z.string(),
});

export const listInput = z.object({
  name: z.string().trim().min(1, 'Enter a list name.').max(80, 'Maximum 80 characters.'),
  contacts: z.array(z.string().max(60)).max(MOST_READERS, `A list has at most ${MOST_READERS} contacts.`),
});
export type ListInput = z.infer<typeof listInput>;
const readerList = listInput.extend({ id: z.string() });
export type ReaderList = z.infer<typeof readerList>;

export const tagName = z.string().trim().min(1, 'Enter a tag name.').max(40, 'Maximum 40 characters.');
const tags = z.array(tagName).max(MOST_TAGS, `A client has at most ${MOST_TAGS} tags.`);

/** Which clients a list is about: all that one sees, those one manages, or those with a tag. */
export const scopeQuery = z
  .string()
  .max(50)
  .regex(/^(mine|tag:.+)?$/, 'A scope is mine, or tag: with a name.')
  .default('');

const clientRow = clientInput.extend({
  id: z.string(),
  colour: z.string(),
  manager: z.string(),
  tags: z.array(z.string()),
  /** Since when nothing runs for it; null while it is looked after. */
  inactiveSince: z.string().nullable(),
  /** The next run of any of its schedules. */
  next: z.object({ at: z.string(), title: z.string() }).nullable(),
  feeds: z.object({ count: z.int(), troubled: z.int(), coveredThrough: z.string().nullable() }),
  schedules: z.int(),
  lastSent: z.string().nullable(),
});

const client = clientInput.extend({
  id: z.string(),
  manager: z.string(),
  managerId: z.string(),
  tags: z.array(z.string()),
  inactiveSince: z.string().nullable(),
  /** Why zone and currency cannot be changed now; null where they can. */
  fixed: z.string().nullable(),
  /** As the client has it; `drawn` has the agency's in place of what follows it. */
  brand: brandSchema,
  drawn: brandSchema,
  contacts: z.array(contact),
  lists: z.array(readerList),
  /** What a mail says unless it is worded otherwise, in the client's language. */
  mail: z.object({ subject: z.string(), message: z.string(), mail: mailDesign }),
  /** The same words in each language that pages and mails may have, by its primary subtag. */
  mailTexts: z.array(z.object({ language: z.string(), subject: z.string(), message: z.string() })),
});

const value = z.union([z.string(), z.number()]);

/** A setting of clients as forms ask for it. */
const settingOffer = z.object({
  key: z.string(),
  label: z.string(),
  hint: z.string().optional(),
  field: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('text'), placeholder: z.string() }),
    z.object({ kind: z.literal('date') }),
    z.object({
      kind: z.literal('choice'),
      options: z.array(z.object({ value, label: z.string() })).readonly(),
      /** So many that one searches among them. */
      many: z.boolean(),
    }),
  ]),
});
export type SettingOffer = z.infer<typeof settingOffer>;

export type ClientRow = z.infer<typeof clientRow>;
export type Client = z.infer<typeof client>;
export type Contact = z.infer<typeof contact>;
export type ClientInput = z.infer<typeof clientInput>;

export const clientRoutes = {
  'GET /api/clients': route({
    about: 'A page of the clients you can see, by name; `text` is part of the name.',
    roles: EVERYONE,
    query: z.object({
      text: z.string().max(100).default(''),
      scope: scopeQuery,
      page: z.coerce.number().int().min(1).max(100_000).default(1),
    }),
    reply: z.object({ clients: z.array(clientRow), total: z.int(), pageSize: z.int() }),
  }),
  'GET /api/clients/names': route({
    about: `Names of the clients you can see, for choosing one: the first ${MOST_NAMES} that contain a text, and those named by id.`,
    roles: EVERYONE,
    query: z.object({
      scope: scopeQuery,
      text: z.string().max(100).default(''),
      /** Ids with commas between them. */
      ids: z.string().max(10_000).default(''),
    }),
    reply: z.array(z.object({ id: z.string(), name: z.string(), colour: z.string() })),
  }),
  'GET /api/clients/scopes': route({
    about: 'Ways to filter clients: tags, and how many you manage.',
    roles: EVERYONE,
    reply: z.object({ tags: z.array(z.string()), mine: z.int() }),
  }),
  'GET /api/clients/settings': route({
    about: 'The settings of a client as forms show them, and the defaults of a new one.',
    roles: EVERYONE,
    reply: z.object({ settings: z.array(settingOffer), fresh: clientInput.omit({ name: true }) }),
  }),
  'POST /api/clients': route({ about: 'Create a client.', roles: MANAGERS, body: clientInput, reply: client }),
  'GET /api/clients/:client': route({ about: 'One client with contacts and brand.', roles: EVERYONE, reply: client }),
  'PUT /api/clients/:client': route({ about: 'Change a client.', roles: MANAGERS, body: clientInput, reply: client }),
  'PUT /api/clients/:client/tags': route({
    about: 'Set the tags of a client.',
    roles: MANAGERS,
    body: z.object({ tags }),
    reply: client,
  }),
  'PUT /api/clients/:client/inactive': route({
    about: 'Deactivate a client (nothing runs, nothing is deleted), or reactivate it.',
    roles: MANAGERS,
    body: z.object({ inactive: z.boolean() }),
    reply: client,
  }),
  'POST /api/clients/:client/duplicate': route({
    about: 'Duplicate a client: brand, metrics, reports as drafts, schedules paused; without data and contacts.',
    roles: MANAGERS,
    body: z.object({ name }),
    reply: client,
  }),
  'POST /api/clients/import': route({
    about:
      'Import clients, contacts, tags and managers from CSV: a preview of each row, or, with its hash, the import.',
    roles: MANAGERS,
    body: z.object({
      text: z
        .string()
        .max(1024 * 1024, 'Too large: import at most one megabyte at a time.')
        .default(''),
      /** The bytes of a file, in place of its text: in which encoding they are is found out of them. */
      bytes: z.base64().max(1_400_000, 'Too large: import at most one megabyte at a time.').nullable().default(null),
      /** What the preview was called; left out, it is only looked at. */
      seen: z.string().nullable().default(null),
    }),
    reply: z.object({
      seen: z.string(),
      done: z.boolean(),
      /** The rows as they were read, and how a file's bytes were written. */
      text: z.string(),
      encoding: z.string().nullable(),
      /** Columns that were not understood. */
      unread: z.array(z.string()),
      rows: z.array(
        z.object({
          line: z.int(),
          client: z.string(),
          does: z.array(z.string()),
          /** Why it is left out. */
          problem: z.string().nullable(),
        }),
      ),
      clients: z.int(),
      /** Clients that are there, and change. */
      changed: z.int(),
      contacts: z.int(),
      leftOut: z.int(),
    }),
  }),
  'POST /api/clients/:client/contacts/many': route({
    about: 'Add contacts from pasted lines: a preview, or, with its hash, the change.',
    roles: MANAGERS,
    body: z.object({
      text: z.string().min(1, 'Paste names and addresses.').max(200_000, 'Paste less at once.'),
      seen: z.string().nullable().default(null),
    }),
    reply: z.object({
      seen: z.string(),
      done: z.boolean(),
      rows: z.array(
        z.object({
          firstName: z.string(),
          lastName: z.string(),
          email: z.string(),
          problem: z.string().nullable(),
        }),
      ),
    }),
  }),
  'PUT /api/clients/:client/brand': route({
    about: 'Change colours, fonts, footer, address and email style, and which parts follow the agency.',
    roles: MANAGERS,
    body: brandInput,
    reply: client,
  }),
  'DELETE /api/clients/:client/logo': route({
    about: 'Remove the logo, dark-background logo, cover picture or email header.',
    roles: MANAGERS,
    query: z.object({ as: z.enum(BRAND_PICTURES).default('logo') }),
    reply: client,
  }),
  'POST /api/clients/:client/contacts': route({
    about: 'Create a contact.',
    roles: MANAGERS,
    body: contactInput,
    reply: contact,
  }),
  'PUT /api/clients/:client/contacts/:contact': route({
    about: 'Change a contact.',
    roles: MANAGERS,
    body: contactInput,
    reply: contact,
  }),
  'POST /api/clients/:client/lists': route({
    about: 'Create a list of contacts.',
    roles: MANAGERS,
    body: listInput,
    reply: readerList,
  }),
  'PUT /api/clients/:client/lists/:list': route({
    about: 'Change a list; schedules that use it follow.',
    roles: MANAGERS,
    body: listInput,
    reply: readerList,
  }),
  'DELETE /api/clients/:client/lists/:list': route({
    about: 'Remove a list that no schedule uses.',
    roles: MANAGERS,
    reply: done,
  }),
  'DELETE /api/clients/:client/contacts/:contact': route({
    about: 'Remove a contact that no active schedule uses.',
    roles: MANAGERS,
    reply: done,
  }),
};
