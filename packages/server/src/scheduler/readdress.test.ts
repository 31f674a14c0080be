import { describe, expect, it } from 'vitest';
import { unpacked } from '../store/packed.ts';
import { planningFixture } from '../test/planning.ts';

const t = planningFixture();
const WHO = { firstName: 'Olga', lastName: 'Kell', email: 'olga@tarnbeck.example' };
const replace = (outside = false) => ({ do: 'replace', from: 'petra@tarnbeck.example', who: WHO, left: true, outside });

/** Sees what the act would do, and does it. */
async function doIt(act: object) {
  const body = { schedules: null, act };
  const seen = await t.ask('POST /api/schedules/many', { body });
  expect(seen.status, JSON.stringify(seen.body)).toBe(200);
  const done = await t.ask('POST /api/schedules/many', { body: { ...body, seen: seen.body.seen } });
  expect(done.status, JSON.stringify(done.body)).toBe(200);
  return done.body;
}
const arrived = () =>
  t
    .mails()
    .map((m) => m.to)
    .sort();

describe('a reader who is replaced while mails are on their way', () => {
  it('hands what still waits to who reads now: nobody of the two gets none', async () => {
    await t.start();
    await t.start({ time: '08:05', subject: 'The other: {{period.label}}' });
    // Written, and not handed over before the morning.
    const rules = { bounces: '', perMinute: null, quiet: { from: '21:00', until: '08:30' } };
    await t.ask('PUT /api/agency/mail-rules', { body: rules });
    await t.fixture.moveTo('2026-11-03T08:06:00Z');
    expect((await t.editions()).map((e) => e.state)).toEqual(['sending', 'sending']);
    const { late, changes } = await doIt(replace());
    expect([late, changes]).toEqual([[], 2]);
    await t.fixture.moveTo('2026-11-03T08:31:00Z');
    expect(arrived()).toEqual(['olga@tarnbeck.example', 'olga@tarnbeck.example']);
    const sent = await t.editions();
    expect(sent.map((e) => e.state)).toEqual(['sent', 'sent']);
    // Greeted by their own name.
    const { store } = t.fixture.server;
    const bodies = await store.selectFrom('message').select(['body', 'contact_id']).execute();
    const own = bodies.filter((m) => m.contact_id !== t.f.contact).map((m) => unpacked(m.body).text);
    expect(own).toHaveLength(2);
    for (const text of own) expect(text).toMatch(/Olga(?![\s\S]*Petra)/);
  });

  it('names what may have gone to who read before, and sends it to nobody else', async () => {
    await t.start();
    await t.fixture.simulators.smtp.setFault('drop-after-data');
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await t.edition()).deliveries).toMatchObject([{ state: 'uncertain' }]);
    const { late } = await doIt(replace());
    expect(late).toEqual([
      expect.stringMatching(/Tarnbeck.*the email to petra@tarnbeck.example may already have been sent/),
    ]);
    expect((await t.edition()).deliveries).toHaveLength(1);
  });
});

describe('an edition that waits to be signed off until a time', () => {
  it('and that nobody could look at before it, as the server was down, is held and not sent', async () => {
    const me = (await t.ask('GET /api/session')).body.member!.id;
    await t.start({ signOff: { rule: 'until', until: '08:30', asks: me } });
    await t.fixture.server.scheduler.stop();
    t.fixture.server.clock.moveTo('2026-11-03T09:00:00Z');
    await t.fixture.restart();
    await t.fixture.moveTo('2026-11-03T09:01:00Z');
    expect(t.mails()).toEqual([]);
    expect(await t.edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('approval deadline') });
    await t.sendSeen((await t.edition()).id);
    await t.fixture.server.scheduler.settle();
    expect(arrived()).toEqual(['petra@tarnbeck.example']);
  });
});
