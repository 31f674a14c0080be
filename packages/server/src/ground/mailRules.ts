/** Longest waits in milliseconds: for an answer, for the next part of a mail to be taken, and after the last dot. */
export interface SmtpWaits {
  answer: number;
  content: number;
  dot: number;
}

/** RFC 5321 §4.5.3.2: 5 minutes for greeting, MAIL and RCPT, 3 for a part of the data, 10 after the last dot. */
export const RFC_WAITS: SmtpWaits = { answer: 300_000, content: 180_000, dot: 600_000 };

/** `require`: no mail goes over a line in the clear; `never`: none is encrypted, for a server on this machine. */
export type TlsPolicy = 'offered' | 'require' | 'never';
