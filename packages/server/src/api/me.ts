import { messageIdOf } from '@chronicon/core/edition';
import { escapeHtml } from '@chronicon/core/report';
import { checkPassword } from '../access/checkPassword.ts';
import { deviceName } from '../access/deviceName.ts';
import { passwordFault } from '../access/passwordRules.ts';
import { hashPassword } from '../access/passwords.ts';
import { endOtherSessions, endSession, sessionsOf } from '../access/sessions.ts';
import { partyOf } from '../access/signInLimits.ts';
import { atField, notFound } from '../ground/refusal.ts';
import { idFrom } from '../store/ids.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, type Member, memberByEmail, setPassword } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';

/** Tells a member by mail what happened to their sign-in; whoever asked for it does not wait for the mail server. */
function tellOwner(api: Api, member: Member, subject: string, text: string): void {
  const { store, mailer, clock, config, log } = api;
  if (!config.notices) return;
  const tell = async () => {
    const agency = (await agencyOf(store))!;
    const now = clock.now();
    const domain = agency.mailFrom.split('@')[1] ?? 'localhost';
    const handed = await mailer.send({
      messageId: messageIdOf(idFrom('lg', `${subject} ${member.id} ${now}`), member.id, 0, domain),
      from: { name: agency.name, address: agency.mailFrom },
      to: { name: member.name, address: member.email },
      subject,
      text: `${text}\n`,
      html: `<p>${escapeHtml(text).replace(/\n/g, '<br>')}</p>`,
      date: new Date(now),
    });
    if (handed.kind !== 'accepted') log.warn({ handed, member: member.id }, 'a notice about a sign-in was not taken');
  };
  tell().catch((err) => log.error({ err }, 'a notice about a sign-in could not be sent'));
}

export const meHandlers: Handlers<
  'PUT /api/session/password' | 'GET /api/sessions' | 'DELETE /api/sessions' | 'DELETE /api/sessions/:session'
> = {
  'PUT /api/session/password': async ({ api, session: { member }, body, cookie, address }) => {
    const { store, clock } = api;
    const known = (await memberByEmail(store, member.email))!.password;
    const found = await checkPassword(store, { email: member.email, password: body.current, address }, clock.now());
    if (!found) throw atField('current', 'This is not your password.');
    if (body.next === body.current) throw atField('next', 'This is the password that you have already.');
    const agency = await agencyOf(store);
    const fault = await passwordFault(body.next, [member.name, member.email, agency?.name ?? '', 'chronicon']);
    if (fault) throw atField('next', fault);
    const password = await hashPassword(body.next);
    const at = clock.now();
    await inTransaction(store, async (tx) => {
      if (!(await setPassword(tx, member.id, password, known))) {
        throw atField('current', 'It was changed in the meantime, in another window or browser.');
      }
      await endOtherSessions(tx, member.id, cookie.token);
      const detail = { address: partyOf(address) };
      await record(tx, { at, actor: member.id, action: 'password.changed', subject: member.id, detail });
    });
    tellOwner(
      api,
      member,
      'Your password was changed',
      `Hello ${member.name},\n\nthe password of your sign-in was changed, from ${partyOf(address)}. All other sessions have ended.\n\nWas it not you? Ask an owner of the agency at once to see to your sign-in.`,
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
