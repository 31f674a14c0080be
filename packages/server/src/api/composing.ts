import type { RouteName } from '@chronicon/core/contract';
import { enterWindow, leaveWindow, othersAt } from '../store/presence.ts';
import { theReport } from './access.ts';
import type { Handlers } from './context.ts';

/** Doors of the composer that are not about a report as it goes out: who is there, and what it was. */
export type ComposingRoute = Extract<RouteName, `${string}/reports/:report/${'here'}${string}`>;

export const composingHandlers: Handlers<ComposingRoute> = {
  'PUT /api/reports/:report/here': async ({ api, session, params, body }) => {
    const { id, version, title, document } = await theReport(api.store, session.member, params.report);
    const { window, block } = body;
    const [now, member] = [api.clock.now(), session.member.id];
    if (body.leaving) await leaveWindow(api.store, id, member, window);
    else await enterWindow(api.store, { report: id, member, window, block, now });
    return {
      others: await othersAt(api.store, id, window, now),
      version,
      now: version === body.version ? null : { title, document },
    };
  },
};
