/**
 * The Message-ID of a mail, without angle brackets (RFC 5322 §3.6.4): made from edition, contact and the attempt to
 * resend, so that a repeat after a crash is known to the receiver as the same message.
 */
export const messageIdOf = (editionId: string, contactId: string, resend: number, domain: string): string =>
  `${editionId}.${contactId}.${resend}@${domain}`;
