import { execFileSync } from 'node:child_process';
import { generateKeyPairSync } from 'node:crypto';
import fc from 'fast-check';
import { dkimVerify } from 'mailauth/lib/dkim/verify.js';
import { simpleParser } from 'mailparser';
import PostalMime from 'postal-mime';
import { describe, expect, it } from 'vitest';
import { mimeOf, type OutgoingMail } from './mime.ts';

const at = (name: string) => ({ name, address: `${name.toLowerCase().replace(/\W/g, '')}@mosswick.example` });
const mail = (more: Partial<OutgoingMail> = {}): OutgoingMail => ({
  messageId: 'ed_1.1@reports.example',
  from: { name: 'Fernglass Media', address: 'reports@fernglass.example' },
  to: at('Orla'),
  subject: 'October',
  html: '<p>Hello</p>',
  text: 'Hello',
  date: new Date('2026-11-03T08:00:00Z'),
  ...more,
});
/** Header fields by name, unfolded (RFC 5322 §2.2.3). */
async function fieldsOf(of: OutgoingMail): Promise<[string, string][]> {
  const [head] = (await mimeOf(of)).toString('latin1').split('\r\n\r\n');
  const lines = head!.replace(/\r\n[ \t]+/g, ' ').split('\r\n');
  return lines.map((l) => [l.slice(0, l.indexOf(':')), l.slice(l.indexOf(':') + 1).trim()]);
}
const field = async (of: OutgoingMail, name: string) => (await fieldsOf(of)).find(([n]) => n === name)?.[1];

describe('a mail as bytes', () => {
  it('names its one reader, where each has a mail of their own', async () => {
    expect(await field(mail(), 'To')).toBe('Orla <orla@mosswick.example>');
    expect(await field(mail(), 'Cc')).toBeUndefined();
  });

  it('names those in To and Cc to everybody, whoever this copy is for, and those in Bcc to nobody', async () => {
    const lines = { to: [at('Orla'), at('Tobin')], cc: [at('Ada')] };
    for (const to of [at('Orla'), at('Ada'), at('Hidden')]) {
      expect(await field(mail({ to, lines }), 'To')).toBe(
        'Orla <orla@mosswick.example>, Tobin <tobin@mosswick.example>',
      );
      expect(await field(mail({ to, lines }), 'Cc')).toBe('Ada <ada@mosswick.example>');
    }
    const bytes = (await mimeOf(mail({ to: at('Hidden'), lines }))).toString('latin1');
    expect(bytes).not.toContain('hidden@');
    expect(bytes).not.toMatch(/^Bcc:/im);
  });

  it('names nobody where all of them stand in Bcc', async () => {
    const hidden = mail({ to: at('Hidden'), lines: { to: [], cc: [] } });
    expect(await field(hidden, 'To')).toBe('Undisclosed recipients:;');
    expect((await mimeOf(hidden)).toString('latin1')).not.toContain('hidden@');
  });

  it('is the same each time that it is handed over, files and all', async () => {
    const of = mail({
      attachments: [{ fileName: 'October.csv', type: 'text/csv', content: Buffer.from('a,b\r\n1,2\r\n') }],
      pictures: [{ cid: 'head@reports.example', type: 'image/jpeg', content: Buffer.from([255, 216, 255]) }],
    });
    const first = await mimeOf(of);
    expect(await mimeOf(of)).toEqual(first);
    expect(first.toString('latin1')).toContain('filename=October.csv');
    expect(first.toString('latin1')).toContain('Content-ID: <head@reports.example>');
  });

  it('has no field that somebody wrote into a name or a subject, whatever they wrote', async () => {
    const names = ['From', 'To', 'Subject', 'Message-ID', 'Date', 'Auto-Submitted', 'MIME-Version', 'Content-Type'];
    const said = fc.oneof(
      fc.string({ unit: 'binary', maxLength: 40 }),
      fc.constantFrom(
        'a\r\nBcc: x@elsewhere.example',
        'b\nX-Other: 1',
        'c\r\n\r\nbody',
        'd", <x@elsewhere.example>, "e',
      ),
    );
    await fc.assert(
      fc.asyncProperty(said, said, async (name, subject) => {
        const to = { name, address: 'orla@mosswick.example' };
        const written = await mimeOf(mail({ to, subject, text: name, html: `<p>${subject}</p>` }));
        // A line has one end alone: what ends with another could end the mail where somebody wants (RFC 5321 §2.3.8).
        expect(written.toString('latin1')).not.toMatch(/\r(?!\n)|(?<!\r)\n/);
        const fields = await fieldsOf(mail({ to, subject }));
        for (const [n] of fields) expect(names).toContain(n);
        const [, line] = fields.find(([n]) => n === 'To')!;
        expect(line.match(/<[^>]*>$/)?.[0] ?? line).toMatch(/^<?orla@mosswick\.example>?$/);
      }),
      { numRuns: 100 },
    );
  });
});

