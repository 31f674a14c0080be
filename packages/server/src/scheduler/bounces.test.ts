import { connect } from 'node:net';
import { sendBack } from '@chronicon/simulators';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CrashPoint } from '../platform/crashPoints.ts';
import { bounceToken, tokenKey } from '../store/mailTokens.ts';
import { deliveriesOf } from '../store/messages.ts';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { createScheduler } from './scheduler.ts';

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z', { CHRONICON_BOUNCE_PORT: '0' }));
  fixture.simulators.smtp.backTo = fixture.server.bouncePort;
  await rules({ bounces: 'bounces@fernglass.example' });
});
afterEach(() => fixture.close());

const rules = (body: object) =>
  fixture.owner.ask('PUT /api/agency/mail-rules', { body: { bounces: '', perMinute: null, quiet: null, ...body } });

async function until<T>(what: string, look: () => Promise<T | false | null | undefined>): Promise<T> {
  for (let i = 0; i < 600; i++) {
    const found = await look();
    if (found) return found;
    await new Promise((r) => setTimeout(r, 50));
  }
  throw new Error(`never: ${what}`);
}

async function send() {
  const planned = await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f),
  });
  expect(planned.status).toBe(200);
  await fixture.moveTo(DRAWN);
  await fixture.moveTo(SENT);
  return (await editionsOf(fixture, f.client))[0]!;
}
const now = async () => (await editionsOf(fixture, f.client))[0]!;
const contact = async () =>
  (await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body.contacts.find(
    (c) => c.id === f.contact,
  )!;
const needs = async () => (await fixture.owner.ask('GET /api/desk')).body.needs;

/** Talks to the server as any other would; what it says to each line, by its code. */
async function talk(lines: string[]): Promise<number[]> {
  const socket = connect(fixture.server.bouncePort!, '127.0.0.1');
  const codes: number[] = [];
  let waiting: ((code: number) => void) | null = null;
  let said = '';
  socket.on('data', (part) => {
    said += part.toString();
    const done = /^(\d{3}) [^\r\n]*\r\n$/m.exec(said);
    if (!done) return;
    said = '';
    waiting?.(Number(done[1]));
  });
  const answer = () =>
    new Promise<number>((resolve) => {
      waiting = resolve;
    });
  await answer();
  for (const line of lines) {
    const next = answer();
    socket.write(`${line}\r\n`);
    codes.push(await next);
  }
  socket.end();
  return codes;
}

describe('a mail that comes back', () => {
  it('is written down at its reader, who gets nothing more; corrected, it goes to that one alone', async () => {
    fixture.simulators.smtp.bouncing.set('petra@tarnbeck.example', '5.1.1');
    const edition = await send();
    // The mail server took it: nothing was wrong by then.
    const back = await until('it comes back', async () => {
      const e = await now();
      return e.state === 'part-sent' || e.state === 'held' ? e : null;
    });
    expect(back.reason).toContain('Bounced for petra@tarnbeck.example');
    expect(back.reason).toContain('This address doesn’t exist.');
    expect(back.deliveries).toMatchObject([{ state: 'bounced', reply: expect.stringContaining('5.1.1') }]);
    expect((await contact()).standing).toBe('bounced');
    expect((await needs()).map((n) => n.title)).toEqual(
      expect.arrayContaining([
        expect.stringContaining(': some deliveries failed'),
        'Tarnbeck Pottery: emails to Petra Lund bounce',
      ]),
    );
    const params = { client: f.client, contact: f.contact };
    const body = { firstName: 'Petra', lastName: 'Lund', email: 'p.lund@tarnbeck.example', standing: 'reads' as const };
    expect((await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', { params, body })).status).toBe(200);
    const again = { params: { edition: edition.id }, body: { readers: [f.contact] } };
    expect((await fixture.owner.ask('POST /api/editions/:edition/resend', again)).body).toEqual({ mails: 1 });
    await fixture.server.scheduler.settle();
    expect(await now()).toMatchObject({ state: 'sent', reason: null });
    expect(fixture.simulators.mails.list('p.lund@tarnbeck.example')).toHaveLength(1);
    expect((await needs()).filter((n) => /come back|not everybody/.test(n.title))).toEqual([]);
  });

  it('for a full box is told as that, and nobody is stopped', async () => {
    fixture.simulators.smtp.bouncing.set('petra@tarnbeck.example', '5.2.2');
    await send();
    const back = await until('it comes back', async () => ((await now()).state === 'sent' ? null : now()));
    expect(back.reason).toContain('The mailbox is full.');
    expect((await contact()).standing).toBe('reads');
  });

  it('stops nobody whose address was corrected meanwhile', async () => {
    const edition = await send();
    const [d] = await deliveriesOf(fixture.server.store, [edition.id]);
    const params = { client: f.client, contact: f.contact };
    const body = { firstName: 'Petra', lastName: 'Lund', email: 'p.lund@tarnbeck.example' };
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', { params, body });
    const to = `bounces+${bounceToken(await tokenKey(fixture.server.store, fixture.server.secrets), d!.id)}@fernglass.example`;
    const report = { to, recipient: 'petra@tarnbeck.example', status: '5.1.1', raw: Buffer.from('Subject: x\r\n\r\n') };
    await sendBack(fixture.server.bouncePort!, report);
    expect((await now()).state).not.toBe('sent');
    expect((await contact()).standing).toBe('reads');
    // The same report twice is one.
    await sendBack(fixture.server.bouncePort!, report);
    expect((await now()).deliveries.map((x) => x.state)).toEqual(['bounced']);
  });
});

describe('a report', () => {
  const bounces = async (id: string) =>
    `bounces+${bounceToken(await tokenKey(fixture.server.store, fixture.server.secrets), id)}@fernglass.example`;
  const report = async (id: string, recipient = 'petra@tarnbeck.example') =>
    sendBack(fixture.server.bouncePort!, {
      to: await bounces(id),
      recipient,
      status: '5.1.1',
      raw: Buffer.from('Subject: x\r\n\r\n'),
    });
  const delivery = async () => (await deliveriesOf(fixture.server.store, [(await now()).id]))[0]!;

  it('on a mail of which nobody knows whether it was taken says so; the next ones are heard, too', async () => {
    await fixture.simulators.smtp.setFault('drop-after-data');
    await send();
    const d = await delivery();
    expect(d.state).toBe('uncertain');
    await report(d.id);
    expect(await delivery()).toMatchObject({
      state: 'bounced',
      reply: expect.stringContaining('This address doesn’t exist.'),
    });
    expect((await contact()).standing).toBe('bounced');
    // Told once more, it is taken and changes nothing: no mail server tries for days.
    await report(d.id);
    expect((await delivery()).state).toBe('bounced');
  });

  it('that is faster than we write down that its mail was taken counts once that is written down', async () => {
    let early: Promise<void> | null = null;
    const crash = (point: CrashPoint) => {
      if (point !== 'send.after-accepted-by-server') return;
      early = delivery().then((d) => report(d.id));
    };
    const turn = async () => early ?? undefined;
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    await fixture.moveTo(DRAWN);
    await fixture.server.scheduler.stop();
    const own = createScheduler({ ...fixture.server, crash, precedence: { ...fixture.server.precedence, turn } });
    fixture.server.clock.moveTo(SENT);
    await own.settle();
    await own.stop();
    expect(early).not.toBeNull();
    expect(await delivery()).toMatchObject({
      state: 'bounced',
      reply: expect.stringContaining('This address doesn’t exist.'),
    });
    expect((await contact()).standing).toBe('bounced');
  });

  it('on another address than the one that the mail went to says nothing of its reader', async () => {
    await send();
    await report((await delivery()).id, 'somebody@elsewhere.example');
    expect((await delivery()).state).toBe('accepted');
    expect((await contact()).standing).toBe('reads');
  });

  it('that cannot be read keeps none of the others, is told, and goes once somebody has looked at it', async () => {
    await send();
    const d = await delivery();
    const { store } = fixture.server;
    const { settings } = await store
      .selectFrom('client')
      .select('settings')
      .where('id', '=', f.client)
      .executeTakeFirstOrThrow();
    await store.updateTable('client').set({ settings: '{' }).where('id', '=', f.client).execute();
    await report(d.id);
    await store.updateTable('client').set({ settings }).where('id', '=', f.client).execute();
    expect((await needs()).map((n) => n.title)).toContain('A bounce we couldn’t read');
    const [mail] = (await fixture.owner.ask('GET /api/agency')).body.mailRules.unread;
    const raw = await (await fixture.owner.raw(`/api/agency/unread-mails/${mail!.id}`)).text();
    expect(raw).toContain('petra@tarnbeck.example');
    await fixture.owner.ask('DELETE /api/agency/unread-mails/:mail', { params: { mail: mail!.id } });
    expect((await needs()).map((n) => n.key)).not.toContain('unread-mails');
    await report(d.id);
    expect((await delivery()).state).toBe('bounced');
  });
});

describe('the server for mails that come back', () => {
  it('takes what is addressed to a delivery of this agency, from nobody; and nothing else', async () => {
    const edition = await send();
    const [d] = await deliveriesOf(fixture.server.store, [edition.id]);
    const token = bounceToken(await tokenKey(fixture.server.store, fixture.server.secrets), d!.id);
    const rcpt = (address: string) => `RCPT TO:<${address}>`;
    const forged = `${token.slice(0, -1)}${token.endsWith('0') ? '1' : '0'}`;
    expect(
      await talk([
        'EHLO mx.elsewhere.example',
        'MAIL FROM:<>',
        rcpt('bounces@fernglass.example'),
        rcpt(`bounces+${forged}@fernglass.example`),
        rcpt(`bounces+${token}@elsewhere.example`),
        rcpt('somebody@elsewhere.example'),
        rcpt(`BOUNCES+${token.toUpperCase()}@Fernglass.Example`),
        'QUIT',
      ]),
    ).toEqual([250, 250, 550, 550, 550, 550, 250, 221]);
  });

  it('lets answers of people on leave, and what is no report, change nothing', async () => {
    const edition = await send();
    const [d] = await deliveriesOf(fixture.server.store, [edition.id]);
    const token = bounceToken(await tokenKey(fixture.server.store, fixture.server.secrets), d!.id);
    const codes = await talk([
      'EHLO mx.elsewhere.example',
      'MAIL FROM:<petra@tarnbeck.example>',
      `RCPT TO:<bounces+${token}@fernglass.example>`,
      'DATA',
      'Subject: I am on leave\r\n\r\nUntil Monday. Action: failed\r\nStatus: 5.1.1\r\n.',
    ]);
    expect(codes.at(-1)).toBe(250);
    expect((await now()).state).toBe('sent');
    expect((await contact()).standing).toBe('reads');
  });
});

describe('how mails go out', () => {
  it('so many a minute, and the others after it', async () => {
    await rules({ perMinute: 2 });
    for (const name of ['Ada', 'Ole', 'Sunniva']) {
      await fixture.owner.ask('POST /api/clients/:client/contacts', {
        params: { client: f.client },
        body: { firstName: name, lastName: '', email: `${name.toLowerCase()}@tarnbeck.example` },
      });
    }
    const { contacts } = (await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body;
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f, { readers: contacts.map((c) => ({ contact: c.id })) }),
    });
    await fixture.moveTo(DRAWN);
    await fixture.moveTo(SENT);
    expect(fixture.simulators.mails.list()).toHaveLength(2);
    expect((await now()).state).toBe('sending');
    await fixture.moveTo('2026-11-03T08:02:00Z');
    expect(fixture.simulators.mails.list()).toHaveLength(4);
    expect((await now()).state).toBe('sent');
  });

  it('not by night: what is due then goes in the morning', async () => {
    await rules({ quiet: { from: '21:00', until: '08:30' } });
    await send();
    expect(fixture.simulators.mails.list()).toEqual([]);
    await fixture.moveTo('2026-11-03T08:31:00Z');
    expect(fixture.simulators.mails.list()).toHaveLength(1);
    expect((await now()).state).toBe('sent');
  });
});
