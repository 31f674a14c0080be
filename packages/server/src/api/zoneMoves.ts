import { wallClock } from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import { followSchedule } from '../scheduler/follow.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import { clientById, clientsByIds } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { reportTitles } from '../store/reports.ts';
import { makeRunsOf } from '../store/runs.ts';
import { schedulesByIds } from '../store/schedules.ts';
import type { StoreTransaction } from '../store/store.ts';
import { forgetZoneMoves, zoneMoves } from '../store/zoneMoves.ts';
import type { Handlers } from './context.ts';
import { inTurns } from './inTurns.ts';

/** Runs that are listed. */
const SHOWN = 500;

export const zoneMoveHandlers: Handlers<Extract<RouteName, `${string} /api/zone-moves${string}`>> = {
  'GET /api/zone-moves': async ({ api, session: { member } }) => {
    const all = await zoneMoves(api.store, { member }, api.clock.now());
    const moves = all.slice(0, SHOWN);
    const schedules = await schedulesByIds(
      api.store,
      moves.map((m) => m.scheduleId),
    );
    const clients = await clientsByIds(api.store, [...new Set(moves.map((m) => m.clientId))]);
    const titles = await reportTitles(
      api.store,
      moves.map((m) => m.reportId),
    );
    const described = moves.map((m) => {
      const { zone } = schedules.get(m.scheduleId)!;
      return {
        scheduleId: m.scheduleId,
        clientName: clients.get(m.clientId)!.name,
        title: titles.get(m.reportId) ?? '',
        zone,
        was: { at: m.was, ...wallClock(m.was, zone) },
        becomes: { at: m.becomes, ...wallClock(m.becomes, zone) },
      };
    });
    return { moves: described, total: all.length };
  },

  'POST /api/zone-moves/agree': async ({ api, session: { member } }) => {
    const at = api.clock.now();
    const moves = await zoneMoves(api.store, { member }, at);
    const by = { at, actor: member.id, name: member.name };
    const clientIds = new Map(moves.map((m) => [m.scheduleId, m.clientId]));
    const turns = [...clientIds].map(([id, clientId]) => ({
      run: async (tx: StoreTransaction) => {
        const client = (await clientById(tx, clientId))!;
        await forgetZoneMoves(tx, [id]);
        await makeRunsOf(tx, id, at);
        await followSchedule(tx, id, await agencyFor(tx, client), client, by);
        await record(tx, { at, actor: member.id, action: 'schedule.zones', subject: id });
      },
    }));
    await inTurns(api, turns);
    api.scheduler.nudge();
    return { runs: moves.length };
  },
};
