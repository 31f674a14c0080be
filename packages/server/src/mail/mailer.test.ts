import { createHash } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import { createServer, type Server, type Socket } from 'node:net';
import { startSimulators } from '@chronicon/simulators';
import { afterEach, describe, expect, it } from 'vitest';
import { mailServerAt, RFC_WAITS } from '../platform/mailServer.ts';
import { createMailer } from './mailer.ts';
import { mimeOf, type OutgoingMail } from './mime.ts';

const mail: OutgoingMail = {
  messageId: 'ed_1.co_1.0@fernglass.example',
  from: { name: 'Fernglass Media', address: 'reports@fernglass.example' },
  to: { name: 'Petra Lund', address: 'petra@tarnbeck.example' },
  replyTo: { name: 'Joren Vask', address: 'joren@fernglass.example' },
  subject: 'Monthly overview: October 2026',
  html: '<p>Hello</p>',
  text: 'Hello',
  attachments: [{ fileName: 'Overview.pdf', type: 'application/pdf', content: Buffer.alloc(90_000, 7) }],
  date: new Date('2026-11-03T08:00:00Z'),
};
const WAITS = { answer: 400, content: 400, dot: 800 };

type Answer = (line: string, socket: Socket) => string | null | undefined;
let server: Server | null = null;
afterEach(() => new Promise<void>((r) => (server ? server.close(() => r()) : r())));

/** A mail server by script: each line of the client is answered, or not; `null` breaks the line. */
async function scripted(greeting: string | null, answer: Answer): Promise<string> {
  server = createServer((socket) => {
    socket.on('error', () => undefined);
    if (greeting !== null) socket.write(`${greeting}\r\n`);
    let inData = false;
    let buffer = '';
    socket.on('data', (part) => {
      buffer += part.toString('latin1');
      if (inData) {
        if (!buffer.endsWith('\r\n.\r\n')) return;
        inData = false;
        buffer = '.\r\n';
      }
      const lines = buffer.split('\r\n');
      buffer = lines.pop()!;
      for (const line of lines) {
        const said = answer(line, socket);
        if (said === null) socket.destroy();
        else if (said !== undefined) socket.write(`${said}\r\n`);
        if (said?.startsWith('354')) inData = true;
      }
    });
  });
  await new Promise<void>((r) => server!.listen(0, '127.0.0.1', r));
  return `smtp://127.0.0.1:${(server!.address() as AddressInfo).port}`;
}

/** Says yes to everything but what `but` answers otherwise. */
const yes =
  (but: Record<string, string | null | undefined> = {}): Answer =>
  (line) => {
    const verb = line.split(/[ :]/)[0]!.toUpperCase();
    if (verb in but) return but[verb];
    return verb === 'DATA' ? '354 go on' : verb === '.' ? '250 taken' : verb === 'QUIT' ? '221 bye' : '250 fine';
  };

describe('one conversation with a mail server', () => {
  it('hands a mail over whole', async () => {
    const url = await scripted('220 here', yes());
    expect(await createMailer(mailServerAt(url), WAITS).send(mail)).toEqual({ kind: 'accepted', reply: '250 taken' });
  });

  it.each([
    ['dots at the beginning of lines', '.\n..\n...and more\n.'],
    ['a dot alone as its last line', 'The end\n.\n'],
    ['lines of every kind of end', 'one\rtwo\nthree\r\nfour'],
    ['nothing', ''],
    ['more than goes at once', 'A line of some length, and a dot.\n.\n'.repeat(4_000)],
  ])('hands over the very bytes of a mail that says %s', async (_, text) => {
    const mailbox = await startSimulators({ smtpPort: 0 });
    const said: OutgoingMail = { ...mail, text, html: `<p>.</p>\n.${text}` };
    const handed = await createMailer(mailServerAt(`smtp://127.0.0.1:${mailbox.smtp.port}`)).send(said);
    const [arrived] = mailbox.mails.list();
    await mailbox.close();
    expect(handed.kind).toBe('accepted');
    expect(arrived!.hashes).toEqual([
      createHash('sha256')
        .update(await mimeOf(said))
        .digest('base64url'),
    ]);
  });

  it.each<[string, string | null, Answer, object]>([
    ['refuses the reader', '220 here', yes({ RCPT: '550 unknown' }), { kind: 'refused', reply: '550 unknown' }],
    ['puts the reader off', '220 here', yes({ RCPT: '451 later' }), { kind: 'deferred' }],
    ['refuses the mail', '220 here', yes({ '.': '554 no such mail here' }), { kind: 'refused' }],
    ['refuses the sender', '220 here', yes({ MAIL: '550 not from you' }), { kind: 'server' }],
    ['wants a sign-in', '220 here', yes({ MAIL: '530 authenticate first' }), { kind: 'server' }],
    ['greets with a refusal', '554 go away', yes(), { kind: 'server' }],
    [
      'never greets',
      null,
      yes(),
      { kind: 'server', reason: expect.stringContaining('The mail server isn’t responding.') },
    ],
    ['breaks the line at RCPT', '220 here', yes({ RCPT: null }), { kind: 'deferred' }],
    ['breaks the line after the last dot', '220 here', yes({ '.': null }), { kind: 'uncertain' }],
    ['is silent after the last dot', '220 here', yes({ '.': undefined }), { kind: 'uncertain' }],
    ['is silent at MAIL', '220 here', yes({ MAIL: undefined }), { kind: 'deferred' }],
    ['is closing', '220 here', yes({ MAIL: '421 closing' }), { kind: 'server' }],
  ])('a server that %s', async (_, greeting, answer, expected) => {
    const url = await scripted(greeting, answer);
    expect(await createMailer(mailServerAt(url), WAITS).send(mail)).toMatchObject(expected);
  });

  it('with nobody there says so', async () => {
    expect(await createMailer(mailServerAt('smtp://127.0.0.1:9'), WAITS).send(mail)).toMatchObject({
      kind: 'server',
      reason: 'No response on the mail server’s port.',
    });
  });

  it('asks for encryption where it has to be there', async () => {
    const url = await scripted('220 here', yes());
    const handed = await createMailer(mailServerAt(url, 'require'), WAITS).send(mail);
    expect(handed.kind).toBe('server');
  });

  it('is ended from outside at once: nothing was handed over before the last dot, after it nobody knows', async () => {
    for (const [verb, kind] of [
      ['MAIL', 'aborted'],
      ['.', 'uncertain'],
    ] as const) {
      const ending = new AbortController();
      const url = await scripted('220 here', (line) => {
        const said = yes({ [verb]: undefined })(line, null as never);
        if (said === undefined) setImmediate(() => ending.abort());
        return said;
      });
      const patient = { answer: 60_000, content: 60_000, dot: 60_000 };
      expect(await createMailer(mailServerAt(url), patient).send(mail, ending.signal)).toMatchObject({ kind });
      await new Promise<void>((r) => server!.close(() => r()));
    }
  });

  it('waits as long as the RFC says unless told otherwise', () => {
    expect(RFC_WAITS).toEqual({ answer: 300_000, content: 180_000, dot: 600_000 });
  });
});

