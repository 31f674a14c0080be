import MailComposer from 'nodemailer/lib/mail-composer';

interface Mailbox {
  name: string;
  address: string;
}

export interface OutgoingMail {
  messageId: string;
  from: Mailbox;
  /** Who gets it now. */
  to: Mailbox;
  /** Who stands in To and Cc where it is one mail for many; everybody sees the same. */
  lines?: { to?: readonly Mailbox[]; cc?: readonly Mailbox[] } | undefined;
  replyTo?: Mailbox | undefined;
  subject: string;
  html: string;
  text: string;
  attachments?: readonly { fileName: string; type: string; content: Buffer }[] | undefined;
  /** Pictures that stand in it, by what its HTML calls them (RFC 2392). */
  pictures?: readonly { cid: string; type: string; content: Buffer }[] | undefined;
  /** When the mail was written: the same each time that it is handed over. */
  date: Date;
}

/** To and Cc. Where all of many stand in Bcc, To names nobody (RFC 5322 §3.4, an empty group). */
function addressed({ to, lines }: OutgoingMail) {
  if (!lines?.to && !lines?.cc) return { to };
  const { to: seen = [], cc = [] } = lines;
  return { to: seen.length > 0 ? [...seen] : 'Undisclosed recipients:;', cc: [...cc] };
}

/** A mail as bytes: the same mail gives the same bytes, however often it is handed over. */
export function mimeOf(mail: OutgoingMail): Promise<Buffer> {
  const composer = new MailComposer({
    // Lines end as they do on the wire (RFC 5322 §2.3): what is kept is what is handed over.
    newline: '\r\n',
    messageId: `<${mail.messageId}>`,
    // Parts are divided by a text that hangs on the mail alone.
    baseBoundary: mail.messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40),
    from: mail.from,
    ...addressed(mail),
    ...(mail.replyTo && { replyTo: mail.replyTo }),
    subject: mail.subject,
    html: mail.html,
    text: mail.text,
    date: mail.date,
    disableFileAccess: true,
    disableUrlAccess: true,
    attachments: [
      ...(mail.pictures ?? []).map(({ cid, type, content }) => ({
        cid,
        content,
        contentType: type,
        contentDisposition: 'inline' as const,
        filename: type === 'image/png' ? 'picture.png' : 'picture.jpg',
      })),
      ...(mail.attachments ?? []).map(({ fileName, type, content }) => ({
        filename: fileName,
        content,
        contentType: type,
      })),
    ],
    headers: { 'Auto-Submitted': 'auto-generated' },
  } as ConstructorParameters<typeof MailComposer>[0]);
  return composer.compile().build();
}
