import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addDays, addMinutes, occurrencesAhead, type Rule, type Weekday } from '@chronicon/core/calendar';
import { PLAIN_CHOICES, type ScheduleInput } from '@chronicon/core/contract';
import { documentFrom, settleDates } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { planAll } from '../scheduler/plan.ts';
import type { Tools } from '../scheduler/tools.ts';
import { agencyFor, saveCalendar, updateCalendar } from './agencyCalendar.ts';
import { createSchedule, setScheduleState, updateSchedule } from './changeSchedule.ts';
import { clientById, createClient } from './clients.ts';
import { createAgency, createMember } from './members.ts';
import { createReport } from './reports.ts';
import { nextOfClients, runsBetween } from './runs.ts';
import { recurrenceOf, scheduleById } from './schedules.ts';
import { openStore, type Store } from './store.ts';
import { updateClient } from './updateClient.ts';

const NOW = '2026-11-02T08:00:00.000Z';
const CLIENT = {
  name: 'Tarnbeck Pottery',
  site: '',
  zone: 'Europe/London',
  currency: 'GBP',
  language: 'en-GB',
  weekStart: 1,
  fiscalStart: 1,
  startDate: '2025-01-01',
  calendar: '',
  paperSize: '',
  domains: '',
  orientation: '',
  reference: '',
};

