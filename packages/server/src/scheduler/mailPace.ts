import { addMinutes, wallClock } from '@chronicon/core/calendar';
import type { MailRules } from '@chronicon/core/contract';
import { attemptsBegun } from '../store/attempts.ts';
import { mailRules } from '../store/mailRules.ts';
import { agencyOf } from '../store/members.ts';
import type { Store } from '../store/store.ts';

/** Whether a time of the clock lies between two others, the first of them included; over midnight where the second is earlier. */
export const isWithin = (time: string, { from, until }: { from: string; until: string }): boolean =>
  from <= until ? time >= from && time < until : time >= from || time < until;

/** Whether no mail goes at present, by the agency’s clock. */
export async function isQuiet(db: Store, rules: MailRules, now: string): Promise<boolean> {
  if (!rules.quiet) return false;
  const agency = await agencyOf(db);
  return agency !== null && isWithin(wallClock(now, agency.zone).time, rules.quiet);
}

/** How many mails may be begun now, beside whatever else stops them: none at night, so many a minute, or any number. */
export async function roomNow(db: Store, now: string): Promise<number> {
  const rules = await mailRules(db);
  if (await isQuiet(db, rules, now)) return 0;
  if (rules.perMinute === null) return Number.POSITIVE_INFINITY;
  // Those of a clock that was ahead do not count.
  return Math.max(
    0,
    rules.perMinute - (await attemptsBegun(db, { from: addMinutes(now, -1), until: addMinutes(now, 1) })),
  );
}
