import { MOST_SEGMENTS } from '@chronicon/core/bounds';
import type { RouteName } from '@chronicon/core/contract';
import { type FilterPart, SEGMENT } from '@chronicon/core/figures';
import { blocksOf, type ReportDocument } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { reportById, reportsNaming, reportsOf, type StoredReport } from '../store/reports.ts';
import { schedulesNaming, schedulesOf } from '../store/schedules.ts';
import { removeSegment, type StoredSegment, saveSegment, segmentsOf } from '../store/segments.ts';
import { inTransaction } from '../store/store.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';

const segmentsIn = (parts: readonly FilterPart[] = []): readonly string[] =>
  parts.flatMap((p) => (p.dimension === SEGMENT ? p.values : []));

const named = (document: ReportDocument): string[] => [
  ...segmentsIn(document.filter),
  ...blocksOf(document).flatMap((b) => segmentsIn(b.filter)),
];

/** Whether a report names a segment, as it is edited or as it goes out. */
const names = (report: StoredReport, id: string): boolean =>
  [report.document, ...(report.release ? [report.release.document] : [])].some((d) => named(d).includes(id));

/** @throws Refusal for a segment that the client does not have, or that is not the member's to change */
async function theSegment(api: Api, session: Session, clientId: string, id: string): Promise<StoredSegment> {
  const found = (await segmentsOf(api.store, clientId)).find((s) => s.id === id);
  if (!found) throw notFound('segment');
  if (found.clientId === null && session.member.role !== 'owner')
    throw new Refusal(403, 'This segment is for all clients: ask an owner to change it.');
  return found;
}

function checkName(all: readonly StoredSegment[], name: string, own?: string): void {
  if (all.some((s) => s.id !== own && s.name.toLowerCase() === name.toLowerCase()))
    throw atField('name', 'A segment with this name already exists.');
}

export const segmentHandlers: Handlers<Extract<RouteName, `${string}/segments${string}`>> = {
  'GET /api/clients/:client/segments': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const reports = await reportsOf(api.store, client.id);
    const schedules = await schedulesOf(api.store, client.id);
    const titleOf = (id: string) => reports.find((r) => r.id === id)?.title ?? '';
    return (await segmentsOf(api.store, client.id)).map(({ clientId, parts, ...s }) => ({
      ...s,
      parts: [...parts],
      shared: clientId === null,
      usedIn: [
        ...reports.filter((r) => names(r, s.id)).map((r) => r.title),
        ...schedules
          .filter((x) => segmentsIn(x.filter).includes(s.id))
          .map((x) => `a schedule of ${titleOf(x.reportId)}`),
      ],
    }));
  },

  'POST /api/clients/:client/segments': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { shared, ...input } = body;
    if (shared && session.member.role !== 'owner')
      throw new Refusal(403, 'Only owners can create segments for all clients.');
    const all = await segmentsOf(api.store, client.id);
    checkName(all, input.name);
    if (all.length >= MOST_SEGMENTS) throw new Refusal(422, `Limit reached: ${MOST_SEGMENTS} segments.`);
    const at = api.clock.now();
    const id = await inTransaction(api.store, async (tx) => {
      const made = await saveSegment(tx, shared ? null : client.id, input, at);
      const detail = { client: client.id, name: input.name };
      await record(tx, { at, actor: session.member.id, action: 'segment.saved', subject: made, detail });
      return made;
    });
    return { id };
  },

  'PUT /api/clients/:client/segments/:segment': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const segment = await theSegment(api, session, client.id, params.segment);
    checkName(await segmentsOf(api.store, client.id), body.name, segment.id);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await saveSegment(tx, segment.clientId, body, at, segment.id);
      const detail = { client: client.id, name: body.name };
      await record(tx, { at, actor: session.member.id, action: 'segment.saved', subject: segment.id, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'DELETE /api/clients/:client/segments/:segment': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const segment = await theSegment(api, session, client.id, params.segment);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      const mentioning = await reportsNaming(tx, segment.id, segment.clientId);
      const use = mentioning.find((r) => names(r, segment.id));
      if (use) throw new Refusal(409, `The report “${use.title}” uses this segment. Change it there first.`);
      const sending = (await schedulesNaming(tx, segment.id, segment.clientId)).find((s) =>
        segmentsIn(s.filter).includes(segment.id),
      );
      if (sending) {
        const title = (await reportById(tx, sending.reportId))?.title ?? '';
        throw new Refusal(409, `A schedule of “${title}” uses this segment. Change it there first.`);
      }
      await removeSegment(tx, segment, at);
      const detail = { client: client.id, name: segment.name };
      await record(tx, { at, actor: session.member.id, action: 'segment.removed', subject: segment.id, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
