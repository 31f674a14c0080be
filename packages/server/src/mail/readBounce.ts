import { type RecipientStatus, readDeliveryStatus } from '@chronicon/core/edition';
import { simpleParser } from 'mailparser';

/** Bytes of a mail that comes back: servers send the head of what they return, not all of it (RFC 3462 §2). */
export const MOST_BOUNCE_BYTES = 512 * 1024;

/** Header fields that say to whom a mail came, whatever it says to whom it was written. */
const ADDRESSED = /^(?:to|cc|delivered-to|x-original-to|envelope-to|x-envelope-to):((?:.*)(?:\r?\n[ \t].*)*)/gim;

/** Addresses to which a mail came, as its head says. */
export function addressedTo(raw: Buffer): string[] {
  const text = raw.toString('latin1');
  const end = /\r?\n\r?\n/.exec(text)?.index ?? text.length;
  return [...text.slice(0, end).matchAll(ADDRESSED)].flatMap(
    ([, value]) => value!.match(/[^\s<>,;:"()]+@[^\s<>,;:"()]+/g) ?? [],
  );
}

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
