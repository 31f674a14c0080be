import { addMinutes } from '@chronicon/core/calendar';
import type { StopCause } from '@chronicon/core/edition';
import { LOCALES } from '@chronicon/core/words';
import { meetBrowser, newBrowser } from '../access/browsers.ts';
import { checkPassword } from '../access/checkPassword.ts';
import { DEMO_MEMBERS, DEMO_SERVICE_TOKEN } from '../access/demoMembers.ts';
import { deviceName } from '../access/deviceName.ts';
import { checkFactor } from '../access/secondFactor.ts';
import { closeSession, openSession, renewSession, type Session, sessionOf } from '../access/sessions.ts';
import { countFailure, forgetFailures, partyOf } from '../access/signInLimits.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { liveUntil } from '../scheduler/liveUntil.ts';
import { overdueSince } from '../store/editions.ts';
import { lastBeat } from '../store/instances.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, settingsOfMember } from '../store/members.ts';
import { sendingStops } from '../store/sendingStops.ts';
import { inTransaction } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';
import { NOT_YOU, tellMember } from './tellMember.ts';
import { Unwell } from './unwell.ts';

/** Minutes by which the clock of a demo moves on at once, at most. */
const FURTHEST = 93 * 24 * 60;

/** Minutes after which what the server should have moved on is overdue. */
const OVERDUE = 10;
/** Milliseconds after which a look of the scheduler that does not end stands still. */
const STILL = 5 * 60_000;

/** Why no mail goes out, for a monitor that is not signed in. It names no person and no mail server. */
const STOPPED: Record<StopCause, string> = {
  person: 'Emails aren’t being sent: sending is turned off.',
  'mail-server': 'Emails aren’t being sent: the mail server rejects them.',
  copy: 'Emails aren’t being sent: the data folder was copied or restored, and an owner must enable sending.',
};

const CODE = 'Enter the code from your authenticator app, or a recovery code.';
const WRONG_CODE = 'Wrong or already used code. Wait for the next one.';

/** What every screen is told of where it is. */
export async function describeSession(api: Api, session: Session) {
  const { config } = api;
  const agency = await agencyOf(api.store);
  return {
    member: session.member,
    agency: agency?.name ?? 'Chronicon',
    zone: agency?.zone ?? 'UTC',
    csrf: session.csrf,
    now: api.clock.now(),
    scheme: (await settingsOfMember(api.store, session.member.id)).scheme,
    mustSetUpFactor: session.mustSetUpFactor,
    demo:
      config.mode !== 'production' && config.simulators
        ? { mailbox: `${config.simulators}/mailbox`, services: `${config.simulators}/admin`, token: DEMO_SERVICE_TOKEN }
        : null,
  };
}

export const sessionHandlers: Handlers<
  | 'GET /api/health'
  | 'GET /api/sign-in'
  | 'POST /api/session'
  | 'GET /api/session'
  | 'DELETE /api/session'
  | 'POST /api/demo/clock'
> = {
  'GET /api/health': async ({ api }) => {
    const found = api.health.troubles();
    const troubles = found.map((t) => t.cause);
    const stops = await sendingStops(api.store).catch(() => null);
    const before = addMinutes(api.clock.now(), -OVERDUE);
    const since = stops === null ? null : await overdueSince(api.store, before).catch(() => null);
    const reasons = [
      ...(stops === null && found.length === 0 ? ['The database can’t be read.'] : []),
      ...found.map((t) => `${t.reason} ${t.mend}`),
      ...(stops ?? []).map((s) => STOPPED[s.cause]),
      ...(api.scheduler.stillFor() > STILL
        ? ['The scheduler has stopped working. Restart the server, and look at its log.']
        : []),
      ...(since === null
        ? []
        : [`An edition due at ${since} is overdue: the server has not processed it. Check its log.`]),
    ];
    const body = {
      ok: reasons.length === 0,
      databases: stops !== null && !troubles.includes('database'),
      disk: !troubles.includes('disk'),
      key: !troubles.includes('key'),
      stopped: [...(stops ?? []).map((s) => s.cause), ...troubles],
      overdueSince: since,
      lastBeat: stops === null ? null : await lastBeat(api.store).catch(() => null),
      reason: reasons.length === 0 ? null : reasons.join(' '),
    };
    return body.ok ? body : new Unwell(body);
  },

  'GET /api/sign-in': async ({ api }) => {
    const agency = await agencyOf(api.store);
    return {
      agency: agency?.name ?? 'Chronicon',
      demo: api.config.mode === 'demo' ? [...DEMO_MEMBERS] : null,
      first: agency ? null : { languages: LOCALES },
    };
  },

  'POST /api/session': async ({ api, body, cookie, address, agent }) => {
    const now = api.clock.now();
    const member = await checkPassword(api.store, { ...body, address }, now, api.config.passwordCost);
    if (!member) throw new Refusal(401, 'Wrong email or password.');
    const factor = await checkFactor(api.store, api.secrets, member.id, body.code, api.clock.machine());
    if (factor === 'wanted') throw new Refusal(401, CODE, { code: CODE });
    if (factor === 'wrong') {
      await inTransaction(api.store, (tx) => countFailure(tx, body.email, address, now));
      throw new Refusal(401, WRONG_CODE, { code: WRONG_CODE });
    }
    const browser = cookie.browser ?? newBrowser();
    const { token, isNew } = await inTransaction(api.store, async (tx) => {
      await forgetFailures(tx, body.email, address, now);
      await record(tx, { at: now, actor: member.id, action: 'sign-in', subject: member.id });
      // Whoever signs in again leaves nothing open behind them.
      if (cookie.token) await closeSession(tx, cookie.token);
      return {
        isNew: await meetBrowser(tx, member.id, browser, now),
        token: await openSession(tx, member.id, now, { address, agent }),
      };
    });
    cookie.set(token);
    cookie.setBrowser(browser);
    if (isNew) {
      tellMember(
        api,
        member,
        'Signed in from a new browser',
        `New sign-in: ${deviceName(agent)}, ${partyOf(address)}.\n\nIf this was you, no action is needed. ${NOT_YOU}`,
      );
    }
    return describeSession(api, (await sessionOf(api.store, token, api.clock.now()))!);
  },

  'GET /api/session': async ({ api, session }) => describeSession(api, session),

  'DELETE /api/session': async ({ api, cookie }) => {
    if (cookie.token) await closeSession(api.store, cookie.token);
    cookie.set(null);
    return { done: true };
  },

  'POST /api/demo/clock': async ({ api, body, cookie }) => {
    if (api.config.mode === 'production') throw new Refusal(404, 'Only a demo’s clock can be moved.');
    if (Date.parse(body.to) < Date.parse(api.clock.now())) {
      throw atField('to', 'The clock only moves forward; choose a later time.');
    }
    if (body.to > addMinutes(api.clock.now(), FURTHEST)) {
      throw atField('to', 'Move it forward by at most three months at a time.');
    }
    if (cookie.token) await renewSession(api.store, cookie.token, body.to);
    await liveUntil(api, body.to);
    return { now: api.clock.now() };
  },
};
