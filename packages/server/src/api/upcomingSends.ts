import { addMinutes } from '@chronicon/core/calendar';
import { runTimes } from '../store/runs.ts';
import type { Api } from './context.ts';

/** Minutes of a month. */
const MONTH = 31 * 24 * 60;

/** Instants at which something will be sent within the next month, soonest first. */
export async function upcomingSends(api: Pick<Api, 'store' | 'clock'>): Promise<string[]> {
  const now = api.clock.now();
  return runTimes(api.store, now, addMinutes(now, MONTH));
}
