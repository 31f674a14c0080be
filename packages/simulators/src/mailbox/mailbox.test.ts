import { createTransport } from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { type Simulators, startSimulators } from '../index.ts';

const SMTP = 4472;
let simulators: Simulators;
let folder: string | undefined;

beforeEach(async () => {
  simulators = await startSimulators({ smtpPort: SMTP, ...(folder && { data: folder }) });
});
afterEach(() => simulators.close());

const transport = createTransport({ host: '127.0.0.1', port: SMTP, secure: false, ignoreTLS: true });
const mail = (to: string | string[], messageId = '<one@x.example>') => ({
  messageId,
  from: 'reports@fernglass.example',
  to,
  subject: 'Report <October>',
  text: 'Hello',
  html: '<p onclick="alert(1)">Hello<script>alert(2)</script></p>',
  attachments: [{ filename: 'a & b.pdf', content: Buffer.from('%PDF-1.7 test'), contentType: 'application/pdf' }],
});

describe('the mailbox', () => {
  it('shows a mail as its reader sees it, harmless, with the attachment as it was sent', async () => {
    await transport.sendMail(mail('orla@mosswick.example'));
    const [found] = simulators.mails.list('ORLA@mosswick.example');
    expect(found).toMatchObject({ subject: 'Report <October>', attachments: ['a & b.pdf'], times: 1 });
    const page = await (await fetch(`${simulators.url}/mailbox/${found!.id}`)).text();
    expect(page).toContain('Report &lt;October&gt;');
    const body = await (await fetch(`${simulators.url}/mailbox/${found!.id}/body`)).text();
    expect(body).toContain('<p>Hello</p>');
    expect(body).not.toContain('alert');
    const file = await fetch(`${simulators.url}/mailbox/${found!.id}/attachments/0`);
    expect(file.headers.get('content-type')).toContain('application/pdf');
    expect(await file.text()).toBe('%PDF-1.7 test');
    expect((await fetch(`${simulators.url}/mailbox/999999`)).status).toBe(404);
  });

  it('knows a repeat by its Message-ID and shows it once for each reader', async () => {
    await transport.sendMail(mail(['a@x.example', 'b@x.example']));
    await transport.sendMail(mail('a@x.example'));
    await transport.sendMail(mail('a@x.example', '<two@x.example>'));
    expect(simulators.mails.list('a@x.example').map((m) => m.times)).toEqual([1, 2]);
    expect(simulators.mails.list('b@x.example')).toHaveLength(1);
    expect(((await (await fetch(`${simulators.url}/api/mails?to=a@x.example`)).json()) as unknown[]).length).toBe(2);
  });

  it('can be told to misbehave: busy, refusing one or all, shut, dropping the line', async () => {
    const tell = (body: object) =>
      fetch(`${simulators.url}/admin/mail`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    const codeOf = () =>
      transport.sendMail(mail('a@x.example')).then(
        () => 250,
        (e: { responseCode?: number; code?: string }) => e.responseCode ?? e.code,
      );
    await tell({ fault: 'busy' });
    expect(await codeOf()).toBe(451);
    await tell({ fault: 'none', refused: ['A@x.example'] });
    expect(await codeOf()).toBe(550);
    await tell({ refused: [], fault: 'down' });
    expect(await codeOf()).toBe('ESOCKET');
    await tell({ fault: 'drop-after-data' });
    expect(await codeOf()).toBe('ECONNECTION');
    await tell({ fault: 'none' });
    expect(await codeOf()).toBe(250);
    expect(simulators.mails.list()).toHaveLength(1);
  });

  it('forgets everything when it is cleared', async () => {
    await transport.sendMail(mail('a@x.example'));
    simulators.mails.clear();
    expect(simulators.mails.list()).toEqual([]);
  });
});
