import type { MemberRow } from '@chronicon/core/contract';
import { invitations } from '../access/links.ts';
import { assignmentsOf, managedBy } from '../store/assignments.ts';
import { hasFactor } from '../store/factors.ts';
import { allMembers } from '../store/members.ts';
import type { ReadHandlers, Reading } from './reads/reading.ts';

/** Everybody with a sign-in, or one of them, with the clients that they see and manage. */
export async function memberRows(
  { store, clock }: Pick<Reading, 'store' | 'clock'>,
  id?: string,
): Promise<MemberRow[]> {
  const assigned = await assignmentsOf(store, id);
  const managed = await managedBy(store, id);
  const invited = await invitations(store, clock.now());
  const members = (await allMembers(store)).filter((m) => id === undefined || m.id === id);
  return members.map((m) => ({
    id: m.id,
    name: m.name,
    email: m.email,
    role: m.role,
    state: m.state,
    factor: hasFactor(m.factor),
    seen: m.seen,
    clients: assigned.get(m.id) ?? [],
    manages: managed.get(m.id) ?? [],
    invitedUntil: m.state === 'invited' ? (invited.get(m.id) ?? null) : null,
  }));
}

export const memberReadHandlers: ReadHandlers<'GET /api/members'> = {
  'GET /api/members': async ({ api }) => memberRows(api),
};
