import { createTransport } from 'nodemailer';

export interface OutgoingMail {
  messageId: string;
  from: { name: string; address: string };
  to: { name: string; address: string };
  subject: string;
  html: string;
  text: string;
  attachment: { fileName: string; content: Buffer };
  date: Date;
}

/** What the mail server made of a mail: a 4xx or a broken line is worth another try, a 5xx is final (RFC 5321 §4.2.1). */
export type Handed = { kind: 'accepted' | 'deferred' | 'refused'; reply: string };

export interface Mailer {
  send(mail: OutgoingMail): Promise<Handed>;
  close(): void;
}

interface SmtpError extends Error {
  responseCode?: number;
  response?: string;
  code?: string;
}

/** Hands mails to an SMTP server, given as `smtp://[user:password@]host:port`. */
export function createMailer(url: string, timeout: number): Mailer {
  const transport = createTransport({
    url,
    pool: false,
    disableFileAccess: true,
    disableUrlAccess: true,
    connectionTimeout: timeout,
    greetingTimeout: timeout,
    socketTimeout: timeout,
  } as Parameters<typeof createTransport>[0]);
  return {
    async send(mail) {
      try {
        const info = await transport.sendMail({
          messageId: `<${mail.messageId}>`,
          from: mail.from,
          to: mail.to,
          subject: mail.subject,
          html: mail.html,
          text: mail.text,
          date: mail.date,
          attachments: [
            { filename: mail.attachment.fileName, content: mail.attachment.content, contentType: 'application/pdf' },
          ],
          headers: { 'Auto-Submitted': 'auto-generated' },
        });
        return { kind: 'accepted', reply: (info as { response?: string }).response ?? 'accepted' };
      } catch (error) {
        const e = error as SmtpError;
        const final = e.responseCode !== undefined && e.responseCode >= 500;
        const reply =
          e.response ??
          (e.code === 'ESOCKET' || e.code === 'ECONNECTION' ? 'The mail server cannot be reached.' : e.message);
        return { kind: final ? 'refused' : 'deferred', reply };
      }
    },
    close: () => transport.close(),
  };
}
