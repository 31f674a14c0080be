import { wallClock } from '@chronicon/core/calendar';
import type { Edition, RouteName } from '@chronicon/core/contract';
import { formatterOf } from '../press/draw.ts';
import { clientById, clientsSeenBy, contactsOf } from '../store/clients.ts';
import { type EditionRow, findEditions, moveEdition, ordersOf } from '../store/editions.ts';
import { memberById } from '../store/members.ts';
import { deliveriesOf, moveDelivery } from '../store/messages.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theEdition } from './access.ts';
import type { Handlers } from './context.ts';
import { Refusal } from './refusal.ts';

const PAGE_SIZE = 25;

/** Names of those whom an edition is for, as they are called now. */
async function readerNames(db: Store, e: EditionRow): Promise<string[]> {
  const contacts = await contactsOf(db, e.client_id);
  const names = ordersOf(e).readers.map(async (r) => {
    if ('member' in r) return (await memberById(db, r.member))?.name;
    const contact = contacts.find((c) => c.id === r.contact);
    return contact ? `${contact.firstName} ${contact.lastName}`.trim() : 'a contact who was removed';
  });
  return (await Promise.all(names)).flatMap((n) => n ?? []);
}

async function describe(db: Store, rows: EditionRow[]): Promise<Edition[]> {
  const deliveries = await deliveriesOf(
    db,
    rows.map((r) => r.id),
  );
  return Promise.all(
    rows.map(async (e) => {
      const client = (await clientById(db, e.client_id))!;
      const english = formatterOf('en-GB', client.currency);
      const named = (from: string | null, to: string | null) =>
        from && to ? { from, to, label: english.range({ from, to }) } : null;
      return {
        id: e.id,
        number: e.number,
        clientId: client.id,
        clientName: client.name,
        colour: client.brand.main,
        title: ordersOf(e).title,
        kind: e.kind,
        period: named(e.period_from, e.period_to),
        compared: named(e.compared_from, e.compared_to),
        state: e.state,
        reason: e.reason,
        dueAt: e.due_at,
        local: wallClock(e.due_at, client.zone),
        hasPdf: e.pdf !== null,
        readers: await readerNames(db, e),
        deliveries: deliveries
          .filter((d) => d.edition_id === e.id)
          .map((d) => ({
            email: d.email,
            name: d.name,
            state: d.state,
            tries: d.tries,
            reply: d.reply,
            nextTry: d.state === 'deferred' ? d.next_at : null,
          })),
      };
    }),
  );
}

export const editionHandlers: Handlers<Extract<RouteName, `${string}/editions${string}`>> = {
  'GET /api/editions': async ({ api, session, query }) => {
    const seen = (await clientsSeenBy(api.store, session.member)).map((c) => c.id);
    const clientIds = query.client ? seen.filter((id) => id === query.client) : seen;
    const { rows, total } = await findEditions(
      api.store,
      { clientIds, state: query.state, text: query.text?.trim() || undefined },
      { offset: (query.page - 1) * PAGE_SIZE, limit: PAGE_SIZE },
    );
    return { editions: await describe(api.store, rows), total, pageSize: PAGE_SIZE };
  },

  'GET /api/editions/:edition': async ({ api, session, params }) =>
    (await describe(api.store, [await theEdition(api.store, session.member, params.edition)]))[0]!,

  'POST /api/editions/:edition/retry': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    const at = api.clock.now();
    const by = { at, actor: session.member.id };
    if (e.state !== 'held' && e.state !== 'part-sent') {
      throw new Refusal(409, `This edition is ${e.state}: there is nothing to take up again.`);
    }
    await inTransaction(api.store, async (tx) => {
      const refused = (await deliveriesOf(tx, [e.id])).filter((d) => d.state === 'refused');
      for (const d of refused) await moveDelivery(tx, d, 'queued', { tries: 0, next_at: at }, at);
      const to = refused.length > 0 ? 'sending' : e.pdf ? 'cleared' : 'gathering';
      // Due anew from now: a person asked for it, however long ago its time was.
      await moveEdition(tx, e, to, { next_at: at, due_at: at }, by);
    });
    api.clockwork.nudge();
    return { done: true };
  },

  'POST /api/editions/:edition/skip': async ({ api, session, params }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    if (!['planned', 'gathering', 'cleared', 'held'].includes(e.state)) {
      throw new Refusal(409, `This edition is ${e.state}: it can no longer be left out.`);
    }
    const by = { at: api.clock.now(), actor: session.member.id };
    await moveEdition(api.store, e, 'skipped', { reason: `Left out by ${session.member.name}.`, next_at: null }, by);
    return { done: true };
  },
};
