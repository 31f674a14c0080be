import { grouped } from '../../platform/grouped.ts';
import { assign } from '../../store/assignments.ts';
import { changeClient, clientsCalled, createClient, newBrand, saveContact } from '../../store/clients.ts';
import { record } from '../../store/ledger.ts';
import { folded } from '../../store/like.ts';
import type { Agency, Member } from '../../store/members.ts';
import type { Store, StoreTransaction } from '../../store/store.ts';
import { setTags } from '../../store/tags.ts';
import { updateClient } from '../../store/updateClient.ts';
import type { Api } from '../context.ts';
import { inTurns } from '../inTurns.ts';
import { type Plan, type Step, standingNow } from './planRows.ts';

interface By {
  member: Member;
  agency: Agency;
  at: string;
}

/** Whether a client is still as it was looked at; one that is to be made, still not there. */
async function isAsSeen(tx: Store, { client, makes }: Step, { member }: By): Promise<boolean> {
  if (client.id === null) return (await clientsCalled(tx, { member }, makes!)).length === 0;
  return (await standingNow(tx, client.id)) === client.was;
}

/** Brings the rows of one client. */
async function bringClient(tx: Store, steps: readonly Step[], { member, agency, at }: By): Promise<void> {
  const [{ client, makes }] = steps as [Step, ...Step[]];
  const by = { at, actor: member.id };
  let id = client.id;
  if (id === null) {
    id = (await createClient(tx, makes!, { managerId: member.id, at, brand: newBrand(agency.settings.brand) })).id;
    await record(tx, { ...by, action: 'client.created', subject: id });
  }
  for (const { changes, contact, tags, managerId } of steps) {
    if (changes) {
      await updateClient(tx, id, changes, at);
      await record(tx, { ...by, action: 'client.changed', subject: id, detail: { by: 'import' } });
    }
    if (contact) {
      const made = await saveContact(tx, id, contact, at);
      await record(tx, { ...by, action: 'contact.added', subject: id, detail: { contact: made.id } });
    }
    await setTags(tx, id, tags);
    if (managerId !== null) {
      await assign(tx, managerId, id);
      await changeClient(tx, id, { manager_id: managerId }, at);
      await record(tx, { ...by, action: 'clients.handed-over', subject: id, detail: { to: managerId } });
    }
  }
}

/** Brings the rows of one client, or of all clients to be made of one name. @returns the lines that nothing was done with */
async function bringTogether(tx: Store, clients: readonly (readonly Step[])[], by: By): Promise<number[]> {
  for (const [step] of clients) if (!(await isAsSeen(tx, step!, by))) return clients.flat().map((s) => s.row.line);
  for (const steps of clients) await bringClient(tx, steps, by);
  return [];
}

/**
 * Does what was planned, a few clients to a transaction: others write meanwhile.
 * @returns the lines whose client somebody else changed meanwhile: nothing was done with those
 * @throws StoppedHalfway where it stops after some clients
 */
export async function bringClients(api: Api, plan: Plan, by: By): Promise<Set<number>> {
  const clients = [...grouped(plan.steps, (s) => s.client).values()];
  const together = grouped(clients, ([step]) => step!.client.id ?? folded(step!.client.name));
  const turns = [...together.values()].map((all) => ({ run: (tx: StoreTransaction) => bringTogether(tx, all, by) }));
  return new Set((await inTurns(api, turns)).flat());
}
