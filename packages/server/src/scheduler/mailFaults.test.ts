import { SMTP_ACCOUNT } from '@chronicon/simulators';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { mailServerAt, type TlsPolicy } from '../platform/mailServer.ts';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let contacts: Record<'petra' | 'uwe' | 'olga', string>;

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  const add = async (firstName: string) => {
    const body = { firstName, lastName: 'Kell', email: `${firstName.toLowerCase()}@tarnbeck.example` };
    return (await fixture.owner.ask('POST /api/clients/:client/contacts', { params: { client: f.client }, body })).body
      .id;
  };
  contacts = { petra: f.contact, uwe: await add('Uwe'), olga: await add('Olga') };
  const body = scheduleFor(f, { readers: Object.values(contacts).map((contact) => ({ contact })) });
  await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
});
afterEach(() => fixture.close());

const DUE = '2026-11-03T08:00:30Z';
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const states = async () =>
  Object.fromEntries((await edition()).deliveries.map((d) => [d.email.split('@')[0], d.state]));
const all = (state: string) => ({ petra: state, uwe: state, olga: state });
const arrived = () => fixture.simulators.mails.list().map((m) => [m.to.split('@')[0], m.times]);
const onceEach = [
  ['olga', 1],
  ['petra', 1],
  ['uwe', 1],
];
const needs = async () => (await fixture.owner.ask('GET /api/desk')).body.needs;
const stops = async () => (await fixture.owner.ask('GET /api/sending')).body.stops;

/** The same mail server, reached in another way. */
async function reach(changes: { tls?: TlsPolicy; user?: string; password?: string }): Promise<void> {
  const server = { ...mailServerAt(`smtp://127.0.0.1:${fixture.config.mailServer!.port}`), ...changes };
  await fixture.restart({ mailServer: server });
}

describe('a mail server that puts strangers off once', () => {
  it('has each mail a little later, by itself, once', async () => {
    await fixture.simulators.smtp.setFault('greylist');
    await fixture.moveTo(DUE);
    expect(await states()).toEqual(all('deferred'));
    expect((await edition()).reason).toMatch(
      /The mail server hasn’t accepted it yet: 450 4\.2\.0 Greylisted.*Retrying/,
    );
    // A minute, or up to a fifth more.
    await fixture.moveTo('2026-11-03T08:01:45Z');
    expect(await states()).toEqual(all('accepted'));
    expect((await edition()).state).toBe('sent');
    expect(arrived().sort()).toEqual(onceEach);
  });
});

describe('one of three readers who is refused', () => {
  it('keeps nothing from the others; who sees it can send to that one alone', async () => {
    fixture.simulators.smtp.refused.add('uwe@tarnbeck.example');
    await fixture.moveTo(DUE);
    expect(await states()).toEqual({ petra: 'accepted', olga: 'accepted', uwe: 'refused' });
    const e = await edition();
    expect(e).toMatchObject({ state: 'part-sent', reason: expect.stringContaining('550 5.1.1 Mailbox unavailable') });
    expect((await needs()).find((n) => n.editions.some((x) => x.id === e.id))).toMatchObject({
      tone: 'wrong',
      action: { to: expect.stringContaining(e.id) },
    });
    const params = { client: f.client, contact: contacts.uwe };
    const body = { firstName: 'Uwe', lastName: 'Kell', email: 'uwe.kell@tarnbeck.example' };
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', { params, body });
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: e.id } });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('sent');
    expect(arrived().sort()).toEqual([
      ['olga', 1],
      ['petra', 1],
      ['uwe.kell', 1],
    ]);
  });
});

describe('a line that breaks in the midst of a mail', () => {
  it('loses nothing: the same mail goes once more', async () => {
    await fixture.simulators.smtp.setFault('drop-at-data');
    await fixture.moveTo(DUE);
    expect(await states()).toEqual(all('deferred'));
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:01:45Z');
    expect((await edition()).state).toBe('sent');
    expect(arrived().sort()).toEqual(onceEach);
  });
});

