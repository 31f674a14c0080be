import assert from 'node:assert/strict';
import { setTimeout as sleep } from 'node:timers/promises';
import { dkimVerify } from 'mailauth/lib/dkim/verify.js';
import { type ParsedMail, simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { readBounceBox } from '../scheduler/readBounceBox.ts';
import { startDovecot } from './dovecot.ts';
import { freePort } from './freePort.ts';
import { editionsOf, openFurnishedFixture, scheduleFor } from './harness.ts';
import { startPostfix } from './postfix.ts';

/**
 * One edition through a mail server of Debian's, as it is when an agency uses it: signed, handed on, one address that is no
 * more, one reader who wants no more; and the next one, of which what comes back lies in a mailbox of a mailbox server of
 * Debian's. `npm run test:mta`; prints what it found, and ends with 1 where something is not so.
 */
const [smtp, bounces, web, other, imap] = [
  await freePort(),
  await freePort(),
  await freePort(),
  await freePort(),
  await freePort(),
];
/** The server of one reader: the mailbox is no more, which whoever hands on finds out late. */
const emptied = new SMTPServer({
  disabledCommands: ['AUTH', 'STARTTLS'],
  onRcptTo: (_address, _session, done) =>
    done(Object.assign(new Error('5.1.1 This mailbox is no more'), { responseCode: 550 })),
});
emptied.listen(other, '127.0.0.1');
const { fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z', {
  CHRONICON_SMTP: `smtp://127.0.0.1:${smtp}`,
  CHRONICON_SMTP_WAITS: '30,30,60',
  CHRONICON_BOUNCE_PORT: String(bounces),
  CHRONICON_PORT: String(web),
  CHRONICON_URL: `http://127.0.0.1:${web}`,
  CHRONICON_NOTICES: 'on',
});
const postfix = startPostfix({
  port: smtp,
  mailboxes: [
    'petra@tarnbeck.example',
    'olga@tarnbeck.example',
    'ines@fernglass.example',
    'reports@fernglass.example',
    'returned@fernglass.example',
  ],
  handedOn: [
    { start: 'bounces+', port: bounces },
    { start: 'uwe@tarnbeck.example', port: other },
    { start: 'uwe.kell@tarnbeck.example', port: other },
  ],
});
const account = { user: 'returned@fernglass.example', password: 'heron-basket-17' };
const dovecot = startDovecot({
  port: imap,
  folder: postfix.folderOf('returned'),
  owner: postfix.owner,
  ...account,
  certificate: process.env.CHRONICON_PROOF_CERTIFICATE!,
  key: process.env.CHRONICON_PROOF_KEY!,
});

async function until<T>(
  what: string,
  look: () => T | false | null | undefined | Promise<T | false | null | undefined>,
) {
  for (let i = 0; i < 600; i++) {
    const found = await look();
    if (found) return found as T;
    await sleep(100);
  }
  throw new Error(`${what}: it never came to that`);
}
const params = { client: f.client };
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const states = async () =>
  Object.fromEntries((await edition()).deliveries.map((d) => [d.email.split('@')[0], d.state]));
const standings = async () =>
  Object.fromEntries(
    (await fixture.owner.ask('GET /api/clients/:client', { params })).body.contacts.map((c) => [
      c.firstName,
      c.standing,
    ]),
  );
const field = (mail: ParsedMail, name: string): string =>
  mail.headerLines.find((h) => h.key === name)?.line.replace(/\r?\n\s+/g, ' ') ?? '';

