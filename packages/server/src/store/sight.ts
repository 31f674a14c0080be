import { type RawBuilder, sql } from 'kysely';
import type { Member } from './members.ts';

/** Which clients a question is about: those that a member sees, or one of them. */
export interface Sight {
  member: Pick<Member, 'id' | 'role'>;
  client?: string | undefined;
}

type ClientColumn =
  | 'client.id'
  | 'edition.client_id'
  | 'feed.client_id'
  | 'file_import.client_id'
  | 'run.client_id'
  | 'schedule.client_id';

/** True for rows of clients within sight: owners see every client, the others those assigned to them. */
export function seenIn({ member, client }: Sight, column: ClientColumn): RawBuilder<boolean> {
  const own = sql.ref(column);
  const one = client === undefined ? sql`1 = 1` : sql`${own} = ${client}`;
  if (member.role === 'owner') return sql<boolean>`(${one})`;
  return sql<boolean>`(${one} and ${own} in (select client_id from assignment where member_id = ${member.id}))`;
}
