import type { RouteName, ScheduleInput } from '@chronicon/core/contract';
import { atField, refusalText } from '../platform/refusal.ts';
import { keepAct, keepChange, settleAct } from '../store/bulkActs.ts';
import { createSchedule, setScheduleState } from '../store/changeSchedule.ts';
import { clientById, clientsIn, contactsOfAll } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { likeReports } from '../store/likeReports.ts';
import { scheduleById } from '../store/schedules.ts';
import { inSeries, joinSeries, seriesFor, seriesOf } from '../store/series.ts';
import { inTransaction } from '../store/store.ts';
import { tagsIn, tagsOf } from '../store/tags.ts';
import { theClient, theSchedule } from './access.ts';
import { describeContact } from './contacts.ts';
import type { Handlers } from './context.ts';
import { doneBefore, inTurns, type Turn } from './inTurns.ts';
import { inputOf, standingOf } from './scheduleActs.ts';
import { checked, wellFormed } from './scheduleChecks.ts';

/** What scheduling one client came to; neither where it had the schedule already. */
interface Came {
  made: number;
  problem: { client: string; text: string } | null;
}

export const seriesHandlers: Handlers<Extract<RouteName, `${string}/series`>> = {
  'GET /api/schedules/:schedule/series': async ({ api, session: { member }, params, query }) => {
    const source = await theSchedule(api.store, member, params.schedule);
    const series = await seriesOf(api.store, source.id);
    const tags = await tagsIn(api.store, { member });
    const own = (await tagsOf(api.store, [source.clientId])).get(source.clientId) ?? [];
    const tag = query.tag || (series[0]?.tag ?? own[0] ?? '');
    if (tag === '') return { tags, tag, clients: [] };
    const clients = (await clientsIn(api.store, { member, scope: `tag:${tag}`, working: true })).filter(
      (c) => c.id !== source.clientId,
    );
    const ids = clients.map((c) => c.id);
    const reports = await likeReports(api.store, source.reportId, ids);
    const contacts = await contactsOfAll(api.store, ids);
    const made = await inSeries(
      api.store,
      series.filter((s) => s.tag.toLowerCase() === tag.toLowerCase()).map((s) => s.id),
    );
    return {
      tags,
      tag,
      clients: clients.map((c) => ({
        id: c.id,
        name: c.name,
        report: reports.get(c.id) ?? null,
        schedule: made.get(c.id) ?? null,
        contacts: (contacts.get(c.id) ?? []).map((x) => {
          const { id, firstName, lastName, stopped } = describeContact(c, x);
          return { id, name: `${firstName} ${lastName}`.trim(), stopped };
        }),
      })),
    };
  },

  'POST /api/schedules/:schedule/series': async ({ api, session, params, body }) => {
    const { member } = session;
    const source = await theSchedule(api.store, member, params.schedule);
    if (source.groups) throw atField('tag', 'A schedule with its own groups works for one client only.');
    const ids = body.clients.map((c) => c.client);
    if (new Set(ids).size !== ids.length) throw atField('clients', 'Choose each client once.');
    for (const id of ids) await theClient(api.store, member, id);
    const reports = await likeReports(api.store, source.reportId, ids);
    const tags = await tagsOf(api.store, ids);
    const at = api.clock.now();
    const seriesId = await inTransaction(api.store, (tx) =>
      seriesFor(tx, source.id, body.tag, { member: member.id, at }),
    );
    const said = (n: number) => ({
      what: `Scheduled for ${n} ${n === 1 ? 'client' : 'clients'} of ${body.tag}`,
      count: n,
    });
    const act = await keepAct(api.store, { at, by: member.id, ...said(ids.length) });
    const turnOf = (c: (typeof body.clients)[number]): Turn<Came> => ({
      async run(tx) {
        const client = (await clientById(tx, c.client))!;
        const problem = (text: string): Came => ({ made: 0, problem: { client: client.name, text } });
        const report = reports.get(client.id);
        if ((await inSeries(tx, [seriesId])).has(client.id)) return { made: 0, problem: null };
        if (client.id === source.clientId) return problem('It already has this schedule.');
        if (!tags.get(client.id)!.some((t) => t.toLowerCase() === body.tag.toLowerCase()))
          return problem(`It doesn’t have the tag ${body.tag}.`);
        if (!report) return problem('It has no released report with the same template or title.');
        const asked = {
          ...inputOf(source),
          reportId: report.id,
          zone: client.zone,
          exceptions: {},
          pages: null,
          assumed: {},
          filter: [],
          readers: c.readers,
          fileName: c.fileName || source.fileName,
          message: c.greeting === '' ? source.message : `${c.greeting}\n\n${source.message}`,
        };
        let input: ScheduleInput;
        try {
          input = await checked({ ...api, store: tx }, client, wellFormed(asked));
          if (input.readers.length === 0 && !input.archive) throw atField('readers', 'Choose readers.');
        } catch (err) {
          return problem(refusalText(err));
        }
        const { id } = await createSchedule(tx, client.id, input, at);
        if (source.state === 'paused') await setScheduleState(tx, id, 'paused', at);
        await joinSeries(tx, id, seriesId);
        await record(tx, { at, actor: member.id, action: 'schedule.started', subject: id });
        const after = standingOf((await scheduleById(tx, id))!);
        await keepChange(tx, act, { kind: 'schedule', id, before: { ...after, state: 'ended' }, after });
        return { made: 1, problem: null };
      },
    });
    const settle = (came: readonly Came[]) =>
      inTransaction(api.store, async (tx) => {
        const made = came.reduce((sum, c) => sum + c.made, 0);
        await settleAct(tx, act, said(made));
        if (made > 0)
          await record(tx, { at, actor: member.id, action: 'schedules.many', subject: act, detail: said(made) });
        return made;
      });
    const came = await inTurns(api, body.clients.map(turnOf)).catch(async (error: unknown) => {
      await settle(doneBefore<Came>(error));
      throw error;
    });
    const made = await settle(came);
    const problems = came.flatMap((c) => c.problem ?? []);
    api.scheduler.nudge();
    return { made, problems };
  },
};
