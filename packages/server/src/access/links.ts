import { createHash, randomBytes } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import { type Member, memberById } from '../store/members.ts';
import type { Store } from '../store/store.ts';

/** What a link lets its member do: take an invitation, set a new password, or come in whatever was lost. */
export type LinkPurpose = 'invite' | 'reset' | 'let-in';

/** Minutes for which each is good. */
export const LINK_MINUTES: Record<LinkPurpose, number> = { invite: 3 * 24 * 60, reset: 30, 'let-in': 60 };

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('base64url');

/** A new link for a member, in place of those before it. @returns its secret of 128 bits; the hash alone is kept */
export async function makeLink(tx: Store, memberId: string, purpose: LinkPurpose, now: string): Promise<string> {
  await dropLinks(tx, memberId);
  await tx.deleteFrom('one_time_link').where('until', '<', now).execute();
  const secret = randomBytes(16).toString('base64url');
  const until = addMinutes(now, LINK_MINUTES[purpose]);
  await tx
    .insertInto('one_time_link')
    .values({ hash: hashOf(secret), purpose, member_id: memberId, until })
    .execute();
  return secret;
}

/** Links are good no more once the member's password, address or state has changed. */
export async function dropLinks(tx: Store, memberId: string): Promise<void> {
  await tx.deleteFrom('one_time_link').where('member_id', '=', memberId).execute();
}

export interface Link {
  purpose: LinkPurpose;
  member: Member;
  until: string;
}

/** What a secret opens now; null where it opens nothing, or nothing any more. */
export async function linkOf(db: Store, secret: string, now: string): Promise<Link | null> {
  const row = await db
    .selectFrom('one_time_link')
    .selectAll()
    .where('hash', '=', hashOf(secret))
    .where('until', '>=', now)
    .executeTakeFirst();
  const member = row && (await memberById(db, row.member_id));
  if (!row || !member || (member.state === 'inactive' && row.purpose !== 'let-in')) return null;
  return { purpose: row.purpose, member, until: row.until };
}

/** Until when each invited member's invitation can be taken. */
export async function invitations(db: Store, now: string): Promise<Map<string, string>> {
  const rows = await db
    .selectFrom('one_time_link')
    .select(['member_id', 'until'])
    .where('purpose', '=', 'invite')
    .where('until', '>=', now)
    .execute();
  return new Map(rows.map((r) => [r.member_id, r.until]));
}

/** The address of a link: the secret after the sign of a fragment, so that no server, proxy or log is sent it. */
export const linkAddress = (home: string, secret: string): string => new URL(`/link#${secret}`, home).href;
