import { createHash, randomBytes } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import type { Role, SignInRules } from '@chronicon/core/contract';
import { hasFactor } from '../store/factors.ts';
import type { Member } from '../store/members.ts';
import { agencySettingsIn } from '../store/members.ts';
import type { Store } from '../store/store.ts';

/** How long sessions last, in minutes: after their last use, and in all. */
const lastingOf = ({ idleHours, longestDays }: SignInRules) => ({ idle: idleHours * 60, most: longestDays * 24 * 60 });

const rulesOf = async (db: Store): Promise<SignInRules> => {
  const row = await db.selectFrom('agency').select('settings').executeTakeFirst();
  return agencySettingsIn(row?.settings ?? '{}').signIn;
};

export interface Session {
  member: Member;
  /** The agency asks for a second factor of this role, and the member has none: they may set one up, and nothing else. */
  mustSetUpFactor: boolean;
  /** Proves that a request comes from our own pages; a foreign page cannot read it. */
  csrf: string;
}

/** The store keeps a hash: who reads the database cannot take a session over. */
const idOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Where a session began: the address, and what the browser says of itself. */
export interface Origin {
  address: string;
  agent: string;
}

/** Characters of what a browser says of itself. */
const AGENT = 300;

/** Begins a session and returns the token for the cookie. */
export async function openSession(db: Store, memberId: string, now: string, from: Origin): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  const { idle } = lastingOf(await rulesOf(db));
  await db
    .insertInto('session')
    .values({
      id: idOf(token),
      member_id: memberId,
      csrf: randomBytes(24).toString('base64url'),
      created_at: now,
      expires_at: addMinutes(now, idle),
      seen_at: now,
      address: from.address,
      agent: from.agent.slice(0, AGENT),
    })
    .execute();
  await db.deleteFrom('session').where('expires_at', '<', now).execute();
  return token;
}

/**
 * The session of a cookie's token, its life renewed; null when there is none, it is over, or its member may not come in
 * any more. Read in one statement: every request asks for it.
 */
export async function sessionOf(db: Store, token: string, now: string): Promise<Session | null> {
  const row = await db
    .selectFrom('session')
    .innerJoin('member', 'member.id', 'session.member_id')
    .select(['session.id as session', 'csrf', 'expires_at', 'session.created_at as began'])
    .select(['member.id', 'member.name', 'member.email', 'member.role', 'member.state', 'member.factor'])
    .select((q) => q.selectFrom('agency').select('settings').limit(1).as('rules'))
    .where('session.id', '=', idOf(token))
    .executeTakeFirst();
  if (row?.state !== 'active') return null;
  const rules = agencySettingsIn(row.rules ?? '{}').signIn;
  const { idle, most } = lastingOf(rules);
  if (row.expires_at < now || row.began < addMinutes(now, -most)) return null;
  // Renewed at most once a minute: not every request has to write.
  if (row.expires_at < addMinutes(now, idle - 1)) {
    await db
      .updateTable('session')
      .set({ expires_at: addMinutes(now, idle), seen_at: now })
      .where('id', '=', row.session)
      .execute();
  }
  const { id, name, email, csrf } = row;
  const role = row.role as Role;
  return {
    member: { id, name, email, role },
    csrf,
    mustSetUpFactor: rules.secondFactor.includes(role) && !hasFactor(row.factor),
  };
}

/** Starts a session's life anew: who moves a demo's clock by days has not been away for days. */
export async function renewSession(db: Store, token: string, now: string): Promise<void> {
  const { idle } = lastingOf(await rulesOf(db));
  await db
    .updateTable('session')
    .set({ expires_at: addMinutes(now, idle), created_at: now, seen_at: now })
    .where('id', '=', idOf(token))
    .execute();
}

export async function closeSession(db: Store, token: string): Promise<void> {
  await db.deleteFrom('session').where('id', '=', idOf(token)).execute();
}

/** What a session is called in lists: enough of its id to tell it from others. */
const NAMED = 16;

/** A member's sessions that are not over: the one of this cookie's token (`current`), then the last used first. */
export async function sessionsOf(db: Store, memberId: string, now: string, token: string | null) {
  const { most } = lastingOf(await rulesOf(db));
  const rows = await db
    .selectFrom('session')
    .selectAll()
    .where('member_id', '=', memberId)
    .where('expires_at', '>=', now)
    .where('created_at', '>=', addMinutes(now, -most))
    .orderBy('seen_at', 'desc')
    .execute();
  const own = token === null ? null : idOf(token);
  return rows
    .map((r) => ({
      id: r.id.slice(0, NAMED),
      since: r.created_at,
      seen: r.seen_at,
      address: r.address,
      agent: r.agent,
      current: r.id === own,
    }))
    .sort((a, b) => Number(b.current) - Number(a.current));
}

/** Ends one of a member's own sessions, by what it is called. @returns whether there was one */
export async function endSession(db: Store, memberId: string, name: string): Promise<boolean> {
  if (!/^[0-9a-f]{16}$/.test(name)) return false;
  const { numDeletedRows } = await db
    .deleteFrom('session')
    .where('member_id', '=', memberId)
    .where('id', 'like', `${name}%`)
    .executeTakeFirst();
  return numDeletedRows > 0n;
}

/** Ends all of a member's sessions but the one of this token. */
export async function endOtherSessions(db: Store, memberId: string, token: string | null): Promise<void> {
  await db
    .deleteFrom('session')
    .where('member_id', '=', memberId)
    .where('id', '!=', token === null ? '' : idOf(token))
    .execute();
}

/** Ends all of a member's sessions. */
export const endAllSessions = (db: Store, memberId: string): Promise<void> => endOtherSessions(db, memberId, null);