try {
  const contacts = [f.contact];
  for (const firstName of ['Uwe', 'Olga']) {
    const body = { firstName, lastName: 'Kell', email: `${firstName.toLowerCase()}@tarnbeck.example` };
    contacts.push((await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body })).body.id);
  }
  const rules = { bounces: 'bounces@fernglass.example', perMinute: null, quiet: null };
  await fixture.owner.ask('PUT /api/agency/mail-rules', { body: rules });
  const dkim = { domain: 'fernglass.example', selector: 'reports' };
  const { name, record } = (await fixture.owner.ask('POST /api/agency/dkim', { body: dkim })).body;
  await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params,
    body: scheduleFor(f, { readers: contacts.map((contact) => ({ contact })) }),
  });

  await fixture.moveTo('2026-11-03T08:00:30Z');
  const [raw] = await until('the mail lies in the mailbox', () => {
    const mails = postfix.mailsOf('petra');
    return mails.length > 0 && mails;
  });
  const mail = await simpleParser(raw!);
  assert.equal(mail.attachments.filter((a) => a.contentType === 'application/pdf').length, 1);
  assert.match(field(mail, 'return-path'), /<bounces\+[a-z0-9]{20}-[0-9a-f]{16}@fernglass\.example>/);
  console.log(`handed over, handed on, and in its mailbox: ${raw!.length} bytes`);

  const resolver = async (asked: string) => {
    assert.equal(asked, name);
    return [[record]];
  };
  const [signature] = (await dkimVerify(raw!, { resolver })).results;
  assert.equal(signature?.status.result, 'pass');
  console.log(`signed as ${signature.signingDomain}, and the signature holds after it was handed on`);

  await until('what came back is known', async () => (await states()).uwe === 'bounced');
  assert.deepEqual(await states(), { petra: 'accepted', uwe: 'bounced', olga: 'accepted' });
  const back = await edition();
  assert.equal(back.state, 'part-sent');
  assert.match(back.reason!, /Came back from uwe@tarnbeck\.example/);
  assert.equal((await standings()).Uwe, 'bounced');
  console.log(`came back, and is known by its return path: ${back.reason}`);

  assert.equal(field(mail, 'list-unsubscribe-post'), 'List-Unsubscribe-Post: List-Unsubscribe=One-Click');
  const link = /<(http:[^>]+)>/.exec(field(mail, 'list-unsubscribe'))![1]!;
  const pressed = await fetch(link, { method: 'POST', body: new URLSearchParams({ 'List-Unsubscribe': 'One-Click' }) });
  assert.equal(pressed.status, 200);
  assert.equal((await standings()).Petra, 'declined');
  const told = await until('the manager is told', async () => {
    const all = await Promise.all(postfix.mailsOf('ines').map((m) => simpleParser(m)));
    return all.find((m) => /wants no more reports/.test(m.subject ?? ''));
  });
  console.log(`one press, and no more; the manager has “${told.subject}”`);

  const before = { petra: postfix.mailsOf('petra').length, olga: postfix.mailsOf('olga').length };
  await fixture.moveTo('2026-12-03T08:00:30Z');
  await until('the next edition is sent', async () => (await edition()).state === 'sent');
  await until('it lies in the mailbox', () => postfix.mailsOf('olga').length > before.olga);
  assert.equal(postfix.mailsOf('petra').length, before.petra);
  assert.deepEqual(await states(), { petra: 'withdrawn', uwe: 'withdrawn', olga: 'accepted' });
  console.log('the next edition goes to the one reader who is left');

  await fixture.owner.ask('PUT /api/agency/mail-rules', { body: { ...rules, bounces: 'returned@fernglass.example' } });
  const set = (changes: object) =>
    fixture.owner.ask('PUT /api/agency/bounce-box', {
      body: { host: '127.0.0.1', port: imap, tls: 'require', folder: 'INBOX', ...account, ...changes },
    });
  const refused = async (changes: object): Promise<string> => {
    const { status, body } = await set(changes);
    assert.equal(status, 422);
    return JSON.stringify(body);
  };
  // Its certificate is for an address of this machine, not for a name.
  assert.match(await refused({ host: 'localhost' }), /certificate is not valid/);
  assert.match(await refused({ password: 'heron-basket-71' }), /does not let this server sign in/);
  assert.match(await refused({ folder: 'Came back' }), /There is no folder “Came back”/);
  assert.equal((await set({})).status, 200);
  console.log(
    'the mailbox is opened, encrypted; a name that its certificate lacks, a wrong password and folder are refused',
  );

  const uwe = { firstName: 'Uwe', lastName: 'Kell', email: 'uwe.kell@tarnbeck.example' };
  const corrected = await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
    params: { ...params, contact: contacts[1]! },
    body: uwe,
  });
  assert.equal(corrected.status, 200);
  await fixture.moveTo('2027-01-03T08:00:30Z');
  await until('it came back to the mailbox', () => postfix.mailsOf('returned').length > 0);
  await readBounceBox(fixture.server);
  assert.deepEqual(await states(), { petra: 'withdrawn', 'uwe.kell': 'bounced', olga: 'accepted' });
  assert.deepEqual([postfix.mailsOf('returned').length, postfix.seenOf('returned')], [1, 1]);
  console.log('what came back to the mailbox is read by IMAP, known, and marked as seen; nothing is taken away');
} catch (error) {
  console.error(error);
  console.error(postfix.log());
  console.error(dovecot.log());
  process.exitCode = 1;
} finally {
  await fixture.close();
  await dovecot.stop();
  postfix.stop();
  await new Promise<void>((r) => emptied.close(() => r()));
}
