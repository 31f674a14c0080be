import { createHash } from 'node:crypto';
import { MOST_PASTED } from '@chronicon/core/bounds';
import { contactInput, type RouteName } from '@chronicon/core/contract';
import { atField, Refusal } from '../platform/refusal.ts';
import { contactsOf, saveContact } from '../store/clients.ts';
import { agencyOf, memberById } from '../store/members.ts';
import type { Store } from '../store/store.ts';
import { theClient } from './access.ts';
import { bringClients } from './bring/bringClients.ts';
import { first, readRows, textOf } from './bring/clientRows.ts';
import { planRows } from './bring/planRows.ts';
import { readPeople } from './bring/readPeople.ts';
import { changing } from './changing.ts';
import type { Handlers } from './context.ts';

const hashOf = (what: unknown): string => createHash('sha256').update(JSON.stringify(what)).digest('base64url');

const CHANGED = 'Something changed in the meantime. Review it again, then import.';
const MEANWHILE = 'Someone changed this client in the meantime. Review the file again to import this row.';

export const clientImportHandlers: Handlers<
  Extract<RouteName, 'POST /api/clients/import' | 'POST /api/clients/:client/contacts/many'>
> = {
  'POST /api/clients/import': async ({ api, session: { member }, body }) => {
    const { text, encoding } = textOf(body);
    const { rows, unread } = readRows(text);
    const at = api.clock.now();
    const agency = (await agencyOf(api.store))!;
    const own = (await memberById(api.store, member.id))!;
    const plan = await planRows(api.store, own, agency, rows, at);
    const seen = hashOf(plan.rows);
    if (body.seen !== null && body.seen !== seen) throw new Refusal(409, CHANGED);
    const left = body.seen === null ? new Set() : await bringClients(api, plan, { member: own, agency, at });
    const came = plan.rows.map((r) => (left.has(r.line) ? { ...r, does: [], problem: MEANWHILE } : r));
    const steps = plan.steps.filter((s) => !left.has(s.row.line));
    return {
      seen,
      done: body.seen !== null,
      text,
      encoding,
      unread,
      rows: came,
      clients: steps.filter((s) => s.makes).length,
      changed: steps.filter((s) => s.changes).length,
      contacts: steps.filter((s) => s.contact).length,
      leftOut: came.filter((r) => r.problem !== null).length,
    };
  },

  'POST /api/clients/:client/contacts/many': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const people = readPeople(body.text);
    if (people.length > MOST_PASTED) throw atField('text', `Paste at most ${MOST_PASTED} at a time.`);
    const plan = async (db: Store) => {
      const there = new Set((await contactsOf(db, client.id)).map((c) => c.email));
      return people.map((p) => {
        const read = contactInput.safeParse(p);
        if (!read.success) return { ...p, problem: first(read.error) };
        const email = read.data.email.toLowerCase();
        if (there.has(email)) return { ...p, email, problem: 'Already a contact.' };
        there.add(email);
        return { ...p, email, problem: null };
      });
    };
    if (body.seen === null) {
      const rows = await plan(api.store);
      return { seen: hashOf(rows), done: false, rows };
    }
    const rows = await changing(api, session, 'contacts.added', client.id, async (tx, at) => {
      const now = await plan(tx);
      if (hashOf(now) !== body.seen) throw new Refusal(409, CHANGED);
      for (const { problem, ...person } of now) if (problem === null) await saveContact(tx, client.id, person, at);
      return now;
    });
    return { seen: hashOf(rows), done: true, rows };
  },
};
