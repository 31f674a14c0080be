import pLimit from 'p-limit';
import { DEMO_MEMBERS, DEMO_SERVICE_TOKEN } from '../access/demoMembers.ts';
import { verifyPassword } from '../access/passwords.ts';
import { closeSession, openSession, renewSession, type Session, sessionOf } from '../access/sessions.ts';
import { countFailure, forgetFailures, mustWait, partyOf } from '../access/signInLimits.ts';
import { moveClock } from '../clockwork/moveClock.ts';
import { atField, Refusal } from '../ground/refusal.ts';
import { overdueSince } from '../store/editions.ts';
import { lastBeat } from '../store/instances.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, memberByEmail } from '../store/members.ts';
import { sendingStops } from '../store/sendingStops.ts';
import { inTransaction } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';

async function describe(api: Api, session: Session) {
  const { config } = api;
  const agency = await agencyOf(api.store);
  return {
    member: session.member,
    agency: agency?.name ?? 'Chronicon',
    zone: agency?.zone ?? 'UTC',
    csrf: session.csrf,
    now: api.clock.now(),
    demo:
      config.mode !== 'production' && config.standins
        ? { mailbox: `${config.standins}/mailbox`, services: `${config.standins}/admin`, token: DEMO_SERVICE_TOKEN }
        : null,
  };
}

/** A hash that no password gives: signing in takes as long for an unknown address as for a known one. */
const NOBODY = `scrypt$131072$8$1$${'A'.repeat(22)}==$${'A'.repeat(43)}=`;

/** Each check takes 128 MB and a core for a while: two at a time, and nobody waits behind a crowd. */
const checking = pLimit(2);
const MOST_WAITING = 20;

const inWords = (seconds: number): string =>
  seconds < 60 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;

export const sessionHandlers: Handlers<
  | 'GET /api/health'
  | 'GET /api/door'
  | 'POST /api/session'
  | 'GET /api/session'
  | 'DELETE /api/session'
  | 'POST /api/demo/clock'
> = {
  'GET /api/health': async ({ api }) => {
    const troubles = api.health.troubles().map((t) => t.cause);
    const stops = await sendingStops(api.store).catch(() => null);
    const stopped = [...(stops ?? []).map((s) => s.cause), ...troubles];
    return {
      ok: stops !== null && stopped.length === 0,
      databases: stops !== null && !troubles.includes('database'),
      disk: !troubles.includes('disk'),
      key: !troubles.includes('key'),
      stopped,
      overdueSince: stops === null ? null : await overdueSince(api.store, api.clock.now()),
      lastBeat: stops === null ? null : await lastBeat(api.store),
    };
  },

  'GET /api/door': async ({ api }) => ({
    agency: (await agencyOf(api.store))?.name ?? 'Chronicon',
    demo: api.config.mode === 'demo' ? [...DEMO_MEMBERS] : null,
  }),

  'POST /api/session': async ({ api, body, cookie, address }) => {
    const now = api.clock.now();
    const wait = await mustWait(api.store, body.email, address, now);
    if (wait > 0) throw new Refusal(429, `Too many tries from here. Wait ${inWords(wait)}.`);
    if (checking.pendingCount > MOST_WAITING) throw new Refusal(503, 'Too many sign-ins at once. Try again.');
    const member = await memberByEmail(api.store, body.email);
    const right = await checking(() => verifyPassword(body.password, member?.password ?? NOBODY));
    if (!member || !right) {
      await inTransaction(api.store, async (tx) => {
        await countFailure(tx, body.email, address, now);
        const detail = { address: partyOf(address) };
        await record(tx, { at: now, actor: 'clockwork', action: 'sign-in.refused', subject: member?.id ?? '', detail });
      });
      throw new Refusal(401, 'The email address or the password is wrong.');
    }
    const token = await inTransaction(api.store, async (tx) => {
      await forgetFailures(tx, body.email, address, now);
      await record(tx, { at: now, actor: member.id, action: 'sign-in', subject: member.id });
      return openSession(tx, member.id, now);
    });
    cookie.set(token);
    return describe(api, (await sessionOf(api.store, token, api.clock.now()))!);
  },

  'GET /api/session': async ({ api, session }) => describe(api, session),

  'DELETE /api/session': async ({ api, cookie }) => {
    if (cookie.token) await closeSession(api.store, cookie.token);
    cookie.set(null);
    return { done: true };
  },

  'POST /api/demo/clock': async ({ api, body, cookie }) => {
    if (api.config.mode === 'production') throw new Refusal(404, 'Only the clock of a demo can be moved.');
    if (Date.parse(body.to) < Date.parse(api.clock.now())) {
      throw atField('to', 'The clock goes forward only; choose a later moment.');
    }
    if (cookie.token) await renewSession(api.store, cookie.token, body.to);
    await moveClock(api, body.to);
    return { now: api.clock.now() };
  },
};
