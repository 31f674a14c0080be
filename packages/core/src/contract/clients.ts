import { z } from 'zod';
import { settingShape } from '../client/index.ts';
import { brandSchema } from '../report/brand.ts';
import { done, EVERYONE, MANAGERS, route } from './route.ts';

const name = z.string().trim().min(1, 'Give a name.').max(120, 'Keep it to 120 characters.');

export const clientInput = z.object({ name, ...settingShape });

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
  'GET /api/clients/settings': route({
    about: 'What is set for a client, as forms ask for it, and what a new one begins with.',
    roles: EVERYONE,
    reply: z.object({ settings: z.array(settingOffer), fresh: clientInput.omit({ name: true }) }),
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
