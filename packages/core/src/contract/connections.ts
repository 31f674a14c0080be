import { z } from 'zod';
import { MAKERS, route } from './route.ts';

const token = z.string().trim().min(1, 'Enter the access token.').max(500);

const connection = z.object({
  id: z.string(),
  kind: z.string(),
  label: z.string(),
  method: z.enum(['oauth', 'token']),
  madeAt: z.string(),
  madeBy: z.string().nullable(),
  /** One disposes of its accounts that feed nobody yet, and may authorise it anew. */
  mine: z.boolean(),
  /** Those of clients that one may see. */
  feeds: z.int(),
  /** Why the service lets us in no more; null while it does. */
  refused: z.string().nullable(),
  quota: z.object({ used: z.int(), limit: z.int(), resets: z.string() }).nullable(),
});

const foundAccount = z.object({
  id: z.string(),
  name: z.string(),
  site: z.string(),
  zone: z.string(),
  currency: z.string(),
  /** The client that it seems to belong to, why, and in what it does not look like it all the same. */
  suggested: z
    .object({ client: z.string(), by: z.enum(['site', 'name']), differences: z.string(), canConfirm: z.boolean() })
    .nullable(),
  /** Clients that have it already. */
  takenBy: z.array(z.object({ client: z.string(), name: z.string() })),
});

const link = z.object({
  account: z.string().min(1).max(300),
  client: z.string(),
  /** A person says that it is the right account, though it does not look like the client's. */
  confirmed: z.boolean(),
});

export type Connection = z.infer<typeof connection>;
export type FoundAccount = z.infer<typeof foundAccount>;

export const connectionRoutes = {
  'GET /api/connections': route({
    about: 'The agency’s connections to services.',
    roles: MAKERS,
    reply: z.array(connection),
  }),
  'POST /api/connections': route({
    about: 'Connect a service with an access token; it is tested first.',
    roles: MAKERS,
    body: z.object({ kind: z.string(), token }),
    reply: connection,
  }),
  'POST /api/connections/begin': route({
    about: 'Start an authorisation with a service; the response is the address for the browser.',
    roles: MAKERS,
    body: z.object({
      kind: z.string(),
      /** Where the service sends the browser back to. */
      back: z.url('Enter the return address.'),
      /** The connection to renew; a new one is made when it is left out. */
      connection: z.string().optional(),
    }),
    reply: z.object({ url: z.string() }),
  }),
  'POST /api/connections/finish': route({
    about: 'Finish an authorisation with what the service sent back.',
    roles: MAKERS,
    body: z.object({ state: z.string().min(1).max(200), code: z.string().min(1).max(2_000) }),
    reply: connection,
  }),
  'GET /api/connections/:connection/accounts': route({
    about: 'The accounts a connection can read, each with its likely client.',
    roles: MAKERS,
    reply: z.object({ connection, accounts: z.array(foundAccount) }),
  }),
  'POST /api/connections/:connection/check': route({
    about: 'How accounts differ from the clients they would be connected to.',
    roles: MAKERS,
    body: z.object({ links: z.array(link.omit({ confirmed: true })).max(1_000) }),
    reply: z.array(z.object({ account: z.string(), differences: z.string(), canConfirm: z.boolean() })),
  }),
  'POST /api/connections/:connection/feeds': route({
    about:
      'Connect many accounts to many clients at once. An account that doesn’t match stops until someone confirms it.',
    roles: MAKERS,
    body: z.object({ links: z.array(link).min(1, 'Choose an account.').max(1_000) }),
    reply: z.array(
      z.object({
        account: z.string(),
        client: z.string(),
        feed: z.string().nullable(),
        /** What keeps it from being connected, or from being fetched; null when nothing does. */
        message: z.string().nullable(),
      }),
    ),
  }),
};
