import { addDays, civilDateAt, instantOf } from '@chronicon/core/calendar';
import {
  type Invitation,
  MANAGERS,
  type MemberRow,
  ROLE_TABLE,
  type Role,
  type RouteName,
} from '@chronicon/core/contract';
import { dropLinks, linkAddress, makeLink } from '../access/links.ts';
import { endAllSessions } from '../access/sessions.ts';
import { sendLetter } from '../mail/letters.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { labelOf } from '../scheduler/causes.ts';
import { managedBy, setAssignments } from '../store/assignments.ts';
import { clientsByIds } from '../store/clients.ts';
import { connections } from '../store/connections.ts';
import { delegateClients, delegations, endDelegation } from '../store/delegation.ts';
import { editionsHeldOf } from '../store/editions.ts';
import { factorOf, setFactor } from '../store/factors.ts';
import { record } from '../store/ledger.ts';
import {
  activeMembers,
  agencyOf,
  createMember,
  type KnownMember,
  type Member,
  memberByEmail,
  memberById,
  owners,
  updateMember,
} from '../store/members.ts';
import { schedulesCounted } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Api, Handlers } from './context.ts';
import { memberRows } from './memberRows.ts';
import { homeOf, tellMember } from './tellMember.ts';

const ARTICLE: Record<Role, string> = {
  owner: 'an owner',
  manager: 'a manager',
  analyst: 'an analyst',
  reviewer: 'a reviewer',
};

const rowOf = async (api: Api, id: string): Promise<MemberRow> => (await memberRows(api, id))[0]!;

async function theMember(db: Store, id: string): Promise<KnownMember> {
  const found = await memberById(db, id);
  if (!found) throw notFound('member');
  return found;
}

/** @throws Refusal at `clients` where one of them is not there */
async function checkClients(db: Store, clients: readonly string[]): Promise<void> {
  const found = await clientsByIds(db, clients);
  if (clients.some((id) => !found.has(id))) throw atField('clients', 'One of these clients no longer exists.');
}

/** Sends the invitation. @returns what the mail server said; null where it did not take it */
async function sendInvitation(api: Api, member: Member, by: Member): Promise<string | null> {
  const at = api.clock.now();
  const secret = await inTransaction(api.store, async (tx) => {
    await record(tx, { at, actor: by.id, action: 'member.invited', subject: member.id });
    return makeLink(tx, member.id, 'invite', at);
  });
  const agency = (await agencyOf(api.store))!.name;
  const handed = await sendLetter(api, {
    to: member,
    subject: `${by.name} invited you to ${agency} on Chronicon`,
    text: `Hello ${member.name},\n\n${by.name} invited you to join ${agency} as ${ARTICLE[member.role]}. Set your password with the link below; it works once and expires in three days.\n\nNot expecting this? Ignore this email.`,
    link: linkAddress(homeOf(api), secret),
  });
  return handed.kind === 'accepted' ? handed.reply : null;
}

/** Nobody takes the last owner away: asked within the transaction that would. */
async function keepAnOwner(tx: Store, id: string): Promise<void> {
  const others = (await owners(tx)).filter((o) => o.id !== id);
  if (others.length === 0) {
    throw new Refusal(409, 'At least one owner is required. Make someone else an owner first.', {
      role: 'This is the last owner.',
    });
  }
}

/** Somebody who may have clients in hand. @throws Refusal at `field` */
async function receiver(db: Store, id: string, from: string, field: string): Promise<KnownMember> {
  const to = await memberById(db, id);
  if (to?.state !== 'active' || !MANAGERS.includes(to.role)) {
    throw atField(field, 'Choose an owner or a manager who works here.');
  }
  if (to.id === from) throw atField(field, 'Choose someone else.');
  return to;
}

const managedOf = async (db: Store, id: string) => (await managedBy(db, id)).get(id) ?? [];

