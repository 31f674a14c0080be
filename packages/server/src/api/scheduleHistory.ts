import type { ScheduleHistoryEntry, ScheduleInput } from '@chronicon/core/contract';
import { scheduleHistoryEntry } from '@chronicon/core/contract';
import { recordsOf } from '../store/ledger.ts';
import { memberNames } from '../store/members.ts';
import type { Store } from '../store/store.ts';
import { stored } from '../store/stored.ts';

/** Entries of the ledger that one is shown at most. */
const MOST = 200;

/** Parts of a schedule that a change would make other ones. */
export function changesOf(before: ScheduleInput, after: ScheduleInput): ScheduleHistoryEntry['changed'] {
  return (Object.keys(after) as (keyof ScheduleInput)[])
    .filter((part) => JSON.stringify(before[part]) !== JSON.stringify(after[part]))
    .map((part) => ({ part, before: before[part], after: after[part] }));
}

const changedIn = stored(scheduleHistoryEntry.pick({ changed: true }).partial(), 'what changed of a schedule');

/** What was done with a schedule, by whom, the latest first. */
export async function historyOf(db: Store, scheduleId: string): Promise<ScheduleHistoryEntry[]> {
  const rows = await recordsOf(db, scheduleId, MOST);
  const names = await memberNames(db);
  return rows.map((r) => {
    const { changed = [] } = changedIn(r.detail || '{}');
    return { at: r.at, who: names.get(r.actor) ?? 'Chronicon', action: r.action, changed };
  });
}