describe('a mail server that is not reached as it wants to be', () => {
  it.each<[string, 'none' | 'bad-certificate' | 'ask-to-sign-in', TlsPolicy, RegExp, RegExp]>([
    [
      'refuses encryption that has to be',
      'none',
      'require',
      /The mail server doesn’t encrypt this connection:/,
      /the port and the TLS setting/,
    ],
    [
      'has a certificate that nobody signed',
      'bad-certificate',
      'offered',
      /certificate is not valid/,
      /Renew the mail server’s certificate, or use the host name in the certificate\./,
    ],
    [
      'asks to sign in',
      'ask-to-sign-in',
      'offered',
      /The mail server rejected our sign-in:/,
      /Check the mail server’s user name and password\./,
    ],
  ])(
    '(one that %s) stops the outbox with what to do, loses nothing, and goes on once it is mended',
    async (_, fault, tls, reason, mend) => {
      await fixture.simulators.smtp.setFault(fault);
      await reach({ tls });
      await fixture.moveTo(DUE);
      expect(await stops()).toMatchObject([
        { cause: 'mail-server', reason: expect.stringMatching(reason), mend: expect.stringMatching(mend) },
      ]);
      expect((await needs())[0]).toMatchObject({ title: 'Emails aren’t being sent', tone: 'wrong' });
      // No reader is to blame, and no try is counted.
      expect(await states()).toEqual(all('queued'));
      expect((await edition()).deliveries.every((d) => d.tries === 0)).toBe(true);
      if (fault === 'bad-certificate') await fixture.simulators.smtp.setFault('none');
      await reach({ tls: 'offered', ...SMTP_ACCOUNT });
      await fixture.moveTo('2026-11-03T08:20:00Z');
      expect(await stops()).toEqual([]);
      expect((await edition()).state).toBe('sent');
      expect(arrived().sort()).toEqual(onceEach);
    },
  );
});

describe('a mail that is larger than the mail server takes', () => {
  it('is handed over to nobody; it says how large it is, how large it may be, and what to do', async () => {
    await fixture.simulators.smtp.setFault('small');
    await fixture.moveTo(DUE);
    const e = await edition();
    expect(e.state).toBe('held');
    expect(e.reason).toMatch(/The email has 0\.\d MB; the mail server accepts 0\.0 MB\. Remove files or pages/);
    expect(await states()).toEqual(all('refused'));
    expect(arrived()).toEqual([]);
    await fixture.simulators.smtp.setFault('none');
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: e.id } });
    await fixture.server.scheduler.settle();
    expect(arrived().sort()).toEqual(onceEach);
  });
});

describe('a mail server of seven bits', () => {
  it('has the mail whole: no byte of it needs more', async () => {
    const params = { client: f.client, contact: contacts.olga };
    const body = { firstName: 'Ólga', lastName: 'Křížová', email: 'olga@tarnbeck.example' };
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', { params, body });
    await fixture.simulators.smtp.setFault('seven-bit');
    await fixture.moveTo(DUE);
    expect(arrived().sort()).toEqual(onceEach);
    const params2 = { edition: (await edition()).id };
    const deliveries = (await fixture.owner.ask('GET /api/editions/:edition/deliveries', { params: params2 })).body;
    const own = deliveries.find((d) => d.email === 'olga@tarnbeck.example')!;
    const raw = await (
      await fixture.owner.raw(`/api/editions/${params2.edition}/deliveries/${own.id}/eml`)
    ).arrayBuffer();
    expect(Buffer.from(raw).every((byte) => byte < 128)).toBe(true);
    const { parsed } = (await fixture.simulators.mails.read(
      fixture.simulators.mails.list('olga@tarnbeck.example')[0]!.id,
    ))!;
    expect(parsed.text).toContain('Ólga');
  });
});

describe('a mail server that is silent for long', () => {
  it('keeps its own mails waiting alone, and has them once it speaks', async () => {
    await fixture.restart({ smtpWaits: { answer: 60_000, content: 60_000, dot: 60_000 } });
    await fixture.simulators.smtp.setFault('slow');
    fixture.simulators.smtp.delay = 3;
    const { url } = fixture.server;
    let answered = 0;
    const moving = fixture.moveTo(DUE);
    while (fixture.simulators.smtp.open === 0) await new Promise((r) => setTimeout(r, 20));
    // Whoever asks meanwhile is answered.
    while (fixture.simulators.smtp.open > 0 && answered < 3) {
      expect((await fetch(`${url}/api/health`)).ok).toBe(true);
      answered++;
    }
    await moving;
    expect(answered).toBe(3);
    expect((await edition()).state).toBe('sent');
    expect(arrived().sort()).toEqual(onceEach);
  });
});