let folder: string;
let store: Store;
let client: string;
let report: string;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-runs-'));
  store = await openStore(folder);
  const { id: managerId } = await createMember(store, {
    name: 'Ines',
    email: 'ines@fernglass.example',
    role: 'owner',
    password: 'x',
    at: NOW,
  });
  await createAgency(store, {
    name: 'Fernglass Media',
    zone: 'Europe/London',
    mailFrom: 'reports@fernglass.example',
    holidays: [],
    workingDays: [1, 2, 3, 4, 5],
  });
  client = (await createClient(store, CLIENT, { managerId, at: NOW })).id;
  let n = 0;
  const document = documentFrom('shop', wordsFor('en-GB'), () => `b${n++}`);
  report = (await createReport(store, { clientId: client, title: 'R', document, at: NOW })).id;
});
afterEach(async () => {
  await store.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const inputOf = (rule: Rule, change: Partial<ScheduleInput> = {}): ScheduleInput => ({
  ...PLAIN_CHOICES,
  reportId: report,
  rule,
  time: '09:00',
  zone: 'Europe/London',
  firstDate: '2026-01-01',
  lastDate: null,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  readers: [],
  subject: 's',
  message: 'm',
  ...change,
});

/** The scheduler's look at its schedules, as often as some are waiting. */
async function lookAtSchedules(now: string): Promise<void> {
  const tools = { store, clock: { now: () => now }, crash: () => {}, log: console } as unknown as Tools;
  while (await planAll(tools));
}

/** The rows of a schedule beside what its rule gives now. */
async function rowsAndRules(id: string, now: string) {
  const schedule = (await scheduleById(store, id))!;
  const owner = (await clientById(store, schedule.clientId))!;
  const recurrence = recurrenceOf(schedule, await agencyFor(store, owner), owner.weekStart);
  const until = addMinutes(now, 100 * 24 * 60);
  const rules = schedule.state !== 'active' ? [] : occurrencesAhead(recurrence, { after: now, until });
  return {
    rows: (await runsBetween(store, id, now, until)).map((r) => [r.nominal, r.runsOn, r.at, r.period, r.compared]),
    rules: rules
      .map((o) => {
        const { period, compared } = settleDates(schedule.period, schedule.comparison, o.nominal, owner);
        return [o.nominal, o.runs, new Date(o.at).toISOString(), period, compared];
      })
      .sort((a, b) => ((a[2] as string) < (b[2] as string) ? -1 : 1)),
  };
}

const day = fc.integer({ min: 0, max: 150 }).map((n) => addDays('2026-10-15', n));
const weekday = fc.integer({ min: 1, max: 7 }) as fc.Arbitrary<Weekday>;
const on = fc.oneof(
  fc.integer({ min: 1, max: 31 }).map((d) => ({ day: d })),
  fc.constant({ last: true as const }),
  fc.record({ nth: fc.constantFrom(1 as const, 2 as const, 4 as const, 'last' as const), weekday }),
  fc.integer({ min: -8, max: 8 }).map((k) => ({ workday: k === 0 ? 1 : k })),
);
const rule: fc.Arbitrary<Rule> = fc.oneof(
  fc.constant<Rule>({ freq: 'daily' }),
  fc.constant<Rule>({ freq: 'workdays' }),
  fc.record({
    freq: fc.constant('weekly' as const),
    every: fc.integer({ min: 1, max: 5 }),
    weekdays: fc.uniqueArray(weekday, { minLength: 1, maxLength: 3 }),
  }),
  fc.record({ freq: fc.constant('monthly' as const), every: fc.integer({ min: 1, max: 3 }), on }),
  fc.record({
    freq: fc.constant('quarterly' as const),
    month: fc.constantFrom(1 as const, 2 as const, 3 as const),
    on,
  }),
  fc.record({ freq: fc.constant('once' as const), date: day }),
);
const plan = fc.record({
  rule,
  time: fc.constantFrom('00:30', '01:30', '09:00', '23:45'),
  zone: fc.constantFrom('Europe/London', 'America/New_York', 'Pacific/Kiritimati', 'Asia/Kathmandu'),
  lastDate: fc.option(day),
  period: fc.constantFrom<ScheduleInput['period']>(
    { kind: 'unit', unit: 'month', offset: -1 },
    { kind: 'unit', unit: 'week', offset: -1 },
    { kind: 'unit', unit: 'year', fiscal: true, offset: -1 },
    { kind: 'rolling', days: 28 },
  ),
  comparison: fc.constantFrom<ScheduleInput['comparison']>(
    { kind: 'previous' },
    { kind: 'lastYear' },
    { kind: 'none' },
  ),
});
/** What may happen to an agency between two looks. */
const event = fc.oneof(
  fc.record({ kind: fc.constant('holidays' as const), holidays: fc.uniqueArray(day, { maxLength: 12 }) }),
  fc.record({ kind: fc.constant('calendar' as const), holidays: fc.uniqueArray(day, { maxLength: 12 }) }),
  fc.record({
    kind: fc.constant('client' as const),
    weekStart: weekday,
    fiscalStart: fc.integer({ min: 1, max: 12 }),
    calendar: fc.constantFrom('', 'ca_1'),
  }),
  fc.record({ kind: fc.constant('plan' as const), which: fc.nat(), plan }),
  fc.record({ kind: fc.constant('pause' as const), which: fc.nat() }),
  fc.record({ kind: fc.constant('resume' as const), which: fc.nat() }),
  fc.record({ kind: fc.constant('days pass' as const), days: fc.integer({ min: 1, max: 40 }) }),
);

describe('the rows of runs', () => {
  it('equal the rules of every schedule of an agency, whatever happens to it', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(plan, { minLength: 1, maxLength: 4 }),
        fc.array(event, { maxLength: 6 }),
        async (plans, events) => {
          let now = NOW;
          await updateCalendar(store, { holidays: [], workingDays: [1, 2, 3, 4, 5] }, now);
          await updateClient(store, client, CLIENT, now);
          const ids: string[] = [];
          for (const p of plans) ids.push((await createSchedule(store, client, inputOf(p.rule, p), now)).id);
          for (const e of events) {
            const id = ids['which' in e ? e.which % ids.length : 0]!;
            const days = 'holidays' in e ? e.holidays.map((date) => ({ date, name: '' })) : [];
            if (e.kind === 'holidays')
              await updateCalendar(store, { holidays: days, workingDays: [1, 2, 3, 4, 5] }, now);
            if (e.kind === 'calendar') await saveCalendar(store, { id: 'ca_1', name: 'Harbour town', days }, now);
            if (e.kind === 'client') await updateClient(store, client, { ...CLIENT, ...e }, now);
            if (e.kind === 'plan')
              await updateSchedule(store, (await scheduleById(store, id))!, inputOf(e.plan.rule, e.plan), now);
            if (e.kind === 'pause') await setScheduleState(store, id, 'paused', now);
            if (e.kind === 'resume') await setScheduleState(store, id, 'active', now);
            if (e.kind === 'days pass') now = addMinutes(now, e.days * 24 * 60);
            await lookAtSchedules(now);
            for (const one of ids) {
              const { rows, rules } = await rowsAndRules(one, now);
              expect(rows).toEqual(rules);
            }
          }
          for (const id of ids) await setScheduleState(store, id, 'ended', now);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('are there for a schedule that runs seldom, the next four of them', async () => {
    const { id } = await createSchedule(store, client, inputOf({ freq: 'yearly', month: 3, on: { day: 1 } }), NOW);
    const rows = await runsBetween(store, id, NOW, '2099-01-01T00:00:00.000Z');
    expect(rows.map((r) => r.nominal)).toEqual(['2027-03-01', '2028-03-01', '2029-03-01', '2030-03-01']);
    expect(await nextOfClients(store, [client], NOW)).toEqual(
      new Map([[client, { at: '2027-03-01T09:00:00.000Z', title: 'R' }]]),
    );
  });

  it('follow a holiday once the scheduler has looked, only where they ask for working days', async () => {
    const plain = await createSchedule(store, client, inputOf({ freq: 'monthly', every: 1, on: { day: 1 } }), NOW);
    const first = inputOf({ freq: 'monthly', every: 1, on: { workday: 1 } });
    const working = await createSchedule(store, client, first, NOW);
    await lookAtSchedules(NOW);
    await updateCalendar(
      store,
      { holidays: [{ date: '2026-12-01', name: 'Founders’ day' }], workingDays: [1, 2, 3, 4, 5] },
      NOW,
    );
    const waiting = await store.selectFrom('schedule').select('id').where('next_look', '<=', NOW).execute();
    expect(waiting.map((s) => s.id)).toEqual([working.id]);
    await lookAtSchedules(NOW);
    const next = async (id: string) =>
      (await runsBetween(store, id, '2026-11-20T00:00:00.000Z', '2027-01-01T00:00:00.000Z'))[0]!.nominal;
    expect([await next(plain.id), await next(working.id)]).toEqual(['2026-12-01', '2026-12-02']);
  });
});
