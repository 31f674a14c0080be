import type { RouteName } from '@chronicon/core/contract';
import { checkPassword } from '../access/checkPassword.ts';
import { deviceName } from '../access/deviceName.ts';
import { dropLinks } from '../access/links.ts';
import { LEAST, passwordFault } from '../access/passwordRules.ts';
import { hashPassword } from '../access/passwords.ts';
import { newCodes, newFactor, stepOf } from '../access/secondFactor.ts';
import { endOtherSessions, endSession, sessionsOf } from '../access/sessions.ts';
import { partyOf } from '../access/signInLimits.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { type Factor, factorOf, setFactor } from '../store/factors.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, type Member, memberByEmail, setPassword, settingsOfMember, updateMember } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';
import { NOT_YOU, tellMember } from './tellMember.ts';

const dropFactor = 'Your agency requires two-factor authentication for your role.';

/** Whoever changes a sign-in says the password once more. @throws Refusal at `password` */
async function askPassword(api: Api, member: Member, password: string, address: string): Promise<void> {
  const tried = { email: member.email, password, address };
  if (!(await checkPassword(api.store, tried, api.clock.now(), api.config.passwordCost)))
    throw atField('password', 'Wrong password.');
}

/** Changes one's second factor from what it was read as, and says so by mail. */
async function changeFactor(
  api: Api,
  { member, address }: { member: Member; address: string },
  [known, factor]: readonly [Factor | null, Factor | null],
  told: { action: 'factor.set' | 'factor.codes' | 'factor.removed'; subject: string; text: string },
): Promise<void> {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    if (!(await setFactor(tx, member.id, factor, known))) {
      throw new Refusal(409, 'Changed in the meantime in another window or browser. Reload the page.');
    }
    const detail = { address: partyOf(address) };
    await record(tx, { at, actor: member.id, action: told.action, subject: member.id, detail });
  });
  tellMember(api, member, told.subject, `${told.text}, from ${partyOf(address)}.\n\n${NOT_YOU}`);
}

export const meHandlers: Handlers<
  Extract<
    RouteName,
    `${string} /api/me` | `${string} /api/session/${string}` | `${string} /api/sessions${'' | '/:session'}`
  >
