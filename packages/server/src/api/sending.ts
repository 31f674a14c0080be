import { wallClock } from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import { Refusal } from '../platform/refusal.ts';
import { labelOf } from '../scheduler/causes.ts';
import { isQuiet } from '../scheduler/mailPace.ts';
import { clientById, clientsSeenBy } from '../store/clients.ts';
import { editionById, markHeldForOddDays, moveEdition, ordersOf, unsettled } from '../store/editions.ts';
import { settleIdentity } from '../store/identity.ts';
import { lastBeat } from '../store/instances.ts';
import { record } from '../store/ledger.ts';
import { mailRules } from '../store/mailRules.ts';
import { memberById } from '../store/members.ts';
import { resumeSending, sendingStops, stopSending } from '../store/sendingStops.ts';
import { readSetting, setOddDays, waitsForOddDays } from '../store/settings.ts';
import { inTransaction } from '../store/store.ts';
import type { Handlers } from './context.ts';

/** The instant at which a copied data folder was last alive elsewhere, as it was found at start. */
export const COPY_BEAT = 'copy.lastBeat';

export const sendingHandlers: Handlers<Extract<RouteName, `${string} /api/sending${string}`>> = {
  'GET /api/sending': async ({ api, session }) => {
    const stops = await sendingStops(api.store);
    const copied = stops.some((s) => s.cause === 'copy');
    const beat = copied ? await readSetting(api.store, COPY_BEAT) : await lastBeat(api.store);
    const now = api.clock.now();
    const due = copied ? await unsettled(api.store, now) : [];
    const clients = due.length === 0 ? [] : await clientsSeenBy(api.store, session.member);
    const seen = new Map(clients.map((c) => [c.id, c]));
    const rules = await mailRules(api.store);
    const quiet = await isQuiet(api.store, rules, now);
    return {
      quietUntil: quiet ? rules.quiet!.until : null,
      perMinute: rules.perMinute,
      stops: [
        ...(await Promise.all(
          stops.map(async (s) => ({
            cause: s.cause,
            reason: s.reason,
            mend: s.mend,
            since: s.since,
            by: s.by === null ? null : ((await memberById(api.store, s.by))?.name ?? null),
          })),
        )),
        ...api.health.troubles().map(({ cause, reason, mend }) => ({ cause, reason, mend, since: null, by: null })),
      ],
      due: due.flatMap((e) => {
        const client = seen.get(e.client_id);
        if (!client) return [];
        const local = wallClock(e.due_at, client.zone);
        return [{ edition: e.id, label: labelOf(e, client), at: e.due_at, local, readers: ordersOf(e).readers.length }];
      }),
      lastBeat: beat,
      waitsForOddDays: await waitsForOddDays(api.store),
    };
  },

  'PUT /api/sending': async ({ api, session, body }) => {
    const at = api.clock.now();
    const { id, name } = session.member;
    if (body.on) await resumeSending(api.store, 'person', { at, actor: id });
    else {
      const reason = `Turned off by ${name}.`;
      await stopSending(api.store, { cause: 'person', reason, mend: 'Turn it on again.', by: id, at });
    }
    api.scheduler.nudge();
    return { done: true };
  },

  'PUT /api/sending/odd-days': async ({ api, session, body }) => {
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await setOddDays(tx, body.wait);
      await record(tx, {
        at,
        actor: session.member.id,
        action: 'sending.odd-days',
        subject: body.wait ? 'wait' : 'send',
      });
      await markHeldForOddDays(tx, at);
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/sending/go': async ({ api, session, body }) => {
    const at = api.clock.now();
    const by = { at, actor: session.member.id };
    await inTransaction(api.store, async (tx) => {
      for (const id of new Set(body.sentAlready)) {
        const e = await editionById(tx, id);
        if (!e || !(await clientById(tx, e.client_id))) throw new Refusal(404, 'Edition not found.');
        const reason = `Marked by ${session.member.name} as already sent by the other server.`;
        if (e.state === 'sent' || e.state === 'skipped') continue;
        await moveEdition(tx, e, 'skipped', { reason, next_at: null }, by);
      }
      await resumeSending(tx, 'copy', by);
      await settleIdentity(tx, api.config.data);
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
