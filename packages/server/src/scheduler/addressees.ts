import { type GuardFault, guard } from '@chronicon/core/client';
import type { MailLine, ReaderRef } from '@chronicon/core/report';
import { contactsByIds, type StoredClient } from '../store/clients.ts';
import { memberById } from '../store/members.ts';
import type { Store } from '../store/store.ts';

/** Somebody whom an edition may be for, as they are now. */
export interface Addressee {
  id: string;
  firstName: string;
  name: string;
  email: string;
  line: MailLine;
  /** Why nothing is handed over to them; null when it may be. */
  fault: GuardFault | null;
}

/** Readers as they are now: who was removed, or signs in no more, is not among them. */
export async function addresseesOf(db: Store, client: StoredClient, refs: readonly ReaderRef[]): Promise<Addressee[]> {
  const ids = refs.flatMap((r) => ('contact' in r ? [r.contact] : []));
  const contacts = new Map((await contactsByIds(db, client.id, ids)).map((c) => [c.id, c]));
  const found: Addressee[] = [];
  for (const r of refs) {
    if ('contact' in r) {
      const c = contacts.get(r.contact);
      if (!c) continue;
      const { id, firstName, email } = c;
      const name = `${firstName} ${c.lastName}`.trim();
      found.push({ id, firstName, name, email, line: r.as ?? c.mailLine, fault: guard(client, c) });
    } else {
      const m = await memberById(db, r.member);
      if (m?.state !== 'active') continue;
      const { id, name, email } = m;
      found.push({ id, firstName: name.split(' ')[0]!, name, email, line: r.as ?? 'to', fault: null });
    }
  }
  return found;
}
