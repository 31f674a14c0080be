import { guard, isUsualAddress } from '@chronicon/core/client';
import type { BulkAct, Somebody } from '@chronicon/core/contract';
import type { ScheduleReader } from '@chronicon/core/report';
import type { StoredSchedule } from '../store/schedules.ts';
import type { ClientAround } from './around.ts';

/** Somebody at one client: who is there, or who would be made a contact there. */
export type Found = { reader: ScheduleReader; name: string } | { make: Exclude<Somebody, { member: string }> };

/** A member's id, not an address. */
export const isMember = (key: string): boolean => !key.includes('@');

/** The reader at a client whom a member's id or an address stands for; null where there is none. */
export function readerAt(around: ClientAround, key: string): ScheduleReader | null {
  if (isMember(key)) return { member: key };
  const contact = [...around.contacts.values()].find((c) => c.email === key.trim().toLowerCase());
  return contact ? { contact: contact.id } : null;
}

/** Who is to read at a client, or why they cannot. */
export function somebodyAt(
  around: ClientAround,
  who: Somebody,
  outside: boolean,
): { ok: true; found: Found } | { ok: false; problem: string } {
  const { client } = around;
  if ('member' in who) {
    const name = around.members.get(who.member);
    if (name === undefined) return { ok: false, problem: 'Member not found.' };
    return { ok: true, found: { reader: { member: who.member }, name } };
  }
  const email = who.email.trim().toLowerCase();
  const contact = [...around.contacts.values()].find((c) => c.email === email);
  const asked = `${email} is outside the usual domains of ${client.name}: confirm the address.`;
  if (contact) {
    const fault = guard(client, contact);
    const name = `${contact.firstName} ${contact.lastName}`.trim();
    if (fault === 'outside' && !outside) return { ok: false, problem: asked };
    if (fault !== null && fault !== 'outside') return { ok: false, problem: `${name} is marked as ${fault} there.` };
    return { ok: true, found: { reader: { contact: contact.id }, name } };
  }
  if (!isUsualAddress(client, email) && client.domains !== '' && !outside) return { ok: false, problem: asked };
  return { ok: true, found: { make: { ...who, email } } };
}

const same = (a: ScheduleReader, b: ScheduleReader): boolean =>
  ('contact' in a && 'contact' in b && a.contact === b.contact) ||
  ('member' in a && 'member' in b && a.member === b.member) ||
  ('list' in a && 'list' in b && a.list === b.list);

/** Readers without one; or with another in the place of one, in the same line; each once. */
export function exchanged(
  readers: readonly ScheduleReader[],
  from: ScheduleReader,
  to: ScheduleReader | null,
): ScheduleReader[] {
  if (to === null) return readers.filter((r) => !same(r, from));
  const already = readers.some((r) => same(r, to));
  return readers.flatMap((r) => {
    if (!same(r, from)) return [r];
    return already ? [] : [{ ...to, ...(r.as && { as: r.as }) }];
  });
}

/** The readers of a schedule and of its groups, each list of them changed by the same rule. */
export function changeReaders<S extends Pick<StoredSchedule, 'readers' | 'groups'>>(
  s: S,
  change: (readers: readonly ScheduleReader[]) => ScheduleReader[],
): S {
  const groups = s.groups && {
    ...s.groups,
    groups: s.groups.groups.map((g) => ({ ...g, readers: change(g.readers) })),
  };
  return { ...s, readers: change(s.readers), groups };
}

/** Whether an act is about somebody who reads. */
export const isOfPeople = (act: BulkAct): act is Extract<BulkAct, { do: 'add' | 'drop' | 'replace' }> =>
  act.do === 'add' || act.do === 'drop' || act.do === 'replace';