describe('lines to a mail server', () => {
  /** What was asked of the server, in order; each line is told by its number. */
  async function counting(answer: (line: string, mails: number) => string | null | undefined) {
    const asked: string[] = [];
    let mails = 0;
    const url = await scripted('220 here', (line) => {
      const verb = line.split(/[ :]/)[0]!.toUpperCase();
      asked.push(verb);
      const said = answer(verb, mails);
      if (verb === '.') mails++;
      return said;
    });
    return { url, asked };
  }
  const fine = (verb: string) => yes()(verb, null as never);

  it('are used again for the next mail, and ended in good manner', async () => {
    const { url, asked } = await counting(fine);
    const mailer = createMailer(mailServerAt(url), WAITS);
    for (let i = 0; i < 3; i++) expect((await mailer.send(mail)).kind).toBe('accepted');
    expect(asked.filter((v) => v === 'EHLO')).toHaveLength(1);
    expect(asked.filter((v) => v === 'MAIL')).toHaveLength(3);
    mailer.close();
    for (let i = 0; i < 100 && !asked.includes('QUIT'); i++) await new Promise((r) => setTimeout(r, 10));
    expect(asked.at(-1)).toBe('QUIT');
  });

  it.each([
    ['shut', null],
    ['ended with 421', '421 too many mails'],
  ])('that the server has %s meanwhile cost no try: a new one takes the mail', async (_, said) => {
    const { url, asked } = await counting((verb, mails) =>
      verb === 'MAIL' && mails === 1 && asked.filter((v) => v === 'EHLO').length === 1 ? said : fine(verb),
    );
    const mailer = createMailer(mailServerAt(url), WAITS);
    expect((await mailer.send(mail)).kind).toBe('accepted');
    expect(await mailer.send(mail)).toEqual({ kind: 'accepted', reply: '250 taken' });
    expect(asked.filter((v) => v === 'EHLO')).toHaveLength(2);
    mailer.close();
  });

  it('after a refusal are not used again: whatever was said there is over', async () => {
    const { url, asked } = await counting((verb, mails) => (verb === 'RCPT' && mails === 0 ? '550 no' : fine(verb)));
    const mailer = createMailer(mailServerAt(url), WAITS);
    expect((await mailer.send(mail)).kind).toBe('refused');
    expect(asked.filter((v) => v === 'EHLO')).toHaveLength(1);
    mailer.close();
  });

  it('tell the return path of the delivery, and the sender where it has none', async () => {
    const paths: string[] = [];
    const url = await scripted('220 here', (line, socket) => {
      if (/^MAIL/i.test(line)) paths.push(/<([^>]*)>/.exec(line)![1]!);
      return yes()(line, socket);
    });
    const mailer = createMailer(mailServerAt(url), WAITS);
    await mailer.send({ ...mail, returnPath: 'bounces+x-1@fernglass.example' });
    await mailer.send(mail);
    expect(paths).toEqual(['bounces+x-1@fernglass.example', 'reports@fernglass.example']);
    mailer.close();
  });
});

describe('a mail as bytes', () => {
  it('is the same each time that it is handed over, and tells nothing of what made it', async () => {
    const [first, second] = [await mimeOf(mail), await mimeOf(mail)];
    expect(first.equals(second)).toBe(true);
    const text = first.toString('latin1');
    expect(text).toContain('Reply-To: Joren Vask <joren@fernglass.example>');
    expect(text).toContain('Date: Tue, 03 Nov 2026 08:00:00 +0000');
    expect(text.toLowerCase()).not.toMatch(/chronicon|nodemailer|x-mailer/);
  });
});
