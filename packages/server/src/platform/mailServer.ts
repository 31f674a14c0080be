/** Longest waits in milliseconds: for an answer, for the next part of a mail to be taken, and after the last dot. */
export interface SmtpWaits {
  answer: number;
  content: number;
  dot: number;
}

/** RFC 5321 §4.5.3.2: 5 minutes for greeting, MAIL and RCPT, 3 for a part of the data, 10 after the last dot. */
export const RFC_WAITS: SmtpWaits = { answer: 300_000, content: 180_000, dot: 600_000 };

/**
 * Whether the line is encrypted: from its first byte (`implicit`, RFC 8314 §3.3); always, by STARTTLS (`require`); where
 * the server offers it (`offered`); or never, for a server on this machine.
 */
export const TLS_POLICIES = ['implicit', 'require', 'offered', 'never'] as const;
export type TlsPolicy = (typeof TLS_POLICIES)[number];

/** Where mails are handed over. */
export interface MailServer {
  host: string;
  port: number;
  tls: TlsPolicy;
  /** Empty where the server asks for no sign-in. */
  user: string;
  password: string;
}

/** A mail server given as `smtp://[user:password@]host[:port]` or `smtps://…`. */
export function mailServerAt(address: string, tls: Exclude<TlsPolicy, 'implicit'> = 'offered'): MailServer {
  const url = new URL(address);
  const implicit = url.protocol === 'smtps:';
  return {
    host: url.hostname.replace(/^\[|\]$/g, ''),
    port: Number(url.port) || (implicit ? 465 : 25),
    tls: implicit ? 'implicit' : tls,
    user: decodeURIComponent(url.username),
    password: decodeURIComponent(url.password),
  };
}

/** What mails are signed with (RFC 6376). */
export interface DkimKey {
  domain: string;
  selector: string;
  /** PEM. */
  privateKey: string;
}
