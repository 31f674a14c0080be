import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { Config } from '../platform/config.ts';
import type { Secrets } from '../store/secrets.ts';
import { deleteSetting, readSetting, settingsLike, writeSetting } from '../store/settings.ts';
import type { Store } from '../store/store.ts';
import { stored } from '../store/stored.ts';
import { FeedError } from './connector.ts';
import { ask } from './http.ts';
import { baseOf, feedKinds, feedLabel, isFurther, kindOf } from './registry.ts';

/** How the agency is known to a service: where it is found, and the name and secret that were given to it there. */
export interface Registration {
  address: string;
  clientId: string;
  /** Empty for a registration without one. */
  clientSecret: string;
  /** What people call a further service of a kind; left out for the first one. */
  name?: string | undefined;
}

interface Tools {
  store: Store;
  secrets: Secrets;
  config: Pick<Config, 'feeds' | 'network' | 'url'>;
}

/** The name of this product at services whose address the environment names. */
const PRODUCT = 'chronicon';
const TRY_TIME = 20_000;

const keyOf = (kind: string): string => `service.${kind}`;

/** As it is kept: the secret sealed. */
export interface KeptRegistration {
  address: string;
  clientId: string;
  secret: string;
  name?: string | undefined;
}

const registrationIn = stored<KeptRegistration>(
  z.object({ address: z.string(), clientId: z.string(), secret: z.string(), name: z.string().optional() }),
  'what is registered with a service',
);

/** How a service says no (RFC 6749 §5.2). */
const refusalIn = stored(z.object({ error: z.string().catch('') }), 'the answer of a service');

/** What an owner set for a kind of service; null where nothing is set. */
export async function keptRegistration(db: Store, kind: string): Promise<KeptRegistration | null> {
  const kept = await readSetting(db, keyOf(kind));
  return kept === null ? null : registrationIn(kept);
}

export async function keepRegistration(
  { store, secrets }: Pick<Tools, 'store' | 'secrets'>,
  kind: string,
  { address, clientId, clientSecret, name }: Registration,
): Promise<void> {
  const secret = clientSecret === '' ? '' : secrets.seal(clientSecret);
  const kept: KeptRegistration = { address, clientId, secret, ...(name && { name }) };
  await writeSetting(store, keyOf(kind), JSON.stringify(kept));
}

export const dropRegistration = (db: Store, kind: string): Promise<void> => deleteSetting(db, keyOf(kind));

/** The further services that an owner set. */
export async function furtherServices(db: Store): Promise<string[]> {
  const keys = (await settingsLike(db, keyOf(''))).map((key) => key.slice(keyOf('').length));
  return keys.filter(isFurther).sort();
}

/** Every service that there can be feeds of: the first of each kind, then the further ones. */
export async function allServices(db: Store): Promise<string[]> {
  const further = await furtherServices(db);
  return feedKinds().flatMap(({ kind }) => [kind, ...further.filter((s) => baseOf(s) === kind)]);
}

/** What a service is called: by the name that an owner gave it, where it is a further one of its kind. */
export async function serviceLabel(db: Store, service: string): Promise<string> {
  const name = isFurther(service) ? (await keptRegistration(db, service))?.name : undefined;
  return name ? `${feedLabel(baseOf(service))}: ${name}` : feedLabel(service);
}

/** The registration that is used: by what the environment names, else as an owner set it; null where there is none. */
export async function registrationFor({ store, secrets, config }: Tools, kind: string): Promise<Registration | null> {
  // A further service has an address of its own, wherever the first ones are found.
  if (config.feeds !== null && !isFurther(kind)) {
    return { address: `${config.feeds.replace(/\/$/, '')}/${kind}/v1`, clientId: PRODUCT, clientSecret: '' };
  }
  const kept = await keptRegistration(store, kind);
  if (!kept) return null;
  const { address, clientId, secret, name } = kept;
  const clientSecret = secret === '' ? '' : secrets.open(secret);
  return { address: address.replace(/\/$/, ''), clientId, clientSecret, ...(name && { name }) };
}

/** @throws FeedError for a kind that there is not, or that the agency is not registered for */
export async function theRegistration(tools: Tools, kind: string): Promise<Registration> {
  const found = await registrationFor(tools, kindOf(kind).kind);
  if (found) return found;
  throw new FeedError(
    'down',
    'Your agency isn’t registered with this service yet. An owner can do that under Settings, Services.',
  );
}

/** How a registration is told to a token endpoint: by Basic where it has a secret (RFC 6749 §2.3.1), by name else. */
export function identify({ clientId, clientSecret }: Registration): {
  headers: Record<string, string>;
  form: Record<string, string>;
} {
  if (clientSecret === '') return { headers: {}, form: { client_id: clientId } };
  const coded = (text: string) => encodeURIComponent(text).replace(/%20/g, '+');
  const pair = Buffer.from(`${coded(clientId)}:${coded(clientSecret)}`).toString('base64');
  return { headers: { authorization: `Basic ${pair}` }, form: {} };
}

/** What a service that has no token endpoint answers where one would be. */
const NO_SUCH_DOOR: readonly number[] = [404, 405, 501];

/**
 * Whether a service without an authorisation of its own speaks the protocol: it does where a token that was never given is
 * refused as docs/feeds.md has it. @throws FeedError where it does not
 */
async function tryWithoutAuthorisation(tools: Pick<Tools, 'config'>, { address }: Registration): Promise<void> {
  const { status } = await ask({
    url: new URL(`${address.replace(/\/$/, '')}/accounts`),
    headers: { authorization: `Bearer ${randomBytes(16).toString('hex')}` },
    timeout: TRY_TIME,
    network: tools.config.network,
  });
  if (status !== 401 && status !== 403) throw new FeedError('down', `No service responds there (${status}).`);
}

/**
 * Asks a service whether it knows a registration: with a code that nobody was given, which one that it knows is refused
 * as such (`invalid_grant`), and one that it does not know as itself (RFC 6749 §5.2). A service may do without all of this: its
 * tokens are then given by hand, and it has to refuse one that it never gave.
 * @throws FeedError `refused` where it is not known, or another one where the service does not answer as one
 */
export async function tryRegistration(
  tools: Pick<Tools, 'config'>,
  registration: Registration,
): Promise<'authorises' | 'by-token'> {
  const { headers, form } = identify(registration);
  const back = new URL('/connect/back', tools.config.url ?? 'http://localhost').href;
  const answer = await ask({
    url: new URL(`${registration.address.replace(/\/$/, '')}/oauth/token`),
    headers,
    form: {
      ...form,
      grant_type: 'authorization_code',
      code: randomBytes(16).toString('hex'),
      redirect_uri: back,
      code_verifier: randomBytes(32).toString('hex'),
    },
    timeout: TRY_TIME,
    network: tools.config.network,
  });
  if (NO_SUCH_DOOR.includes(answer.status)) {
    await tryWithoutAuthorisation(tools, registration);
    return 'by-token';
  }
  let error = '';
  try {
    error = refusalIn(answer.body).error;
  } catch {
    throw new FeedError('down', `No service responds there (${answer.status}).`);
  }
  if (error === 'invalid_grant') return 'authorises';
  if (answer.status === 401 || /^(invalid|unauthorized)_client$/.test(error)) {
    throw new FeedError('refused', 'The service rejected this name and secret.');
  }
  throw new FeedError('down', `The service answered ${answer.status}${error && `: ${error}`}.`);
}
