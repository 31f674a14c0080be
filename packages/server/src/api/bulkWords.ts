import type { BulkAct, ScheduleInput } from '@chronicon/core/contract';
import type { StoredSchedule } from '../store/schedules.ts';
import { isMember } from './manyPeople.ts';

/** Whether a schedule runs, in words. */
export const stateWords = (s: Pick<StoredSchedule, 'state' | 'resumesOn'>): string =>
  s.state === 'paused'
    ? s.resumesOn
      ? `paused until ${s.resumesOn}`
      : 'paused'
    : s.state === 'ended'
      ? 'ended'
      : 'runs';

const SIGN_OFF = { none: 'sent automatically', first: 'asks first', until: 'asks until' };
/** Whether somebody looks at its editions first, in words. */
export const signOffWords = ({ signOff }: ScheduleInput): string =>
  signOff.rule === 'until' ? `asks for approval until ${signOff.until}, then sends anyway` : SIGN_OFF[signOff.rule];

/** What an act is called in the ledger and where it can be undone. */
export function whatOf(act: BulkAct, count: number, names: ReadonlyMap<string, string>): string {
  const places = `${count} ${count === 1 ? 'place' : 'places'}`;
  const who = (w: Extract<BulkAct, { do: 'add' }>['who']) =>
    'member' in w ? (names.get(w.member) ?? 'a member') : `${w.firstName} ${w.lastName}`.trim();
  const key = (k: string) => (isMember(k) ? (names.get(k) ?? 'a member') : k);
  switch (act.do) {
    case 'pause':
      return `Paused in ${places}${act.resumesOn ? ` until ${act.resumesOn}` : ''}`;
    case 'resume':
      return `Resumed in ${places}`;
    case 'extend':
      return `Extended in ${places} ${act.lastDate ? `to ${act.lastDate}` : 'without end'}`;
    case 'retime':
      return `Moved to ${act.time} in ${places}`;
    case 'signOff':
      return `Approval changed in ${places}`;
    case 'add':
      return `${who(act.who)} added in ${places}`;
    case 'drop':
      return `${key(act.from)} removed from ${places}`;
    case 'replace':
      return `${key(act.from)} replaced by ${who(act.who)} in ${places}`;
    case 'end':
      return `Ended in ${places}`;
    case 'make':
      return `Editions created in ${places}`;
  }
}
