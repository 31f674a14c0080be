import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addDays, addMinutes, type Exception, occurrenceOn } from '@chronicon/core/calendar';
import { PLAIN_CHOICES, type ScheduleInput } from '@chronicon/core/contract';
import { documentFrom } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { changeTo, inputOf, setActive } from '../api/scheduleActs.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import { createSchedule } from '../store/changeSchedule.ts';
import { clientById, createClient } from '../store/clients.ts';
import { createAgency, createMember } from '../store/members.ts';
import { createReport } from '../store/reports.ts';
import { recurrenceOf, scheduleById } from '../store/schedules.ts';
import { inTransaction, openStore, type Store } from '../store/store.ts';
import { planAll } from './plan.ts';
import type { Tools } from './tools.ts';

/** More of them prove more, and take longer: `CHRONICON_RUNS=500`. */
const RUNS = Number(process.env.CHRONICON_RUNS ?? 30);
const NOW = '2026-11-02T08:42:00.000Z';
let folder: string;
let store: Store;
let client: string;
let report: string;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-edited-'));
  store = await openStore(folder);
  const agency = { name: 'Fernglass Media', zone: 'Europe/London', mailFrom: 'r@fernglass.example' };
  await createAgency(store, { ...agency, holidays: ['2026-12-25'], workingDays: [1, 2, 3, 4, 5] });
  const person = { name: 'Ines Tallow', email: 'ines@fernglass.example', role: 'owner' as const, password: 'x' };
  const member = await createMember(store, { ...person, at: NOW });
  client = (await createClient(store, { name: 'Tarnbeck', zone: 'Europe/London' }, { managerId: member.id, at: NOW }))
    .id;
  let n = 0;
  const document = documentFrom('shop', wordsFor('en-GB'), () => `b${n++}`);
  report = (await createReport(store, { clientId: client, title: 'R', document, at: NOW })).id;
});
afterEach(async () => {
  await store.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const input = (): ScheduleInput => ({
  ...PLAIN_CHOICES,
  reportId: report,
  rule: { freq: 'workdays' },
  time: '09:00',
  zone: 'Europe/London',
  firstDate: '2026-01-01',
  lastDate: null,
  period: { kind: 'rolling', days: 7 },
  comparison: { kind: 'previous' },
  readers: [],
  archive: true,
  subject: 's',
  message: 'm',
});

const date = fc.integer({ min: -6, max: 12 });
const exception: fc.Arbitrary<(day: string) => Exception> = fc.oneof(
  fc.constant(() => ({ skipped: true as const })),
  fc.constant(() => ({})),
  fc.tuple(date, fc.constantFrom('00:30', '09:00', '23:30')).map(([by, time]) => (day: string) => ({
    moved: { date: addDays(day, by), time },
  })),
  fc.constant(() => ({ covers: { from: '2026-10-01', to: '2026-10-03' } })),
);
const event = fc.oneof(
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('pass' as const), hours: fc.integer({ min: 1, max: 60 }) }) },
  { weight: 4, arbitrary: fc.record({ kind: fc.constant('run' as const), on: date, as: exception }) },
  fc.record({
    kind: fc.constant('rule' as const),
    rule: fc.constantFrom<ScheduleInput['rule']>(
      { freq: 'daily' },
      { freq: 'workdays' },
      { freq: 'weekly', every: 1, weekdays: [1, 4] },
      { freq: 'monthly', every: 1, on: { day: 5 } },
    ),
    time: fc.constantFrom('06:00', '09:00', '22:00'),
  }),
  fc.record({ kind: fc.constant('pause' as const), days: fc.option(fc.integer({ min: 1, max: 6 })) }),
  fc.record({ kind: fc.constant('resume' as const) }),
);

describe('whatever is done with a schedule and its single runs', () => {
  it('no date is made again that was made, and what goes is what the schedule says then', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(event, { minLength: 3, maxLength: 14 }), async (events) => {
        let now = NOW;
        const { id } = await createSchedule(store, client, input(), now);
        const sent: string[] = [];
        /** The scheduler plans; what is due goes, as far as it waits for nobody. */
        const live = async () => {
          const tools = { store, clock: { now: () => now }, crash: () => {}, log: console } as unknown as Tools;
          while (await planAll(tools));
          const due = await store
            .selectFrom('edition')
            .selectAll()
            .where('schedule_id', '=', id)
            .where('state', '=', 'planned')
            .where('due_at', '<=', now)
            .execute();
          const schedule = (await scheduleById(store, id))!;
          const owner = (await clientById(store, client))!;
          const recurrence = recurrenceOf(schedule, await agencyFor(store, owner), owner.weekStart);
          for (const e of due) {
            expect(schedule.state).toBe('active');
            const run = occurrenceOn(recurrence, e.nominal!);
            expect(run && new Date(run.at).toISOString()).toBe(e.due_at);
            sent.push(e.nominal!);
            await store.updateTable('edition').set({ state: 'sent' }).where('id', '=', e.id).execute();
          }
          expect(new Set(sent).size).toBe(sent.length);
        };
        await live();
        for (const e of events) {
          const by = { at: now, actor: 'me_1', name: 'Ines' };
          const schedule = (await scheduleById(store, id))!;
          const owner = (await clientById(store, client))!;
          await inTransaction(store, async (tx) => {
            if (e.kind === 'run') {
              const day = addDays(now.slice(0, 10), e.on);
              const exceptions = { ...schedule.exceptions, [day]: e.as(day) };
              await changeTo(tx, schedule, owner, { ...inputOf(schedule), exceptions }, by);
            }
            if (e.kind === 'rule') {
              const workingDayRule = 'as is' as const;
              const next = { ...inputOf(schedule), rule: e.rule, time: e.time, workingDayRule };
              await changeTo(tx, schedule, owner, next, by);
            }
            if (e.kind === 'pause' && schedule.state === 'active') {
              const resumesOn = e.days === null ? null : addDays(now.slice(0, 10), e.days);
              await setActive(tx, schedule, { active: false, resumesOn }, by);
            }
            if (e.kind === 'resume' && schedule.state === 'paused') {
              await setActive(tx, schedule, { active: true, resumesOn: null }, by);
            }
          });
          if (e.kind === 'pass') now = addMinutes(now, e.hours * 60);
          await live();
        }
        await store.deleteFrom('run').execute();
        await store.deleteFrom('edition').execute();
        await store.deleteFrom('schedule').execute();
      }),
      { numRuns: RUNS },
    );
  }, 3_600_000);
});
