import { verifyPassword } from '../access/passwords.ts';
import { closeSession, openSession, renewSession, type Session, sessionOf } from '../access/sessions.ts';
import { moveClock } from '../clockwork/moveClock.ts';
import { DEMO_MEMBERS, DEMO_SERVICE_TOKEN } from '../demoMembers.ts';
import { agencyOf, memberByEmail } from '../store/members.ts';
import type { Api, Handlers } from './context.ts';
import { atField, Refusal } from './refusal.ts';

async function describe(api: Api, session: Session) {
  const { config } = api;
  return {
    member: session.member,
    agency: (await agencyOf(api.store))?.name ?? 'Chronicon',
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

export const sessionHandlers: Handlers<
  | 'GET /api/health'
  | 'GET /api/door'
  | 'POST /api/session'
  | 'GET /api/session'
  | 'DELETE /api/session'
  | 'POST /api/demo/clock'
> = {
  'GET /api/health': async () => ({ ok: true }),

  'GET /api/door': async ({ api }) => ({
    agency: (await agencyOf(api.store))?.name ?? 'Chronicon',
    demo: api.config.mode === 'demo' ? [...DEMO_MEMBERS] : null,
  }),

  'POST /api/session': async ({ api, body, cookie }) => {
    const member = await memberByEmail(api.store, body.email);
    const right = await verifyPassword(body.password, member?.password ?? NOBODY);
    if (!member || !right) throw new Refusal(401, 'Address and password do not belong together.');
    const token = await openSession(api.store, member.id, api.clock.now());
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
