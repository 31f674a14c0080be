import type { Client, ScheduleInput } from '@chronicon/core/contract';

export type Reader = ScheduleInput['readers'][number];
export interface Colleague {
  id: string;
  name: string;
}

/** What tells a reader from others. */
export const keyOf = (r: Reader): string => ('contact' in r ? r.contact : 'list' in r ? r.list : r.member);

/** What a reader is called, as people are called now. */
export function readerName(client: Client, colleagues: readonly Colleague[], r: Reader): string {
  if ('list' in r) return client.lists.find((l) => l.id === r.list)?.name ?? 'a deleted list';
  if ('member' in r) return colleagues.find((m) => m.id === r.member)?.name ?? 'a member';
  const contact = client.contacts.find((c) => c.id === r.contact);
  return contact ? `${contact.firstName} ${contact.lastName}`.trim() : 'a removed reader';
}

/** Readers as a part of a sentence. */
export function readersWords(client: Client, colleagues: readonly Colleague[], readers: readonly Reader[]): string {
  const names = readers.map((r) => readerName(client, colleagues, r));
  return names.length <= 2 ? names.join(' and ') : `${names[0]} and ${names.length - 1} more`;
}