> = {
  'GET /api/me': async ({ api, session: { member } }) => {
    const { store } = api;
    const factor = await factorOf(store, member.id);
    const rules = (await agencyOf(store))!.settings.signIn;
    return {
      name: member.name,
      settings: await settingsOfMember(store, member.id),
      factor: factor?.since ? { since: factor.since, codesLeft: factor.codes.length } : null,
      factorWanted: rules.secondFactor.includes(member.role),
      least: factor?.since ? LEAST.beside : LEAST.alone,
      idleHours: rules.idleHours,
    };
  },

  'PUT /api/me': async ({ api, session: { member }, body }) => {
    const { name, ...settings } = body;
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await updateMember(tx, member.id, { name, settings: JSON.stringify(settings) });
      await record(tx, { at, actor: member.id, action: 'member.changed', subject: member.id });
    });
    return { done: true };
  },

  'POST /api/session/factor/begin': async ({ api, session: { member }, body, address }) => {
    await askPassword(api, member, body.password, address);
    const known = await factorOf(api.store, member.id);
    if (known?.since) throw new Refusal(409, 'Two-factor authentication is already on. Turn it off first.');
    const { secret, uri } = newFactor((await agencyOf(api.store))!.name, member.email);
    const begun: Factor = { secret: api.secrets.seal(secret), since: null, step: 0, codes: [] };
    if (!(await setFactor(api.store, member.id, begun, known))) throw new Refusal(409, 'Start again.');
    return { secret, uri };
  },

  'POST /api/session/factor': async ({ api, session: { member }, body, address }) => {
    const begun = await factorOf(api.store, member.id);
    if (!begun || begun.since !== null) throw new Refusal(409, 'Start the setup first.');
    const step = stepOf(api.secrets.open(begun.secret), body.code, begun.step, api.clock.machine());
    if (step === null) throw atField('code', 'Wrong code. Check the time on your phone.');
    const { codes, hashes } = newCodes();
    const factor: Factor = { ...begun, since: api.clock.now(), step, codes: hashes };
    await changeFactor(api, { member, address }, [begun, factor], {
      action: 'factor.set',
      subject: 'Two-factor authentication is on',
      text: 'Two-factor authentication was turned on for your account',
    });
    return { codes };
  },

  'POST /api/session/factor/codes': async ({ api, session: { member }, body, address }) => {
    await askPassword(api, member, body.password, address);
    const known = await factorOf(api.store, member.id);
    if (!known?.since) throw new Refusal(409, 'Set up two-factor authentication first.');
    const { codes, hashes } = newCodes();
    await changeFactor(api, { member, address }, [known, { ...known, codes: hashes }], {
      action: 'factor.codes',
      subject: 'New recovery codes',
      text: 'New recovery codes were created for your account',
    });
    return { codes };
  },

  'DELETE /api/session/factor': async ({ api, session: { member }, body, address }) => {
    await askPassword(api, member, body.password, address);
    const known = await factorOf(api.store, member.id);
    if (!known) return { done: true };
    const agency = (await agencyOf(api.store))!;
    if (agency.settings.signIn.secondFactor.includes(member.role)) throw new Refusal(409, dropFactor);
    const fault = await passwordFault(body.password, [member.name, member.email, agency.name, 'chronicon']);
    if (fault) throw atField('password', `Without two-factor your password is too weak. Change it first. ${fault}`);
    await changeFactor(api, { member, address }, [known, null], {
      action: 'factor.removed',
      subject: 'Two-factor authentication is off',
      text: 'Two-factor authentication was turned off for your account',
    });
    return { done: true };
  },

  'PUT /api/session/password': async ({ api, session: { member }, body, cookie, address }) => {
    const { store, clock, config } = api;
    const known = (await memberByEmail(store, member.email))!.password;
    const tried = { email: member.email, password: body.current, address };
    const found = await checkPassword(store, tried, clock.now(), config.passwordCost);
    if (!found) throw atField('current', 'Wrong password.');
    if (body.next === body.current) throw atField('next', 'This is already your password.');
    const agency = await agencyOf(store);
    const least = (await factorOf(store, member.id))?.since ? LEAST.beside : LEAST.alone;
    const own = [member.name, member.email, agency?.name ?? '', 'chronicon'];
    const fault = await passwordFault(body.next, own, least);
    if (fault) throw atField('next', fault);
    const password = await hashPassword(body.next, config.passwordCost);
    const at = clock.now();
    await inTransaction(store, async (tx) => {
      if (!(await setPassword(tx, member.id, password, known))) {
        throw atField('current', 'It was changed in the meantime, in another window or browser.');
      }
      await endOtherSessions(tx, member.id, cookie.token);
      await dropLinks(tx, member.id);
      const detail = { address: partyOf(address) };
      await record(tx, { at, actor: member.id, action: 'password.changed', subject: member.id, detail });
    });
    tellMember(
      api,
      member,
      'Your password was changed',
      `Your password was changed from ${partyOf(address)}. You’ve been signed out everywhere else.\n\n${NOT_YOU}`,
    );
    return { done: true };
  },

  'GET /api/sessions': async ({ api, session: { member }, cookie }) => {
    const all = await sessionsOf(api.store, member.id, api.clock.now(), cookie.token);
    return all.map(({ agent, ...s }) => ({ ...s, device: deviceName(agent) }));
  },

  'DELETE /api/sessions': async ({ api, session: { member }, cookie }) => {
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await endOtherSessions(tx, member.id, cookie.token);
      await record(tx, { at, actor: member.id, action: 'sessions.ended', subject: member.id });
    });
    return { done: true };
  },

  'DELETE /api/sessions/:session': async ({ api, session: { member }, params, cookie }) => {
    const at = api.clock.now();
    const own = (await sessionsOf(api.store, member.id, at, cookie.token)).find((s) => s.id === params.session);
    if (!own) throw notFound('session');
    await inTransaction(api.store, async (tx) => {
      await endSession(tx, member.id, own.id);
      const detail = { address: partyOf(own.address) };
      await record(tx, { at, actor: member.id, action: 'session.ended', subject: member.id, detail });
    });
    if (own.current) cookie.set(null);
    return { done: true };
  },
};
