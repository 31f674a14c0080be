import { createTransport } from 'nodemailer';

/** A mail that could not be delivered after all. */
export interface Back {
  /** Its return path. */
  to: string;
  recipient: string;
  /** Enhanced status (RFC 3463), as `5.1.1`. */
  status: string;
  raw: Buffer;
}

const BOUNDARY = 'returned-by-the-simulator';

/** The report on a delivery that failed (RFC 3462, RFC 3464), with the head of what is returned. */
export function reportOn({ to, recipient, status, raw }: Back): string {
  const text = raw.toString('latin1');
  const head = text.slice(0, text.indexOf('\r\n\r\n') + 2);
  return [
    'From: Mail Delivery System <mailer-daemon@simulator.example>',
    `To: <${to}>`,
    'Subject: Undelivered mail returned to sender',
    'Auto-Submitted: auto-replied',
    'MIME-Version: 1.0',
    `Content-Type: multipart/report; report-type=delivery-status; boundary="${BOUNDARY}"`,
    '',
    `--${BOUNDARY}`,
    'Content-Type: text/plain; charset=utf-8',
    '',
    `The mail to ${recipient} could not be delivered.`,
    `--${BOUNDARY}`,
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; mx.simulator.example',
    '',
    `Final-Recipient: rfc822; ${recipient}`,
    'Action: failed',
    `Status: ${status}`,
    `Diagnostic-Code: smtp; 550 ${status} no delivery to ${recipient}`,
    '',
    `--${BOUNDARY}`,
    'Content-Type: text/rfc822-headers',
    '',
    head,
    `--${BOUNDARY}--`,
    '',
  ].join('\r\n');
}

/** Hands the report to a server on this machine, from nobody (RFC 5321 §4.5.5). */
export async function sendBack(port: number, back: Back): Promise<void> {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true });
  await transport.sendMail({ envelope: { from: '', to: [back.to] }, raw: reportOn(back) });
  transport.close();
}
