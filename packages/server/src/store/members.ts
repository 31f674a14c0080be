import {
  type AgencySettings,
  agencySettings,
  type Holiday,
  type MemberSettings,
  memberSettings,
  type Role,
} from '@chronicon/core/contract';
import { z } from 'zod';
import { cached } from './cache.ts';
import { holidaysIn } from './holidays.ts';
import { newId } from './ids.ts';
import type { Store } from './store.ts';
import { storedOnce } from './stored.ts';

export interface Member {
  id: string;
  name: string;
  email: string;
  role: Role;
}

export type MemberState = 'active' | 'invited' | 'inactive';

/** With what decides whether they come in. */
export interface KnownMember extends Member {
  state: MemberState;
}

export interface Agency {
  name: string;
  /** Where its people work: the Desk's days are days there. */
  zone: string;
  /** The address that reports come from. */
  mailFrom: string;
  holidays: string[];
  /** The same days with what they are called. */
  namedHolidays: Holiday[];
  workingDays: number[];
  /** What new clients begin with: the first day of the week, 1 for Monday, and the language of reports. */
  weekStart: number;
  language: string;
  settings: AgencySettings;
}

/** What a new agency begins with. */
export type NewAgency = Pick<Agency, 'name' | 'zone' | 'mailFrom' | 'holidays' | 'workingDays'> &
  Partial<Pick<Agency, 'weekStart' | 'language'>> & { postalAddress?: string };

const columns = ['id', 'name', 'email', 'role', 'state'] as const;

export async function createAgency(db: Store, agency: NewAgency): Promise<void> {
  await db
    .insertInto('agency')
    .values({
      id: newId('ag'),
      name: agency.name,
      zone: agency.zone,
      mail_from: agency.mailFrom,
      holidays: JSON.stringify(agency.holidays.map((date) => ({ date, name: '' }))),
      working_days: JSON.stringify(agency.workingDays),
      week_start: agency.weekStart ?? 1,
      language: agency.language ?? 'en-GB',
      settings: JSON.stringify({ postalAddress: agency.postalAddress ?? '' }),
    })
    .execute();
}

const workingDaysIn = storedOnce(z.array(z.number()), 'an agency’s working days');
/** What an owner set beyond what the agency says of itself. */
export const agencySettingsIn = storedOnce<AgencySettings>(agencySettings, 'an agency’s settings');
const memberSettingsIn = storedOnce<MemberSettings>(memberSettings, 'a member’s settings');

/** The one agency of this Chronicon; null before it is set up. */
export const agencyOf = (db: Store): Promise<Agency | null> => cached(db, ['agency'], 'agency', () => readAgency(db));

async function readAgency(db: Store): Promise<Agency | null> {
  const row = await db.selectFrom('agency').selectAll().executeTakeFirst();
  if (!row) return null;
  const namedHolidays = holidaysIn(row.holidays);
  return {
    name: row.name,
    zone: row.zone,
    mailFrom: row.mail_from,
    holidays: namedHolidays.map((h) => h.date),
    namedHolidays,
    workingDays: workingDaysIn(row.working_days),
    weekStart: row.week_start,
    language: row.language,
    settings: agencySettingsIn(row.settings),
  };
}

export async function createMember(
  db: Store,
  member: { name: string; email: string; role: Role; password: string; at: string; state?: MemberState },
): Promise<Member> {
  const id = newId('me');
  const { at, ...rest } = member;
  await db
    .insertInto('member')
    .values({ id, ...rest, email: rest.email.toLowerCase(), created_at: at })
    .execute();
  return { id, name: member.name, email: member.email.toLowerCase(), role: member.role };
}

/** Whatever their state: what somebody did stays theirs. */
export async function memberById(db: Store, id: string): Promise<KnownMember | null> {
  return cached(db, ['member'], `member ${id}`, async () => {
    const row = await db.selectFrom('member').select(columns).where('id', '=', id).executeTakeFirst();
    return (row as KnownMember | undefined) ?? null;
  });
}

/** Everybody who may come in at present, by name. */
export async function activeMembers(db: Store): Promise<KnownMember[]> {
  const rows = await db.selectFrom('member').select(columns).where('state', '=', 'active').orderBy('name').execute();
  return rows as KnownMember[];
}

export const owners = async (db: Store): Promise<KnownMember[]> =>
  (await activeMembers(db)).filter((m) => m.role === 'owner');

/** Everybody who ever had a sign-in, by name, with what the table of people says of them. */
export async function allMembers(db: Store): Promise<(KnownMember & { factor: string | null; seen: string | null })[]> {
  const rows = await db
    .selectFrom('member')
    .select([...columns, 'factor'])
    .select((q) =>
      q
        .selectFrom('session')
        .select((s) => s.fn.max('seen_at').as('seen'))
        .whereRef('session.member_id', '=', 'member.id')
        .as('seen'),
    )
    .orderBy('name')
    .execute();
  return rows as (KnownMember & { factor: string | null; seen: string | null })[];
}

export const updateMember = async (
  db: Store,
  id: string,
  patch: Partial<{ name: string; role: Role; state: MemberState; settings: string }>,
): Promise<void> => {
  await db.updateTable('member').set(patch).where('id', '=', id).execute();
};

/** What a member set for themselves. */
export async function settingsOfMember(db: Store, id: string): Promise<MemberSettings> {
  const row = await db.selectFrom('member').select('settings').where('id', '=', id).executeTakeFirst();
  return memberSettingsIn(row?.settings ?? '{}');
}

/** With the stored password hash, for signing in alone. */
export async function memberByEmail(db: Store, email: string): Promise<(KnownMember & { password: string }) | null> {
  const row = await db
    .selectFrom('member')
    .select([...columns, 'password'])
    .where('email', '=', email.trim().toLowerCase())
    .executeTakeFirst();
  return (row as (KnownMember & { password: string }) | undefined) ?? null;
}

/** Sets the hash of a password in place of the one that was known. @returns false where that is another one by now */
export async function setPassword(db: Store, id: string, password: string, known: string): Promise<boolean> {
  const { numUpdatedRows } = await db
    .updateTable('member')
    .set({ password })
    .where('id', '=', id)
    .where('password', '=', known)
    .executeTakeFirst();
  return numUpdatedRows > 0n;
}

/** Sets the hash of a password, whatever it was. */
export async function replacePassword(db: Store, id: string, password: string): Promise<void> {
  await db.updateTable('member').set({ password }).where('id', '=', id).execute();
}

/** What every member is called, by id. */
export async function memberNames(db: Store): Promise<Map<string, string>> {
  const rows = await db.selectFrom('member').select(['id', 'name']).execute();
  return new Map(rows.map((m) => [m.id, m.name]));
}
