import { meetBrowser, newBrowser } from '../access/browsers.ts';
import { endFirstStart, opensFirstStart } from '../access/firstStart.ts';
import { passwordFault } from '../access/passwordRules.ts';
import { hashPassword } from '../access/passwords.ts';
import { openSession, sessionOf } from '../access/sessions.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { createAgency, createMember } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import type { Handlers } from './context.ts';
import { describeSession } from './session.ts';

const shut = () => new Refusal(403, 'Link used or expired. Restart the server for a new one.');

export const firstHandlers: Handlers<'POST /api/first'> = {
  'POST /api/first': async ({ api, body, cookie, address, agent }) => {
    const { store, clock } = api;
    const { secret, owner, ...agency } = body;
    if (!(await opensFirstStart(store, secret, clock.machine()))) throw shut();
    const fault = await passwordFault(owner.password, [owner.name, owner.email, agency.name, 'chronicon']);
    if (fault) throw atField('owner.password', fault);
    const password = await hashPassword(owner.password, api.config.passwordCost);
    const at = clock.now();
    const token = await inTransaction(store, async (tx) => {
      // Asked again: two hands on one address make one agency.
      if (!(await opensFirstStart(tx, secret, clock.machine()))) throw shut();
      await endFirstStart(tx);
      await createAgency(tx, { ...agency, workingDays: [...new Set(agency.workingDays)].sort(), holidays: [] });
      const member = await createMember(tx, { ...owner, role: 'owner', password, at });
      await record(tx, { at, actor: member.id, action: 'agency.made', subject: member.id });
      return openSession(tx, member.id, at, { address, agent });
    });
    const browser = cookie.browser ?? newBrowser();
    await meetBrowser(store, (await sessionOf(store, token, at))!.member.id, browser, at);
    cookie.set(token);
    cookie.setBrowser(browser);
    return describeSession(api, (await sessionOf(store, token, clock.now()))!);
  },
};
