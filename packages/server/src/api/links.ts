import pLimit from 'p-limit';
import { dropLinks, LINK_MINUTES, type LinkPurpose, linkAddress, linkOf, makeLink } from '../access/links.ts';
import { LEAST, passwordFault } from '../access/passwordRules.ts';
import { hashPassword } from '../access/passwords.ts';
import { endAllSessions } from '../access/sessions.ts';
import { countFailure, mustWait, partyOf } from '../access/signInLimits.ts';
import { sendLetter } from '../mail/letters.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { factorOf, setFactor } from '../store/factors.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, type KnownMember, memberByEmail, replacePassword, updateMember } from '../store/members.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';
import { homeOf, NOT_YOU, tellMember } from './tellMember.ts';

const over = () => new Refusal(410, 'Link used or expired. Request a new one.');

/** Letters that are on their way at once: nobody's asking makes a crowd at the mail server. */
const sending = pLimit(2);

/** Characters that this member's password has at least. */
const leastFor = async (db: Store, memberId: string, purpose: string): Promise<number> =>
  purpose !== 'let-in' && (await factorOf(db, memberId))?.since ? LEAST.beside : LEAST.alone;

/** Sends a link for a new password, where the address is one of somebody who may come in; else does nothing. */
async function sendReset(api: Api, email: string, from: string): Promise<void> {
  const { store, clock } = api;
  const member = await memberByEmail(store, email);
  if (member?.state !== 'active') return;
  const at = clock.now();
  const secret = await inTransaction(store, async (tx) => {
    await record(tx, { at, actor: 'scheduler', action: 'reset.asked', subject: member.id, detail: { address: from } });
    return makeLink(tx, member.id, 'reset', at);
  });
  await sendLetter(api, {
    to: member,
    subject: 'Set a new password',
    text: `Hello ${member.name},\n\nWe received a request from ${from} to reset your password. The link below works once, for ${LINK_MINUTES.reset} minutes.\n\nIf this wasn’t you, ignore this email; your password won’t change.`,
    link: linkAddress(homeOf(api), secret),
  });
}

/** What a link that was used has changed, beside the password. */
async function enter(tx: Store, member: KnownMember, purpose: LinkPurpose, at: string): Promise<void> {
  if (member.state !== 'active') await updateMember(tx, member.id, { state: 'active' });
  // Who was let in by the machine itself may have lost the second factor, too.
  if (purpose === 'let-in') await setFactor(tx, member.id, null, await factorOf(tx, member.id));
  await record(tx, { at, actor: member.id, action: `link.${purpose}`, subject: member.id });
}

export const linkHandlers: Handlers<'POST /api/reset' | 'POST /api/links/look' | 'POST /api/links/use'> = {
  'POST /api/reset': async ({ api, body, address }) => {
    const now = api.clock.now();
    // Counted by where it comes from and never by whose address it is: what is answered, and when, says nothing of it.
    const wait = await mustWait(api.store, body.email, address, now, 'reset');
    if (wait > 0) throw new Refusal(429, 'Too many attempts. Try again later.');
    await inTransaction(api.store, (tx) => countFailure(tx, body.email, address, now, 'reset'));
    if (sending.pendingCount < 50) {
      const work = () => sendReset(api, body.email, partyOf(address));
      setImmediate(() => {
        sending(work).catch((err) => api.log.error({ err }, 'a link could not be sent'));
      });
    }
    return { done: true };
  },

  'POST /api/links/look': async ({ api, body }) => {
    const link = await linkOf(api.store, body.secret, api.clock.now());
    if (!link) throw over();
    const { purpose, member } = link;
    const agency = (await agencyOf(api.store))?.name ?? 'Chronicon';
    const least = await leastFor(api.store, member.id, purpose);
    return { purpose, name: member.name, email: member.email, agency, least };
  },

  'POST /api/links/use': async ({ api, body, address }) => {
    const { store, clock } = api;
    const link = await linkOf(store, body.secret, clock.now());
    if (!link) throw over();
    const agency = (await agencyOf(store))?.name ?? '';
    const { id, name, email } = link.member;
    const own = [name, email, agency, 'chronicon'];
    const fault = await passwordFault(body.password, own, await leastFor(store, id, link.purpose));
    if (fault) throw atField('password', fault);
    const password = await hashPassword(body.password, api.config.passwordCost);
    const at = clock.now();
    await inTransaction(store, async (tx) => {
      // Asked again: two hands on one link set one password.
      const still = await linkOf(tx, body.secret, at);
      if (!still) throw over();
      await replacePassword(tx, id, password);
      await dropLinks(tx, id);
      await endAllSessions(tx, id);
      await enter(tx, still.member as KnownMember, still.purpose, at);
    });
    if (link.purpose !== 'invite') {
      tellMember(
        api,
        link.member,
        'Your password was changed',
        `Your password was reset from ${partyOf(address)}. You’ve been signed out everywhere.\n\n${NOT_YOU}`,
      );
    }
    return { email };
  },
};