describe('what a mail program reads', () => {
  const NAME = 'Übersicht – „Oktober“ שלום 2026, Seite 1; 50%.pdf';
  const HOSTILE = 'Monat\r\nBcc: all@evil.example\r\n\r\n<script>';
  const rich = mail({
    subject: 'Übersicht: Oktober – 12 % besser',
    from: { name: 'Fernglas & Söhne', address: 'reports@fernglass.example' },
    html: `<p>${'Straße '.repeat(400)}</p><img src="cid:${'a'.repeat(64)}@mail">`,
    text: `Hello\n${'x'.repeat(3000)}\n.\nFrom here`,
    pictures: [{ cid: `${'a'.repeat(64)}@mail`, type: 'image/png', content: Buffer.alloc(3000, 1) }],
    attachments: [
      { fileName: NAME, type: 'application/pdf', content: Buffer.alloc(9000, 2) },
      { fileName: `${'n'.repeat(200)}.csv`, type: 'text/csv', content: Buffer.from('a,b\r\n') },
    ],
    unsubscribe: { mailto: 'reports@fernglass.example', url: 'https://reports.example/unsubscribe/x', oneClick: true },
  });

  it('is the same to three readers of mails, without a defect, and no line is too long', async () => {
    const bytes = await mimeOf(rich);
    const lines = bytes.toString('latin1').split('\r\n');
    expect(Math.max(...lines.map((l) => l.length))).toBeLessThanOrEqual(998);
    // Nothing but CRLF ends a line (RFC 5322 §2.3).
    expect(bytes.toString('latin1').replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
    const program = [
      'import sys, json, email, email.policy',
      'm = email.message_from_bytes(sys.stdin.buffer.read(), policy=email.policy.default)',
      'defects = [str(d) for p in m.walk() for d in p.defects]',
      'print(json.dumps({"defects": defects, "subject": m["subject"], "from": str(m["from"].addresses[0].display_name),',
      ' "files": [p.get_filename() for p in m.iter_attachments()], "text": m.get_body(("plain",)).get_content()}))',
    ].join('\n');
    const python = JSON.parse(execFileSync('python3', ['-c', program], { input: bytes }).toString()) as Record<
      string,
      unknown
    >;
    expect(python.defects).toEqual([]);
    const one = await simpleParser(bytes);
    const two = await PostalMime.parse(bytes);
    for (const subject of [python.subject, one.subject, two.subject]) expect(subject).toBe(rich.subject);
    for (const name of [python.from, one.from!.value[0]!.name, two.from!.name]) expect(name).toBe(rich.from.name);
    expect(python.files).toEqual(expect.arrayContaining([NAME]));
    expect(one.attachments.map((a) => a.filename)).toContain(NAME);
    expect(two.attachments.map((a) => a.filename)).toContain(NAME);
    expect(one.attachments.find((a) => a.filename === NAME)!.content.equals(Buffer.alloc(9000, 2))).toBe(true);
    for (const text of [python.text, one.text, two.text])
      expect(String(text).trim().replace(/\r/g, '')).toBe(rich.text);
    expect(two.html).toContain('Straße');
  });

  it('holds nothing that breaks out of its place: names, subjects and files of one line', async () => {
    const of = mail({
      subject: HOSTILE,
      from: { name: HOSTILE, address: 'reports@fernglass.example' },
      attachments: [
        { fileName: `../../etc/${HOSTILE}\u202efdp.exe`, type: 'application/pdf', content: Buffer.from('x') },
      ],
    });
    const parsed = await simpleParser(await mimeOf(of));
    expect(parsed.bcc).toBeUndefined();
    expect(parsed.headers.has('bcc')).toBe(false);
    expect(parsed.subject).not.toMatch(/[\r\n]/);
    expect(parsed.attachments).toHaveLength(1);
    expect(parsed.attachments[0]!.filename).toBe('Monat Bcc: all@evil.example <script> fdp.exe');
  });

  it('is signed where there is a key: all that is seen, and how to have no more; the same each time', async () => {
    const { privateKey, publicKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
    const pem = privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();
    const key = { domain: 'fernglass.example', selector: 'reports', privateKey: pem };
    const signed = await mimeOf(rich, key);
    expect(signed.equals(await mimeOf(rich, key))).toBe(true);
    const record = `v=DKIM1; k=rsa; p=${publicKey.export({ type: 'spki', format: 'der' }).toString('base64')}`;
    const resolver = async (name: string) => {
      expect(name).toBe('reports._domainkey.fernglass.example');
      return [[record]];
    };
    const verified = async (bytes: Buffer) => (await dkimVerify(bytes, { resolver })).results[0]!;
    const { status, signingHeaders, signingDomain } = (await verified(signed)) as Awaited<
      ReturnType<typeof verified>
    > & {
      signingHeaders: { keys: string };
    };
    expect(status.result).toBe('pass');
    expect(signingDomain).toBe('fernglass.example');
    expect(signingHeaders.keys.toLowerCase().split(': ')).toEqual(
      expect.arrayContaining([
        'from',
        'subject',
        'date',
        'to',
        'message-id',
        'list-unsubscribe',
        'list-unsubscribe-post',
      ]),
    );
    const changed = Buffer.from(signed.toString('latin1').replace('One-Click', 'Two-Click'), 'latin1');
    expect((await verified(changed)).status.result).not.toBe('pass');
  });
});
