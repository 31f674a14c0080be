import { isCertificateFault, isTlsFault } from './tlsFaults.ts';

/** What became of handing a mail over, and whose affair that is (RFC 5321 §4.2, §4.5.3.2). */
export type Handed =
  /** The mail server took it: it is the server's now. */
  | { kind: 'accepted'; reply: string }
  /** The reader's affair, for now (4yz) or for good (5yz): an answer to RCPT or to the mail itself. */
  | { kind: 'deferred' | 'refused'; reply: string }
  /** The line broke after the last dot and before an answer: it may be there. */
  | { kind: 'uncertain'; reply: string }
  /** Stopped from our side before the last dot: nothing was handed over. */
  | { kind: 'aborted' }
  /** The server's affair: no mail would go, whoever it is for. */
  | { kind: 'server'; reason: string; mend: string };

/** How far a conversation had come. */
export type Phase = 'connecting' | 'signing-in' | 'envelope' | 'content' | 'dot';

/** What a failed conversation leaves behind. */
export interface Failure {
  phase: Phase;
  /** The command that was answered, as `MAIL FROM`; null when the line itself failed. */
  command: string | null;
  /** The answer's code, and its text as the server wrote it. */
  status: number | null;
  response: string | null;
  /** Codes of the system or of the TLS layer, as ECONNREFUSED or CERT_HAS_EXPIRED. */
  codes: readonly string[];
  timedOut: boolean;
}

const server = (reason: string, mend: string): Handed => ({ kind: 'server', reason, mend });
const said = (f: Failure): string => (f.response ?? '').replace(/\s+/g, ' ').trim();
const GOES_ON = 'Sending then resumes automatically.';

function ofLine(f: Failure): Handed {
  const has = (...codes: string[]) => codes.some((c) => f.codes.includes(c));
  if (f.codes.some(isCertificateFault)) {
    return server(
      'The mail server’s certificate is not valid.',
      'Renew the mail server’s certificate, or use the host name in the certificate.',
    );
  }
  if (has('EDNS', 'ENOTFOUND', 'EAI_AGAIN')) {
    return server('The mail server’s host name can’t be found.', 'Check the host name of the mail server.');
  }
  if (f.codes.some(isTlsFault)) {
    return server('Encryption settings don’t match the mail server.', 'Check the port and the TLS setting.');
  }
  if (has('ECONNREFUSED')) {
    return server('No response on the mail server’s port.', `Start the mail server, or check its port. ${GOES_ON}`);
  }
  if (f.phase === 'connecting') {
    const what = f.timedOut ? 'The mail server isn’t responding.' : 'The mail server closed the connection.';
    return server(what, `Check that the mail server can be reached from here. ${GOES_ON}`);
  }
  const what = f.timedOut ? 'The mail server stopped answering.' : 'The connection to the mail server was lost.';
  if (f.phase === 'dot') return { kind: 'uncertain', reply: `${what} It may have accepted the email.` };
  if (f.phase === 'signing-in') return server(what, `Check the mail server. ${GOES_ON}`);
  return { kind: 'deferred', reply: what };
}

/** Tells whose affair a failed conversation is: the reader's, for an answer to RCPT or to the mail; else the server's. */
export function outcomeOfFailure(f: Failure): Handed {
  const { status, command, phase } = f;
  if (status === null) return ofLine(f);
  const words = said(f);
  const answer = (): Handed => ({ kind: status >= 500 ? 'refused' : 'deferred', reply: words });
  const signIn = server(
    `The mail server rejected our sign-in: ${words}`,
    'Check the mail server’s user name and password.',
  );
  if (command === 'STARTTLS' || f.codes.includes('ETLS')) {
    return server(`The mail server doesn’t encrypt this connection: ${words}`, 'Check the port and the TLS setting.');
  }
  // 421 ends the conversation, whatever was asked (RFC 5321 §3.8).
  if (status === 421 && phase !== 'dot') {
    return server(`The mail server is closing: ${words}`, `Wait, or check the mail server. ${GOES_ON}`);
  }
  if (phase === 'dot') return answer();
  if (phase === 'signing-in' || status === 530 || status === 535) return signIn;
  // "Too large" is said of this mail.
  if (command === 'RCPT TO' || command === 'DATA' || status === 552) return answer();
  if (command === 'MAIL FROM' && status >= 500) {
    return server(
      `The mail server rejected the sender: ${words}`,
      'Check the sender address and that the mail server may send for it.',
    );
  }
  return server(`The mail server accepts nothing at the moment: ${words}`, `Check the mail server. ${GOES_ON}`);
}
