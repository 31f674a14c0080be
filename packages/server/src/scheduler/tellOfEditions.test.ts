import { describe, expect, it } from 'vitest';
import { editionsToTell, type Telling } from '../store/told.ts';
import { mailTo, openFurnishedFixture, scheduleFor } from '../test/harness.ts';

describe('members whom a schedule names', () => {
  it('are told once when its edition waits for them, is made, and is sent; the others are not', async () => {
    const { fixture, f } = await openFurnishedFixture(undefined, { CHRONICON_NOTICES: 'on' });
    try {
      const colleagues = (await fixture.owner.ask('GET /api/colleagues')).body;
      const idOf = (name: string) => colleagues.find((c) => c.name === name)!.id;
      const body = {
        ...scheduleFor(f),
        signOff: { rule: 'until', until: '09:00', asks: idOf('Joren Vask') },
        notified: [{ member: idOf('Mirel Oke'), of: ['made', 'sent'] }],
      };
      const made = await fixture.owner.ask('POST /api/clients/:client/schedules', {
        params: { client: f.client },
        body,
      });
      expect(made.status).toBe(200);
      await fixture.moveTo('2026-11-03T06:00:00Z');
      const asked = await mailTo(fixture, 'joren@fernglass.example', /please approve/);
      expect(asked.text).toContain('Due 3 November 2026, 08:00.');
      await mailTo(fixture, 'mirel@fernglass.example', /– edition created$/);
      await fixture.moveTo('2026-11-03T09:00:30Z');
      await fixture.restart();
      await mailTo(fixture, 'mirel@fernglass.example', /– sent$/);
      const told = fixture.simulators.mails
        .list()
        .filter((m) => /– (edition created|sent|please approve)$/.test(m.subject));
      expect(told.map((m) => [m.to.split('@')[0], m.subject.split(' ').at(-1)]).sort()).toEqual([
        ['joren', 'approve'],
        ['mirel', 'created'],
        ['mirel', 'sent'],
      ]);
    } finally {
      await fixture.close();
    }
  });

  it('are told of each edition, however many there are at one time', async () => {
    const { fixture, f } = await openFurnishedFixture();
    try {
      const member = (await fixture.owner.ask('GET /api/colleagues')).body[0]!.id;
      const group = (id: string, value: string) => ({ id, value, readers: [{ contact: f.contact }] });
      const body = {
        ...scheduleFor(f),
        groups: { by: 'device', without: [], groups: [group('g1', 'Mobile'), group('g2', 'Desktop')] },
        notified: [{ member, of: ['made'] }],
      };
      await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
      await fixture.moveTo('2026-11-03T06:00:00Z');
      const found: string[] = [];
      let last: Telling | null = null;
      // One at a time: both are due at the same instant.
      for (;;) {
        const [next]: Telling[] = await editionsToTell(
          fixture.server.store,
          '2026-11-01T00:00:00.000Z',
          last && (last as Telling).edition,
          1,
        );
        if (!next) break;
        found.push(next.edition.reader_group);
        last = next;
      }
      expect(found.sort()).toEqual(['g1', 'g2']);
    } finally {
      await fixture.close();
    }
  });

  it('are members who sign in: nobody else can be named', async () => {
    const { fixture, f } = await openFurnishedFixture();
    try {
      const params = { client: f.client };
      for (const [field, more] of [
        ['notified', { notified: [{ member: 'me_nobody', of: ['sent'] }] }],
        ['signOff.asks', { signOff: { rule: 'first', asks: 'me_nobody' } }],
        ['readers', { readers: [{ member: 'me_nobody' }] }],
      ] as const) {
        const body = { ...scheduleFor(f), ...more };
        const refused = await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body });
        expect(refused.fields[field]).toContain('This person isn’t an active member.');
      }
    } finally {
      await fixture.close();
    }
  });
});
