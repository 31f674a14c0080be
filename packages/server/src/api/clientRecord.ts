import { TEXT } from '@chronicon/core/bounds';
import type { RouteName } from '@chronicon/core/contract';
import { designFor, generalDesign, namedFor, typedTexts, withoutName } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { activate, deactivate } from '../scheduler/inactive.ts';
import { createSchedule, setScheduleState } from '../store/changeSchedule.ts';
import { createClient, type StoredClient, updateMetrics } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { createReport, reportsOf } from '../store/reports.ts';
import { schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { setTags, tagsOf } from '../store/tags.ts';
import { theClient } from './access.ts';
import { changing } from './changing.ts';
import { describeClient } from './clients.ts';
import type { Handlers } from './context.ts';

/** Reports as drafts, each with its paused schedules, whose readers are still to be chosen. */
async function copyPlans(tx: Store, from: StoredClient, to: StoredClient, at: string): Promise<void> {
  const made = new Map<string, string>();
  for (const r of await reportsOf(tx, from.id)) {
    // Whoever makes the copy sees both clients: what was typed comes along, with the other name.
    const agreed = new Set(typedTexts(r.document).map((t) => t.text));
    const general = generalDesign(r.document, { clientName: from.name, words: wordsFor(from.language) }, agreed);
    const title = namedFor(withoutName(r.title, from.name), to.name, TEXT.title);
    made.set(r.id, (await createReport(tx, { clientId: to.id, title, document: designFor(general, to.name), at })).id);
  }
  for (const s of await schedulesOf(tx, from.id)) {
    const reportId = made.get(s.reportId);
    if (reportId === undefined) continue;
    const groups = s.groups && { ...s.groups, groups: s.groups.groups.map((g) => ({ ...g, readers: [] })) };
    const { id } = await createSchedule(tx, to.id, { ...s, reportId, readers: [], groups, exceptions: {} }, at);
    await setScheduleState(tx, id, 'paused', at);
  }
}

export const clientRecordHandlers: Handlers<
  Extract<RouteName, `${string} /api/clients/:client/${'tags' | 'inactive' | 'duplicate'}`>
> = {
  'PUT /api/clients/:client/tags': async ({ api, session, params, body }) => {
    const { id } = await theClient(api.store, session.member, params.client);
    await changing(api, session, 'tags.changed', id, (tx) => setTags(tx, id, body.tags));
    return describeClient(api.store, id);
  },

  'PUT /api/clients/:client/inactive': async ({ api, session: { member }, params, body }) => {
    const { id } = await theClient(api.store, member, params.client);
    const by = { at: api.clock.now(), actor: member.id, name: member.name };
    await inTransaction(api.store, async (tx) => {
      const now = await theClient(tx, member, id);
      if ((now.inactiveSince !== null) === body.inactive) return;
      await (body.inactive ? deactivate : activate)(tx, id, by);
    });
    api.scheduler.nudge();
    return describeClient(api.store, id);
  },

  'POST /api/clients/:client/duplicate': async ({ api, session: { member }, params, body }) => {
    const from = await theClient(api.store, member, params.client);
    const at = api.clock.now();
    return inTransaction(api.store, async (tx) => {
      const { id: _, managerId: __, inactiveSince: ___, brand, metrics, ...input } = from;
      const made = await createClient(
        tx,
        { ...input, name: body.name, site: '', reference: '' },
        { managerId: member.id, at, brand },
      );
      await updateMetrics(tx, made.id, metrics, at);
      await setTags(tx, made.id, (await tagsOf(tx, [from.id])).get(from.id)!);
      await copyPlans(tx, from, made, at);
      const detail = { from: from.id };
      await record(tx, { at, actor: member.id, action: 'client.duplicated', subject: made.id, detail });
      return describeClient(tx, made.id);
    });
  },
};
