import { type RecipientStatus, readDeliveryStatus } from '@chronicon/core/edition';
import { simpleParser } from 'mailparser';

/** Bytes of a mail that comes back: servers send the head of what they return, not all of it (RFC 3462 §2). */
export const MOST_BOUNCE_BYTES = 512 * 1024;

/** What a mail that came back says of its recipients; nothing where it is no report on a delivery (RFC 3464). */
export async function readBounce(raw: Buffer): Promise<RecipientStatus[]> {
  const parsed = await simpleParser(raw, {
    // The report stays a part of its own.
    keepDeliveryStatus: true,
    skipImageLinks: true,
    skipTextToHtml: true,
    skipTextLinks: true,
  } as Parameters<typeof simpleParser>[1]);
  const report = parsed.attachments.find((a) => a.contentType === 'message/delivery-status');
  return report ? readDeliveryStatus(report.content.toString('utf8')) : [];
}
