import type { ScheduleHistoryEntry, ScheduleInput } from '@chronicon/core/contract';
import { memberNames } from '../store/members.ts';
import type { Store } from '../store/store.ts';

/** Entries of the ledger that one is shown at most. */
const MOST = 200;

/** Parts of a schedule that a change would make other ones. */
export function changesOf(before: ScheduleInput, after: ScheduleInput): ScheduleHistoryEntry['changed'] {
  return (Object.keys(after) as (keyof ScheduleInput)[])
    .filter((part) => JSON.stringify(before[part]) !== JSON.stringify(after[part]))
    .map((part) => ({ part, before: before[part], after: after[part] }));
}

/** What was done with a schedule, by whom, the latest first. */
export async function historyOf(db: Store, scheduleId: string): Promise<ScheduleHistoryEntry[]> {
  const rows = await db
    .selectFrom('ledger')
    .selectAll()
    .where('subject', '=', scheduleId)
    .orderBy('at', 'desc')
    .orderBy('id', 'desc')
    .limit(MOST)
    .execute();
  const names = await memberNames(db);
  return rows.map((r) => {
    const { changed = [] } = JSON.parse(r.detail || '{}') as Partial<Pick<ScheduleHistoryEntry, 'changed'>>;
    return { at: r.at, who: names.get(r.actor) ?? 'Chronicon', action: r.action, changed };
  });
}
