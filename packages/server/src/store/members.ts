import type { Role } from '@chronicon/core/contract';
import { newId } from './ids.ts';
import type { Store } from './store.ts';

export interface Member {
  id: string;
  name: string;
  email: string;
  role: Role;
}

export interface Agency {
  name: string;
  /** Where its people work: the Desk's days are days there. */
  zone: string;
  /** The address that reports come from. */
  mailFrom: string;
  holidays: string[];
  workingDays: number[];
  /** What new clients begin with: the first day of the week, 1 for Monday, and the language of reports. */
  weekStart: number;
  language: string;
}

const columns = ['id', 'name', 'email', 'role'] as const;

export async function createAgency(
  db: Store,
  agency: Omit<Agency, 'weekStart' | 'language'> & Partial<Agency>,
): Promise<void> {
  await db
    .insertInto('agency')
    .values({
      id: newId('ag'),
      name: agency.name,
      zone: agency.zone,
      mail_from: agency.mailFrom,
      holidays: JSON.stringify(agency.holidays),
      working_days: JSON.stringify(agency.workingDays),
      week_start: agency.weekStart ?? 1,
      language: agency.language ?? 'en-GB',
    })
    .execute();
}

/** The one agency of this Chronicon; null before it is set up. */
export async function agencyOf(db: Store): Promise<Agency | null> {
  const row = await db.selectFrom('agency').selectAll().executeTakeFirst();
  return row
    ? {
        name: row.name,
        zone: row.zone,
        mailFrom: row.mail_from,
        holidays: JSON.parse(row.holidays) as string[],
        workingDays: JSON.parse(row.working_days) as number[],
        weekStart: row.week_start,
        language: row.language,
      }
    : null;
}

export async function createMember(
  db: Store,
  member: { name: string; email: string; role: Role; password: string; at: string },
): Promise<Member> {
  const id = newId('me');
  const { at, ...rest } = member;
  await db
    .insertInto('member')
    .values({ id, ...rest, email: rest.email.toLowerCase(), created_at: at })
    .execute();
  return { id, name: member.name, email: member.email.toLowerCase(), role: member.role };
}

export async function memberById(db: Store, id: string): Promise<Member | null> {
  const row = await db.selectFrom('member').select(columns).where('id', '=', id).executeTakeFirst();
  return (row as Member | undefined) ?? null;
}

export async function owners(db: Store): Promise<Member[]> {
  return (await db.selectFrom('member').select(columns).where('role', '=', 'owner').execute()) as Member[];
}

/** With the stored password hash, for signing in alone. */
export async function memberByEmail(db: Store, email: string): Promise<(Member & { password: string }) | null> {
  const row = await db
    .selectFrom('member')
    .select([...columns, 'password'])
    .where('email', '=', email.trim().toLowerCase())
    .executeTakeFirst();
  return (row as (Member & { password: string }) | undefined) ?? null;
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

/** What every member is called, by id. */
export async function memberNames(db: Store): Promise<Map<string, string>> {
  const rows = await db.selectFrom('member').select(['id', 'name']).execute();
  return new Map(rows.map((m) => [m.id, m.name]));
}