export const peopleHandlers: Handlers<
  Exclude<
    Extract<
      RouteName,
      | 'GET /api/roles'
      | 'GET /api/colleagues'
      | `${string} /api/members${string}`
      | `${string} /api/delegations${string}`
    >,
    'GET /api/members'
  >
> = {
  'GET /api/roles': async () => [...ROLE_TABLE],

  'GET /api/colleagues': async ({ api }) =>
    (await activeMembers(api.store)).map(({ id, name, role }) => ({ id, name, role })),

  'POST /api/members': async ({ api, session, body }) => {
    const { email, name, role, clients } = body satisfies Invitation;
    const known = await memberByEmail(api.store, email);
    if (known) throw atField('email', `${known.name} already has this address.`);
    await checkClients(api.store, clients);
    const at = api.clock.now();
    const member = await inTransaction(api.store, async (tx) => {
      const made = await createMember(tx, { name, email, role, password: '', state: 'invited', at });
      await setAssignments(tx, made.id, clients);
      return made;
    });
    const sent = await sendInvitation(api, member, session.member);
    return { member: await rowOf(api, member.id), sent };
  },

  'POST /api/members/:member/invitation': async ({ api, session, params }) => {
    const member = await theMember(api.store, params.member);
    if (member.state !== 'invited') throw new Refusal(409, `${member.name} already has an account.`);
    return { sent: await sendInvitation(api, member, session.member) };
  },

  'PUT /api/members/:member': async ({ api, session, params, body }) => {
    const { id } = await theMember(api.store, params.member);
    await checkClients(api.store, body.clients);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      const before = await theMember(tx, id);
      if (before.role === 'owner' && before.state === 'active' && body.role !== 'owner') await keepAnOwner(tx, id);
      const managed = await managedOf(tx, id);
      if (!MANAGERS.includes(body.role) && managed.length > 0) {
        throw atField('role', `${before.name} manages ${managed.length} clients. Hand over first.`);
      }
      const away = (await delegations(tx)).find((h) => h.from_member === id);
      if (!MANAGERS.includes(body.role) && away) {
        const holder = (await memberById(tx, away.to_member))?.name ?? 'A colleague';
        throw atField('role', `${holder} has clients of ${before.name} temporarily. Take those back first.`);
      }
      await updateMember(tx, id, { name: body.name, role: body.role });
      await setAssignments(tx, id, body.clients);
      const detail = { role: body.role, before: before.role, clients: body.clients.length };
      await record(tx, { at, actor: session.member.id, action: 'member.changed', subject: id, detail });
    });
    return rowOf(api, id);
  },

  'GET /api/members/:member/holdings': async ({ api, params }) => {
    const { id } = await theMember(api.store, params.member);
    const manages = await managedOf(api.store, id);
    const ids = manages.map((c) => c.id);
    const clients = await clientsByIds(api.store, ids);
    const schedules = [...(await schedulesCounted(api.store, ids)).values()].reduce((a, b) => a + b, 0);
    const waiting = (await editionsHeldOf(api.store, ids)).map((edition) => ({
      id: edition.id,
      label: labelOf(edition, clients.get(edition.client_id)!),
    }));
    const made = (await connections(api.store)).filter((c) => c.made_by === id).length;
    return { manages, schedules, waiting, connections: made };
  },

  'PUT /api/members/:member/active': async ({ api, session, params, body }) => {
    const { id, name } = await theMember(api.store, params.member);
    const by = session.member.id;
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      const before = await theMember(tx, id);
      if ((before.state !== 'inactive') === body.active) return;
      if (body.active) {
        const everSignedIn = (await memberByEmail(tx, before.email))!.password !== '';
        await updateMember(tx, id, { state: everSignedIn ? 'active' : 'invited' });
        await record(tx, { at, actor: by, action: 'member.activated', subject: id });
        return;
      }
      if (before.role === 'owner' && before.state === 'active') await keepAnOwner(tx, id);
      const managed = await managedOf(tx, id);
      if (managed.length > 0) {
        if (body.to === null) throw atField('to', `${name} manages ${managed.length} clients. Choose who takes them.`);
        const to = await receiver(tx, body.to, id, 'to');
        const clients = managed.map((c) => c.id);
        await delegateClients(tx, { from: id, to: to.id, clients, until: null, by, at });
      }
      await updateMember(tx, id, { state: 'inactive' });
      await setAssignments(tx, id, []);
      await dropLinks(tx, id);
      await endAllSessions(tx, id);
      const detail = { to: body.to, clients: managed.map((c) => c.id) };
      await record(tx, { at, actor: by, action: 'member.deactivated', subject: id, detail });
    });
    api.scheduler.nudge();
    return rowOf(api, id);
  },

  'DELETE /api/members/:member/factor': async ({ api, session, params }) => {
    const member = await theMember(api.store, params.member);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await setFactor(tx, member.id, null, await factorOf(tx, member.id));
      await endAllSessions(tx, member.id);
      await record(tx, { at, actor: session.member.id, action: 'factor.removed', subject: member.id });
    });
    tellMember(
      api,
      member,
      'Two-factor authentication is off',
      `${session.member.name} removed two-factor authentication from your account. Set it up again at your next sign-in.\n\nIf you didn’t ask for this, contact an owner immediately.`,
    );
    return { done: true };
  },

  'GET /api/delegations': async ({ api, session: { member } }) => {
    const agency = (await agencyOf(api.store))!;
    const all = (await delegations(api.store)).filter(
      (h) => member.role === 'owner' || h.from_member === member.id || h.to_member === member.id,
    );
    return Promise.all(
      all.map(async (h) => {
        const clients = await clientsByIds(
          api.store,
          h.clients.map((c) => c.client),
        );
        const named = async (id: string) => ({ id, name: (await memberById(api.store, id))?.name ?? '' });
        return {
          id: h.id,
          from: await named(h.from_member),
          to: await named(h.to_member),
          clients: [...clients.values()].map(({ id, name }) => ({ id, name })),
          through: addDays(civilDateAt(h.until, agency.zone), -1),
        };
      }),
    );
  },

  'POST /api/delegations': async ({ api, session: { member }, body }) => {
    const { from, through } = body;
    if (from !== member.id && member.role !== 'owner') {
      throw new Refusal(403, 'You can only hand over your own clients, unless you’re an owner.');
    }
    const at = api.clock.now();
    const { zone } = (await agencyOf(api.store))!;
    if (through !== null && through < civilDateAt(at, zone)) throw atField('through', 'Choose today or a later day.');
    // Through the whole of that day, by the agency's clock.
    const until = through === null ? null : instantOf(addDays(through, 1), '00:00', zone);
    await inTransaction(api.store, async (tx) => {
      const to = await receiver(tx, body.to, from, 'to');
      const managed = new Set((await managedOf(tx, from)).map((c) => c.id));
      if (body.clients.some((id) => !managed.has(id))) {
        throw atField('clients', 'Choose clients that they manage now.');
      }
      const clients = [...new Set(body.clients)];
      await delegateClients(tx, { from, to: to.id, clients, until, by: member.id, at });
      const detail = { to: to.id, clients, through };
      await record(tx, { at, actor: member.id, action: 'clients.handed-over', subject: from, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'DELETE /api/delegations/:delegation': async ({ api, session: { member }, params }) => {
    const found = (await delegations(api.store)).find((h) => h.id === params.delegation);
    const own = found && [found.from_member, found.to_member].includes(member.id);
    if (!found || !(own || member.role === 'owner')) throw notFound('delegation');
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      const back = await endDelegation(tx, found, at);
      const detail = { clients: back ?? [], to: found.from_member };
      await record(tx, { at, actor: member.id, action: 'clients.back', subject: found.to_member, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
