import { IMAP_ACCOUNT, type ImapSimulator, reportOn, startImap } from '@chronicon/simulators';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { bounceToken, tokenKey } from '../store/mailTokens.ts';
import { deliveriesOf } from '../store/messages.ts';
import { freePort } from '../test/freePort.ts';
import {
  editionsOf,
  type Furnished,
  MANAGER,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  visit,
} from '../test/harness.ts';
import { readBounceBox } from './readBounceBox.ts';

let fixture: TestFixture;
let f: Furnished;
let imap: ImapSimulator;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  imap = await startImap(await freePort());
  const rules = { bounces: 'bounces@fernglass.example', perMinute: null, quiet: null };
  await fixture.owner.ask('PUT /api/agency/mail-rules', { body: rules });
});
afterEach(async () => {
  await fixture.close();
  await imap.close();
});

const box = (changes: object = {}) => ({
  host: '127.0.0.1',
  port: imap.port,
  tls: 'never' as const,
  folder: 'INBOX',
  ...IMAP_ACCOUNT,
  ...changes,
});
const set = (changes: object = {}) => fixture.owner.ask('PUT /api/agency/bounce-box', { body: box(changes) });
const view = async () => (await fixture.owner.ask('GET /api/agency')).body.mailRules.box;
const read = () => readBounceBox(fixture.server);
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const needs = async () => (await fixture.owner.ask('GET /api/desk')).body.needs.filter((n) => n.key === 'bounce-box');

/** Sends the edition, and gives the address to which its one mail comes back. */
async function sent(): Promise<string> {
  const params = { client: f.client };
  await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) });
  await fixture.moveTo('2026-11-03T08:00:30Z');
  const { store } = fixture.server;
  const [delivery] = await deliveriesOf(store, [(await edition()).id]);
  return `bounces+${bounceToken(await tokenKey(store, fixture.server.secrets), delivery!.id)}@fernglass.example`;
}
const back = (to: string, status = '5.1.1') =>
  Buffer.from(
    reportOn({ to, recipient: 'petra@tarnbeck.example', status, raw: Buffer.from('Subject: a\r\n\r\nhello') }),
  );

