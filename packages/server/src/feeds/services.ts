import { addMinutes } from '@chronicon/core/calendar';
import { mayAsk, type Quota } from '@chronicon/core/feeds';
import { z } from 'zod';
import { timeLeft } from '../platform/asking.ts';
import { connectionById, quotaOf, type StoredConnection, updateConnection } from '../store/connections.ts';
import { underLease } from '../store/leaseOf.ts';
import { stored } from '../store/stored.ts';
import { type OAuthTokens, refreshTokens } from './authorise.ts';
import { type Access, FeedError, type FeedService, type Meter } from './connector.ts';
import { theRegistration } from './registrations.ts';
import { kindOf } from './registry.ts';
import type { FeedTools } from './tools.ts';

type Tools = Pick<FeedTools, 'config' | 'clock' | 'secrets' | 'store' | 'instance'>;

/** Milliseconds to wait for another server that renews the same access. */
const OTHERS_WAIT = 20_000;

/** Of the time that a person waits, the part that one request to a service may take. */
const SHARE_OF_A_TRY = 0.8;

/** Minutes before its end at which an access is renewed. */
const EARLY = 1;

/** An access that never changes. */
export const fixedAccess = (token: string): Access => ({ token: async () => token, renew: async () => null });

const tokensIn = stored<OAuthTokens>(
  z.object({ access: z.string(), refresh: z.string().nullable(), until: z.string().nullable() }),
  'the access to a service',
);

/** Access that renews itself, one renewal at a time: a refresh token is good for one use. */
function oauthAccess(tools: Tools, id: string, kind: string, renewals: Map<string, Promise<string>>): Access {
  const read = async (): Promise<OAuthTokens> => {
    const connection = (await connectionById(tools.store, id))!;
    return tokensIn(tools.secrets.open(connection.secret));
  };
  const renew = (): Promise<string> => {
    const present = renewals.get(id);
    if (present) return present;
    const work = (async () => {
      const before = (await read()).access;
      // A refresh token is good for one use: of several servers, one renews, and the others take what it got.
      await underLease(tools, 'connection', id, OTHERS_WAIT, async () => {
        const { access, refresh } = await read();
        if (access !== before) return;
        if (refresh === null) throw new FeedError('refused', 'Access expired. Reconnect.');
        const tokens = await refreshTokens(tools, kind, refresh).catch(async (error: unknown) => {
          if (error instanceof FeedError && error.kind === 'refused') {
            await updateConnection(tools.store, id, { refused: error.message });
          }
          throw error;
        });
        await updateConnection(tools.store, id, { secret: tools.secrets.seal(JSON.stringify(tokens)), refused: null });
      });
      return (await read()).access;
    })().finally(() => renewals.delete(id));
    renewals.set(id, work);
    return work;
  };
  return {
    async token() {
      await renewals.get(id)?.catch(() => undefined);
      const { access, until } = await read();
      return until !== null && until <= addMinutes(tools.clock.now(), EARLY) ? renew() : access;
    },
    async renew(refused) {
      // Somebody may have renewed it since it was read.
      const { access } = await read();
      return access !== refused ? access : renew();
    },
  };
}

/** Counts of requests since a connection's row was last written. */
export interface Counted extends Meter {
  made: number;
  quota: Quota | null;
}

export function countRequests(tools: Pick<Tools, 'clock'>, known: Quota | null, urgent: boolean): Counted {
  const meter: Counted = {
    made: 0,
    quota: known,
    before() {
      if (!mayAsk(meter.quota, urgent)) {
        const wait = (Date.parse(meter.quota!.resets) - Date.parse(tools.clock.now())) / 1000;
        const kept = urgent ? '' : ' The rest is reserved for editions.';
        throw new FeedError('busy', `Daily request limit reached.${kept}`, Math.max(60, wait));
      }
      meter.made++;
      if (meter.quota) meter.quota = { ...meter.quota, used: meter.quota.used + 1 };
    },
    told(quota) {
      meter.quota = quota;
    },
  };
  return meter;
}

/** Opens services with the agency's connections. */
export interface Services {
  /**
   * @param urgent whether the last part of the quota may be used, too
   * @throws FeedError when the agency is not registered there
   */
  open(connection: StoredConnection, urgent: boolean): Promise<{ service: FeedService; done(): Promise<void> }>;
  /** A service opened with a token that is not kept yet. */
  try(kind: string, access: Access): Promise<FeedService>;
}

export function createServices(tools: Tools): Services {
  const renewals = new Map<string, Promise<string>>();
  const setup = async (kind: string) => ({
    address: (await theRegistration(tools, kind)).address,
    network: tools.config.network,
    // A person is not kept waiting for a slow service.
    timeout: Math.min(tools.config.timeout, timeLeft() * SHARE_OF_A_TRY),
    now: () => Date.parse(tools.clock.now()),
  });
  return {
    async open(connection, urgent) {
      const { id, kind, method } = connection;
      const access =
        method === 'token'
          ? fixedAccess(tools.secrets.open(connection.secret))
          : oauthAccess(tools, id, kind, renewals);
      const meter = countRequests(tools, quotaOf(connection, tools.clock.now()), urgent);
      return {
        service: kindOf(kind).open({ ...(await setup(kind)), access, meter }),
        async done() {
          const { quota } = meter;
          if (quota) {
            const { used, limit, resets } = quota;
            await updateConnection(tools.store, id, { quota_used: used, quota_limit: limit, quota_resets: resets });
          }
        },
      };
    },
    try: async (kind, access) =>
      kindOf(kind).open({ ...(await setup(kind)), access, meter: countRequests(tools, null, true) }),
  };
}
