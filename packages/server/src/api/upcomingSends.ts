import { agencyOf } from '../store/members.ts';
import { activeSchedules } from '../store/schedules.ts';
import type { Api } from './context.ts';
import { upcomingRuns } from './lookAhead.ts';

/** Instants at which something will be sent within the next month, soonest first. */
export async function upcomingSends(api: Pick<Api, 'store' | 'clock'>): Promise<string[]> {
  const agency = (await agencyOf(api.store))!;
  const runs = await upcomingRuns(api.store, agency, await activeSchedules(api.store), api.clock.now(), 31);
  return runs.map((r) => new Date(r.at).toISOString());
}
