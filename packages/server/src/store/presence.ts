import type { Store } from './store.ts';

/** Whoever has said nothing for so long is no longer there; milliseconds. */
const THERE = 12_000;
/** Windows of others that are named at once. */
const MOST_NAMED = 20;

/** A window in which a report is open, and the block that is chosen in it. */
export interface Present {
  window: string;
  name: string;
  block: string | null;
}

const before = (now: string, ms: number): string => new Date(Date.parse(now) - ms).toISOString();

/** Enters a window, or what it stands on now; takes away windows that have fallen silent. */
export async function enterWindow(
  db: Store,
  at: { report: string; member: string; window: string; block: string | null; now: string },
): Promise<void> {
  const values = { block: at.block, at: at.now };
  await db
    .insertInto('presence')
    .values({ report_id: at.report, member_id: at.member, window: at.window, ...values })
    .onConflict((c) => c.columns(['report_id', 'member_id', 'window']).doUpdateSet(values))
    .execute();
  await db
    .deleteFrom('presence')
    .where((q) => q.or([q('at', '<', before(at.now, 5 * THERE)), q('at', '>', before(at.now, -THERE))]))
    .execute();
}

export async function leaveWindow(db: Store, report: string, member: string, window: string): Promise<void> {
  await db
    .deleteFrom('presence')
    .where('report_id', '=', report)
    .where('member_id', '=', member)
    .where('window', '=', window)
    .execute();
}

/** The other windows in which a report is open now, of whomever. */
export async function othersAt(db: Store, report: string, own: string, now: string): Promise<Present[]> {
  return db
    .selectFrom('presence')
    .innerJoin('member', 'member.id', 'presence.member_id')
    .select(['presence.window', 'member.name', 'presence.block'])
    .where('report_id', '=', report)
    .where('window', '!=', own)
    .where('presence.at', '>=', before(now, THERE))
    .where('presence.at', '<=', before(now, -THERE))
    .orderBy('member.name')
    .orderBy('presence.window')
    .limit(MOST_NAMED)
    .execute();
}
