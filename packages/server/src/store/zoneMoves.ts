import { setImmediate } from 'node:timers/promises';
import { instantOf } from '@chronicon/core/calendar';
import { schedulesByIds } from './schedules.ts';
import { inTransaction, type Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** A run that other rules of time zones move: when it was to go, and when it would by them. */
export interface ZoneMove {
  scheduleId: string;
  clientId: string;
  reportId: string;
  nominal: string;
  was: string;
  becomes: string;
}

/** Runs that are reckoned before anybody else's turn comes. */
const AT_ONCE = 500;

/** Looks at every run to come by the rules of time zones as they are now, and keeps those that they move. @returns how many */
export async function noteZoneMoves(db: Store, now: string): Promise<number> {
  const rows = await db
    .selectFrom('run')
    .select(['schedule_id', 'nominal', 'runs_on', 'at'])
    .where('at', '>', now)
    .orderBy('schedule_id')
    .execute();
  const schedules = await schedulesByIds(db, [...new Set(rows.map((r) => r.schedule_id))]);
  const moves: { schedule_id: string; nominal: string; was: string; becomes: string }[] = [];
  for (const [i, r] of rows.entries()) {
    if (i % AT_ONCE === 0) await setImmediate();
    const s = schedules.get(r.schedule_id)!;
    const time = s.exceptions[r.nominal]?.moved?.time ?? s.time;
    const becomes = new Date(instantOf(r.runs_on, time, s.zone)).toISOString();
    if (becomes !== r.at) moves.push({ schedule_id: r.schedule_id, nominal: r.nominal, was: r.at, becomes });
  }
  await inTransaction(db, async (tx) => {
    await tx.deleteFrom('zone_move').execute();
    for (let i = 0; i < moves.length; i += AT_ONCE) {
      await tx
        .insertInto('zone_move')
        .values(moves.slice(i, i + AT_ONCE))
        .execute();
    }
  });
  return moves.length;
}

/** Whether runs of a schedule would be moved by other rules of time zones, which nobody has seen yet. */
export async function hasZoneMoves(db: Store, scheduleId: string): Promise<boolean> {
  const query = db.selectFrom('zone_move').select('nominal').where('schedule_id', '=', scheduleId);
  return (await query.executeTakeFirst()) !== undefined;
}

/** The moved visible runs that are still to come, soonest first. */
export async function zoneMoves(db: Store, visibility: Visibility, now: string): Promise<ZoneMove[]> {
  const rows = await db
    .selectFrom('zone_move')
    .innerJoin('schedule', 'schedule.id', 'zone_move.schedule_id')
    .select(['zone_move.schedule_id', 'client_id', 'report_id', 'nominal', 'was', 'becomes'])
    .where(seenIn(visibility, 'schedule.client_id'))
    .where('schedule.state', '!=', 'ended')
    .where('was', '>', now)
    .orderBy('was')
    .execute();
  return rows.map((r) => ({
    scheduleId: r.schedule_id,
    clientId: r.client_id,
    reportId: r.report_id,
    nominal: r.nominal,
    was: r.was,
    becomes: r.becomes,
  }));
}

/** Forgets the moves of these schedules: somebody has seen them, or their dates were settled anew. */
export async function forgetZoneMoves(tx: Store, scheduleIds: readonly string[]): Promise<void> {
  if (scheduleIds.length > 0) await tx.deleteFrom('zone_move').where('schedule_id', 'in', scheduleIds).execute();
}
