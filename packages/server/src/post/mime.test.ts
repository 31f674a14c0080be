import fc from 'fast-check';
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
        const fields = await fieldsOf(mail({ to, subject }));
        for (const [n] of fields) expect(names).toContain(n);
        const [, line] = fields.find(([n]) => n === 'To')!;
        expect(line.match(/<[^>]*>$/)?.[0] ?? line).toMatch(/^<?orla@mosswick\.example>?$/);
      }),
      { numRuns: 100 },
    );
  });
});
