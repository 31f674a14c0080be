import MailComposer from 'nodemailer/lib/mail-composer';

export interface OutgoingMail {
  messageId: string;
  from: { name: string; address: string };
  to: { name: string; address: string };
  replyTo?: { name: string; address: string } | undefined;
  subject: string;
  html: string;
  text: string;
  attachment?: { fileName: string; content: Buffer } | undefined;
  /** Pictures that stand in it, by what its HTML calls them (RFC 2392). */
  pictures?: readonly { cid: string; type: string; content: Buffer }[] | undefined;
  /** When the mail was written: the same each time that it is handed over. */
  date: Date;
}

/** A mail as bytes: the same mail gives the same bytes, however often it is handed over. */
export function mimeOf(mail: OutgoingMail): Promise<Buffer> {
  const composer = new MailComposer({
    messageId: `<${mail.messageId}>`,
    // Parts are divided by a text that hangs on the mail alone.
    baseBoundary: mail.messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40),
    from: mail.from,
    to: mail.to,
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
        filename: 'head.jpg',
      })),
      ...(mail.attachment
        ? [{ filename: mail.attachment.fileName, content: mail.attachment.content, contentType: 'application/pdf' }]
        : []),
    ],
    headers: { 'Auto-Submitted': 'auto-generated' },
  } as ConstructorParameters<typeof MailComposer>[0]);
  return composer.compile().build();
}