describe('a mailbox to which mails come back', () => {
  it('is read: what belongs to a mail of ours is known and marked, everything else is left as it is', async () => {
    const to = await sent();
    imap.add(Buffer.from('To: somebody@fernglass.example\r\nSubject: lunch\r\n\r\nat one?'));
    expect(await set()).toMatchObject({ status: 200, body: { mails: 1 } });
    imap.add(back(to));
    imap.add(Buffer.from(`To: ${to.replace(/.@/, 'x@')}\r\nSubject: made up\r\n\r\n`));
    await read();
    expect(await edition()).toMatchObject({ state: 'part-sent', deliveries: [{ state: 'bounced' }] });
    expect(imap.mails.map((m) => m.seen)).toEqual([false, true, false]);
    expect(await view()).toMatchObject({ trouble: null, readAt: expect.any(String) });
    expect(JSON.stringify(await view())).not.toContain(IMAP_ACCOUNT.password);
  });

  it('is read on from where it was read; and from its beginning where its numbers are others, without harm', async () => {
    const to = await sent();
    await set();
    imap.add(back(to));
    await read();
    const { store } = fixture.server;
    const lines = async () => (await store.selectFrom('ledger').select('id').execute()).length;
    const before = await lines();
    imap.mails[0]!.seen = false;
    await read();
    expect(imap.mails[0]!.seen).toBe(false);
    imap.renumber();
    await read();
    // Looked at once more, known already: nothing is written twice.
    expect(imap.mails[0]!.seen).toBe(true);
    expect(await lines()).toBe(before);
  });

  it('knows a mail by the field in which its server says to whom it came', async () => {
    const to = await sent();
    await set();
    const raw = back('postmaster@fernglass.example').toString();
    imap.add(Buffer.from(`Delivered-To: ${to}\r\n${raw}`));
    await read();
    expect((await edition()).deliveries).toMatchObject([{ state: 'bounced' }]);
  });

  it.each([
    ['refuse', /rejected our sign-in.*Check the user name and password/],
    ['down', /No response from 127\.0\.0\.1.*retry every minute/],
    ['drop-at-fetch', /could not be read.*retry every minute/],
  ] as const)(
    'that cannot be read (%s) is told on the Desk, loses nothing, and is read on by itself',
    async (fault, words) => {
      const to = await sent();
      await set();
      imap.add(back(to));
      await imap.setFault(fault);
      await read();
      expect((await view())!.trouble).toMatchObject({ since: expect.any(String) });
      expect(await needs()).toMatchObject([{ tone: 'attention', reason: expect.stringMatching(words) }]);
      await imap.setFault('none');
      await read();
      expect(await needs()).toEqual([]);
      expect((await edition()).deliveries).toMatchObject([{ state: 'bounced' }]);
    },
  );

  it('is opened before it is saved: what is wrong is said, and nothing is kept', async () => {
    expect(await set({ password: 'another' })).toMatchObject({ status: 422 });
    expect(await set({ folder: 'Elsewhere' })).toMatchObject({ status: 422 });
    // It offers no encryption.
    for (const tls of ['implicit', 'require']) {
      const { status, body } = await set({ tls });
      expect([tls, status, JSON.stringify(body)]).toEqual([
        tls,
        422,
        expect.stringContaining('Encryption settings don’t match the mailbox server.'),
      ]);
    }
    expect((await set({ folder: 'a\r\nA1 DELETE INBOX' })).fields).toHaveProperty('folder');
    expect(await set({ user: '' })).toMatchObject({ status: 422, fields: { user: expect.any(String) } });
    const { password: _, ...bare } = box();
    const without = await fixture.owner.ask('PUT /api/agency/bounce-box', { body: bare });
    expect(without.fields).toMatchObject({ password: 'Enter the mailbox password.' });
    expect(await view()).toBeNull();
    await set();
    // A password that is kept is given to no other server, and by no other way.
    expect((await fixture.owner.ask('PUT /api/agency/bounce-box', { body: bare })).status).toBe(200);
    for (const changed of [
      { host: 'localhost' },
      { port: imap.port + 1 },
      { user: 'else' },
      { tls: 'offered' as const },
    ]) {
      const other = await fixture.owner.ask('PUT /api/agency/bounce-box', { body: { ...bare, ...changed } });
      expect(other.fields).toMatchObject({ password: expect.any(String) });
    }
  });

  it('is an owner’s to set and to take away', async () => {
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await manager.ask('PUT /api/agency/bounce-box', { body: box() })).status).toBe(403);
    expect((await manager.ask('DELETE /api/agency/bounce-box')).status).toBe(403);
    await set();
    expect((await fixture.owner.ask('DELETE /api/agency/bounce-box')).status).toBe(200);
    expect(await view()).toBeNull();
    const { store } = fixture.server;
    const kept = await store.selectFrom('setting').select('value').where('key', 'like', 'mail.box%').execute();
    expect(kept).toEqual([]);
  });

  it('that holds years of mails is read to its end in one look, however its numbers lie', async () => {
    const to = await sent();
    await set();
    for (let i = 0; i < 450; i++) imap.add(Buffer.from(`To: info@fernglass.example\r\nSubject: ${i}\r\n\r\n`));
    imap.mails.splice(100, 200);
    imap.leaveOut(12_000);
    imap.add(back(to));
    await read();
    expect((await edition()).deliveries).toMatchObject([{ state: 'bounced' }]);
    expect(imap.mails.filter((m) => m.seen)).toHaveLength(1);
  });

  it('that takes the place of another while that one is read begins from its own beginning', async () => {
    const to = await sent();
    await set();
    imap.add(Buffer.from('To: info@fernglass.example\r\nSubject: lunch\r\n\r\n'));
    const other = await startImap(await freePort());
    other.add(back(to));
    await imap.setFault('slow');
    const reading = read();
    expect((await set({ port: other.port })).status).toBe(200);
    await reading;
    await read();
    expect((await edition()).deliveries).toMatchObject([{ state: 'bounced' }]);
    await other.close();
  });

  it('that is to be read no more troubles nobody any more', async () => {
    await set();
    await imap.setFault('refuse');
    await read();
    expect(await needs()).toHaveLength(1);
    await fixture.owner.ask('PUT /api/agency/mail-rules', { body: { bounces: '', perMinute: null, quiet: null } });
    await read();
    expect(await needs()).toEqual([]);
  });

  it('that never says a word keeps nobody waiting, nor the server that ends', async () => {
    await set();
    await imap.setFault('silent');
    const ending = new AbortController();
    const reading = readBounceBox(fixture.server, ending.signal);
    expect((await fixture.owner.ask('GET /api/desk')).status).toBe(200);
    ending.abort();
    // Well before the line itself would be given up.
    await expect(
      Promise.race([reading, new Promise((_, no) => setTimeout(no, 5_000, 'late'))]),
    ).resolves.toBeUndefined();
    expect((await view())!.trouble).toBeNull();
  });
});
