import type { RouteName } from '@chronicon/core/contract';
import { Refusal } from '../platform/refusal.ts';
import { recentActs } from '../store/bulkActs.ts';
import { memberNames } from '../store/members.ts';
import { doAct, makeEditions } from './bulkDo.ts';
import { isChange, planAct, rowsOf, seenOf } from './bulkPlan.ts';
import { undoAct } from './bulkUndo.ts';
import type { Handlers } from './context.ts';

/** Acts that are told of. */
const RECENT = 10;

export const manyHandlers: Handlers<Extract<RouteName, `${string} /api/schedules/many${string}`>> = {
  'POST /api/schedules/many': async ({ api, session, body }) => {
    const plan = await planAct(api, session, body.schedules, body.act);
    const rows = rowsOf(plan);
    const seen = seenOf(body.act, plan);
    const changes = rows.filter(isChange).length;
    if (body.seen === null) return { seen, done: null, rows, changes, late: [], left: [] };
    if (body.seen !== seen) throw new Refusal(409, 'Something changed in the meantime. Review again.');
    if (changes === 0) throw new Refusal(422, 'No changes.');
    const { id: done, late, left } = await doAct(api, session, body.act, plan);
    if (body.act.do === 'make') await makeEditions(api, session, plan, done);
    api.scheduler.nudge();
    return { seen, done, rows, changes, late, left };
  },

  'GET /api/schedules/many': async ({ api, session: { member } }) => {
    const names = await memberNames(api.store);
    const acts = await recentActs(api.store, member.role === 'owner' ? null : member.id, RECENT);
    return acts.map((a) => ({
      id: a.id,
      at: a.at,
      who: names.get(a.by) ?? '',
      what: a.what,
      count: a.count,
      undone: a.undone_at !== null,
    }));
  },

  'POST /api/schedules/many/:act/undo': async ({ api, session, params }) => undoAct(api, session, params.act),
};
