import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { dkimVerify } from 'mailauth/lib/dkim/verify.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { type Furnished, memberOf, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const RULES = { bounces: '', perMinute: null, quiet: null };
const put = (body: object, who = fixture.owner) =>
  who.ask('PUT /api/agency/mail-rules', { body: { ...RULES, ...body } });
const agency = async () => (await fixture.owner.ask('GET /api/agency')).body;
async function sent(month: string): Promise<Buffer> {
  await fixture.moveTo(`${month}-03T05:10:00Z`);
  await fixture.moveTo(`${month}-03T08:00:30Z`);
  const { id } = (await fixture.owner.ask('GET /api/editions', { query: { client: f.client } })).body.editions[0]!;
  const [d] = (await fixture.owner.ask('GET /api/editions/:edition/deliveries', { params: { edition: id } })).body;
  return Buffer.from(await (await fixture.owner.raw(`/api/deliveries/${d!.id}/mail`)).arrayBuffer());
}

describe('how mails go out', () => {
  it('is an owner’s to say, and kept', async () => {
    const rules = { bounces: 'bounces@fernglass.example', perMinute: 30, quiet: { from: '21:00', until: '06:00' } };
    expect((await put(rules)).status).toBe(200);
    expect((await agency()).mailRules).toMatchObject({ ...rules, dkim: null, listens: null });
    const manager = await memberOf(fixture, 'sanne@fernglass.example', 'manager', [f.client]);
    expect((await put({}, manager)).status).toBe(403);
    expect((await manager.ask('POST /api/agency/dkim', { body: { domain: 'a.example', selector: 'a' } })).status).toBe(
      403,
    );
    expect((await agency()).mailRules.perMinute).toBe(30);
  });

  it.each([
    [{ bounces: 'nowhere' }, 'bounces'],
    [{ perMinute: 0 }, 'perMinute'],
    [{ perMinute: 1.5 }, 'perMinute'],
    [{ quiet: { from: '25:00', until: '06:00' } }, 'quiet.from'],
    [{ quiet: { from: '21:00', until: '' } }, 'quiet.until'],
  ])('is refused at the field that is wrong: %j', async (wrong, field) => {
    const { status, fields } = await put(wrong);
    expect(status).toBe(422);
    expect(Object.keys(fields)).toContain(field);
    expect((await agency()).mailRules).toMatchObject(RULES);
  });

  it('is said under Sending while it is night', async () => {
    await put({ quiet: { from: '08:00', until: '09:30' } });
    expect((await fixture.owner.ask('GET /api/sending')).body).toMatchObject({ quietUntil: '09:30', perMinute: null });
    await fixture.moveTo('2026-11-02T09:31:00Z');
    expect((await fixture.owner.ask('GET /api/sending')).body.quietUntil).toBeNull();
  });
});

describe('signed mails', () => {
  it('are signed by a key that is made here, from then on, as the record says; and no more once it is forgotten', async () => {
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    expect((await sent('2026-11')).toString('latin1')).not.toContain('DKIM-Signature');
    const wrong = await fixture.owner.ask('POST /api/agency/dkim', {
      body: { domain: 'Enter the sender domain', selector: 'a b' },
    });
    expect(Object.keys(wrong.fields).sort()).toEqual(['domain', 'selector']);
    const made = await fixture.owner.ask('POST /api/agency/dkim', {
      body: { domain: 'Fernglass.example', selector: 'reports' },
    });
    expect(made.body.name).toBe('reports._domainkey.fernglass.example');
    expect((await agency()).mailRules.dkim).toMatchObject({ domain: 'fernglass.example', record: made.body.record });
    const signed = await sent('2026-12');
    const { results } = await dkimVerify(signed, { resolver: async () => [[made.body.record]] });
    expect(results[0]!.status.result).toBe('pass');
    // The private key stands nowhere as it is.
    for (const file of ['chronicon.db', 'chronicon.db-wal']) {
      expect(readFileSync(join(fixture.config.data, file)).includes('PRIVATE KEY')).toBe(false);
    }
    expect(JSON.stringify(await agency())).not.toContain('PRIVATE');
    expect((await fixture.owner.ask('DELETE /api/agency/dkim')).status).toBe(200);
    expect((await agency()).mailRules.dkim).toBeNull();
    expect((await sent('2027-01')).toString('latin1')).not.toContain('DKIM-Signature');
  });
});
