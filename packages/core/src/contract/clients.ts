import { z } from 'zod';
import { brandSchema } from '../report/brand.ts';
import { civilDate, zoneName } from '../report/specs.ts';
import { LOCALES } from '../words/index.ts';
import { done, EVERYONE, MANAGERS, route } from './route.ts';

const name = z.string().trim().min(1, 'Give a name.').max(120, 'Keep it to 120 characters.');

/** ISO 4217 codes that Intl knows how to write. */
const currency = z
  .string()
  .refine(
    (c) => Intl.supportedValuesOf('currency').includes(c),
    'There is no such currency; give three letters, as EUR.',
  );

/** A host or an address of the web; empty when there is none. Feeds are matched with clients by it. */
const site = z
  .string()
  .trim()
  .max(200, 'Keep it to 200 characters.')
  .refine(
    (s) => s === '' || /^(https?:\/\/)?[^\s/@]+\.[^\s/@]+(\/\S*)?$/.test(s),
    'This is no web address: it should look like place.example.',
  );

export const clientInput = z.object({
  name,
  site: site.default(''),
  zone: zoneName,
  currency,
  language: z.string().refine((l) => LOCALES.some((x) => x.value === l), 'Reports do not speak this language yet.'),
  weekStart: z.int().min(1).max(7),
  fiscalStart: z.int().min(1).max(12),
  startDate: civilDate,
});

export const brandInput = brandSchema.pick({ main: true, second: true, footer: true });

const contact = z.object({ id: z.string(), firstName: z.string(), lastName: z.string(), email: z.string() });

export const contactInput = z.object({
  firstName: name,
  lastName: z.string().trim().max(120),
  email: z.email('This is no mail address: it should look like name@place.example.').max(200),
});

const clientRow = clientInput.extend({
  id: z.string(),
  colour: z.string(),
  manager: z.string(),
  /** The next run of any of its schedules. */
  next: z.object({ at: z.string(), title: z.string() }).nullable(),
  feeds: z.object({ count: z.int(), troubled: z.int(), coveredThrough: z.string().nullable() }),
  schedules: z.int(),
  lastSent: z.string().nullable(),
});

const client = clientInput.extend({
  id: z.string(),
  manager: z.string(),
  brand: brandSchema,
  contacts: z.array(contact),
  /** What a mail says unless it is worded otherwise, in the client's language. */
  mail: z.object({ subject: z.string(), message: z.string() }),
});

export type ClientRow = z.infer<typeof clientRow>;
export type Client = z.infer<typeof client>;
export type Contact = z.infer<typeof contact>;
export type ClientInput = z.infer<typeof clientInput>;

export const clientRoutes = {
  'GET /api/clients': route({
    about: 'A page of the clients one may see, by name; `text` is a part of the name.',
    roles: EVERYONE,
    query: z.object({
      text: z.string().max(100).default(''),
      page: z.coerce.number().int().min(1).max(100_000).default(1),
    }),
    reply: z.object({ clients: z.array(clientRow), total: z.int(), pageSize: z.int() }),
  }),
  'GET /api/clients/names': route({
    about: 'What the clients one may see are called: for choosing one.',
    roles: EVERYONE,
    reply: z.array(z.object({ id: z.string(), name: z.string(), colour: z.string() })),
  }),
  'POST /api/clients': route({ about: 'A new client.', roles: MANAGERS, body: clientInput, reply: client }),
  'GET /api/clients/:client': route({ about: 'One client with contacts and brand.', roles: EVERYONE, reply: client }),
  'PUT /api/clients/:client': route({ about: 'Change a client.', roles: MANAGERS, body: clientInput, reply: client }),
  'PUT /api/clients/:client/brand': route({
    about: 'Change colours and footer.',
    roles: MANAGERS,
    body: brandInput,
    reply: client,
  }),
  'DELETE /api/clients/:client/logo': route({ about: 'Take the logo away.', roles: MANAGERS, reply: client }),
  'POST /api/clients/:client/contacts': route({
    about: 'A new contact.',
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
  'DELETE /api/clients/:client/contacts/:contact': route({
    about: 'Remove a contact that no active schedule addresses.',
    roles: MANAGERS,
    reply: done,
  }),
};
