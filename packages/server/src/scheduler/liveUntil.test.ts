import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture(undefined, { CHRONICON_UNDO: '30' }));
});
afterAll(() => fixture.close());

const moveTo = (to: string) => fixture.owner.ask('POST /api/demo/clock', { body: { to } });

describe('the clock of a demo', () => {
  it('lives through what it skips: each run in its turn, with the figures that there were then', async () => {
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f, {
        rule: { freq: 'weekly', every: 1, weekdays: [1] },
        period: { kind: 'rolling', days: 7 },
      }),
    });
    expect((await moveTo('2026-11-25T12:00:00Z')).status).toBe(200);
    const made = (await editionsOf(fixture, f.client)).sort((a, b) => (a.dueAt < b.dueAt ? -1 : 1));
    expect(made.map((e) => [e.dueAt.slice(0, 10), e.state, e.reason])).toEqual([
      ['2026-11-09', 'sent', null],
      ['2026-11-16', 'sent', null],
      ['2026-11-23', 'sent', null],
    ]);
    for (const e of made) {
      const late = Date.parse(e.sentAt!) - Date.parse(e.dueAt);
      expect(late).toBeGreaterThanOrEqual(0);
      expect(late).toBeLessThan(5 * 60_000);
    }
    const mails = fixture.simulators.mails.list().map((m) => m.receivedAt.slice(0, 10));
    expect(mails).toEqual(['2026-11-23', '2026-11-16', '2026-11-09']);
  });

  it('moves on by three months at most at once, and says so', async () => {
    expect((await moveTo('2027-06-01T12:00:00Z')).fields.to).toContain('three months');
  });
});
