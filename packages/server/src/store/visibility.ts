import { type RawBuilder, sql } from 'kysely';
import type { Member } from './members.ts';

/** Which clients a question is about: those that a member sees, or one of them. */
export interface Visibility {
  member: Pick<Member, 'id' | 'role'>;
  client?: string | undefined;
  /** `mine` (those the member manages), or `tag:` with a tag's name; nothing for all of them. */
  scope?: string | undefined;
  /** Whether clients that were put aside are left out. */
  working?: boolean | undefined;
}

/** All tables that {@link seenIn} asks. */
export const VISIBILITY_TABLES = ['client', 'assignment', 'client_tag'] as const;

/** The same text for the same clients, as long as none of those tables is written to. */
export const visibilityKey = ({ member, client, scope = '', working = false }: Visibility): string =>
  JSON.stringify([
    member.role === 'owner' && scope !== 'mine' ? '' : `${member.role} ${member.id}`,
    client,
    scope,
    working,
  ]);

type ClientColumn =
  | 'client.id'
  | 'contact.client_id'
  | 'edition.client_id'
  | 'feed.client_id'
  | 'file_import.client_id'
  | 'report.client_id'
  | 'run.client_id'
  | 'schedule.client_id';

/** True for rows of clients that the member sees: owners see every client, the others those assigned to them. */
export function seenIn({ member, client, scope = '', working }: Visibility, column: ClientColumn): RawBuilder<boolean> {
  const own = sql.ref(column);
  const one = client === undefined ? sql`1 = 1` : sql`${own} = ${client}`;
  const all = [one];
  if (member.role !== 'owner')
    all.push(sql`${own} in (select client_id from assignment where member_id = ${member.id})`);
  if (scope === 'mine') all.push(sql`${own} in (select id from client where manager_id = ${member.id})`);
  if (scope.startsWith('tag:')) {
    all.push(
      sql`${own} in (select client_id from client_tag where tag = ${scope.slice('tag:'.length)} collate nocase)`,
    );
  }
  if (working) all.push(sql`${own} not in (select id from client where inactive_at is not null)`);
  return sql<boolean>`(${sql.join(all, sql` and `)})`;
}
