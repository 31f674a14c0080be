import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addDays } from '@chronicon/core/calendar';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { habitsOf } from './arrivals.ts';
import { type FactDb, openFacts, replaceDays, saveDataset } from './factStore.ts';

const spec = { key: 'visits', name: 'Visits', firstDay: '2026-01-01', dimensions: [], measures: ['visits'] };
let db: FactDb;
let id: string;
beforeEach(async () => {
  db = await openFacts(mkdtempSync(join(tmpdir(), 'chronicon-arrivals-')));
  id = await saveDataset(db, { feedId: 'fe_1', clientId: 'cl_1', position: 0 }, spec);
});
afterEach(() => db.destroy());

/** One day of a feed, as it was fetched at some instant. */
const fetched = (day: string, at: string, dataset = id) =>
  replaceDays(db, dataset, spec, { from: day, to: day }, [{ day, dims: [], measures: [4] }], at);
/** A feed that is asked every hour from midnight on, UTC, and has the day before at the hour given. */
async function asked(day: string, hour: number, dataset = id): Promise<void> {
  const next = addDays(day, 1);
  const at = (h: number) => `${next}T${String(h).padStart(2, '0')}:00:00.000Z`;
  // What it has of earlier days is fetched anew meanwhile, an hour before.
  await fetched(addDays(day, -1), at(hour - 1), dataset);
  await fetched(day, at(hour), dataset);
}
const habit = (zone = 'UTC') => habitsOf(db, [{ id: 'fe_1', zone }]);

describe('when the figures of a feed are usually there', () => {
  it('is not known before it has come often enough', async () => {
    for (const [i, hour] of [4, 4, 4, 4].entries()) await asked(`2026-03-0${i + 1}`, hour);
    expect(await habit()).toEqual([]);
    await asked('2026-03-05', 4);
    expect(await habit()).toEqual([{ feedId: 'fe_1', minutes: 240 }]);
  });

  it('is by when four days of five were there: one late morning does not count, two do', async () => {
    for (const [i, hour] of [4, 4, 4, 4, 9].entries()) await asked(`2026-03-0${i + 1}`, hour);
    expect((await habit())[0]!.minutes).toBe(240);
    await asked('2026-03-06', 9);
    expect((await habit())[0]!.minutes).toBe(540);
  });

  it('counts from the end of the day by the client’s clock', async () => {
    for (const day of [1, 2, 3, 4, 5]) await asked(`2026-03-0${day}`, 9);
    expect((await habit('America/New_York'))[0]!.minutes).toBe(4 * 60);
    expect((await habit('Asia/Tokyo'))[0]!.minutes).toBe(18 * 60);
  });

  it('is not learnt from history, nor from a feed that was not asked for hours', async () => {
    // A year that is fetched at once, days that were there long before anybody asked.
    for (let day = 1; day <= 9; day++) await fetched(`2026-02-0${day}`, '2026-03-01T04:00:00.000Z');
    for (let day = 1; day <= 9; day++)
      await fetched(`2026-03-0${day}`, `2026-03-${`${day + 1}`.padStart(2, '0')}T09:00:00.000Z`);
    expect(await habit()).toEqual([]);
  });

  it('is when a day came first: it may be fetched again as often as anybody likes', async () => {
    for (const day of [1, 2, 3, 4, 5]) await asked(`2026-03-0${day}`, 4);
    for (const day of [1, 2, 3, 4, 5]) await fetched(`2026-03-0${day}`, '2026-03-06T05:00:00.000Z');
    expect((await habit())[0]!.minutes).toBe(240);
  });

  it('is that of the slowest of its datasets', async () => {
    const goals = await saveDataset(db, { feedId: 'fe_1', clientId: 'cl_1', position: 1 }, { ...spec, key: 'goals' });
    for (const day of [1, 2, 3, 4, 5]) {
      await asked(`2026-03-0${day}`, 4);
      await asked(`2026-03-0${day}`, 7, goals);
    }
    expect((await habit())[0]!.minutes).toBe(420);
  });

  it('is asked of the feeds that are named alone', async () => {
    for (const day of [1, 2, 3, 4, 5]) await asked(`2026-03-0${day}`, 4);
    expect(await habitsOf(db, [])).toEqual([]);
    expect(await habitsOf(db, [{ id: 'fe_2', zone: 'UTC' }])).toEqual([]);
  });
});
