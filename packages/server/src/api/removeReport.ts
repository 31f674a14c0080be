import { record } from '../store/ledger.ts';
import { removeReport } from '../store/reports.ts';
import { schedulesOfReport } from '../store/schedules.ts';
import { inTransaction } from '../store/store.ts';
import { theReport } from './access.ts';
import type { Handlers } from './context.ts';
import { endSchedule } from './scheduleActs.ts';

/** Deleting a report: its schedules end with it, its editions stay. */
export const removeReportHandlers: Handlers<'DELETE /api/reports/:report'> = {
  'DELETE /api/reports/:report': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    const by = { at: api.clock.now(), actor: session.member.id, name: session.member.name };
    const ended = await inTransaction(api.store, async (tx) => {
      const schedules = await schedulesOfReport(tx, report.id);
      for (const s of schedules) {
        await endSchedule(tx, s, by);
        await record(tx, { at: by.at, actor: by.actor, action: 'schedule.ended', subject: s.id });
      }
      await removeReport(tx, report.id, by.at);
      const detail = { client: report.clientId, title: report.title };
      await record(tx, { at: by.at, actor: by.actor, action: 'report.removed', subject: report.id, detail });
      return schedules.length;
    });
    api.scheduler.nudge();
    return { ended };
  },
};
