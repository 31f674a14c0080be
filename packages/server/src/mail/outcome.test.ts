import { describe, expect, it } from 'vitest';
import { type Failure, outcomeOfFailure } from './outcome.ts';

const failure = (change: Partial<Failure>): Failure => ({
  phase: 'envelope',
  command: null,
  status: null,
  response: null,
  codes: [],
  timedOut: false,
  ...change,
});
const answer = (command: string, status: number, phase: Failure['phase'] = 'envelope') =>
  outcomeOfFailure(failure({ command, status, response: `${status} said so`, phase }));
const line = (change: Partial<Failure>) => outcomeOfFailure(failure(change));

describe('an answer to RCPT or to the mail', () => {
  it('is the reader’s affair: for now, or for good', () => {
    expect(answer('RCPT TO', 550)).toEqual({ kind: 'refused', reply: '550 said so' });
    expect(answer('RCPT TO', 451)).toEqual({ kind: 'deferred', reply: '451 said so' });
    expect(answer('DATA', 554)).toMatchObject({ kind: 'refused' });
    expect(answer('DATA', 554, 'dot')).toMatchObject({ kind: 'refused' });
    expect(answer('DATA', 452, 'dot')).toMatchObject({ kind: 'deferred' });
    expect(answer('MAIL FROM', 552)).toMatchObject({ kind: 'refused' });
  });
});

describe('everything else that a server answers', () => {
  it.each([
    ['a sender that it does not take', answer('MAIL FROM', 550), 'The mail server rejected the sender:'],
    ['a sign-in that it wants', answer('MAIL FROM', 530), 'sign-in'],
    ['a wrong password', answer('AUTH PLAIN', 535, 'signing-in'), 'sign-in'],
    ['a greeting that is none', answer('CONN', 554, 'connecting'), 'The mail server accepts nothing at the moment:'],
    ['a server that is closing', answer('RCPT TO', 421), 'is closing'],
    ['a server that is busy', answer('MAIL FROM', 451), 'The mail server accepts nothing at the moment:'],
  ])('%s stops all mails, and says what mends it', (_, handed, words) => {
    expect(handed).toMatchObject({ kind: 'server', reason: expect.stringContaining(words) });
    expect((handed as { mend: string }).mend.length).toBeGreaterThan(10);
  });
});

describe('a line that fails', () => {
  it('is told apart: certificate, port, name, encryption, silence', () => {
    const reasonOf = (change: Partial<Failure>) => (line(change) as { reason: string }).reason;
    expect(
      reasonOf({
        phase: 'connecting',
        codes: ['ESOCKET', 'DEPTH_ZERO_SELF_SIGNED_CERT'],
      }),
    ).toContain('certificate');
    expect(
      reasonOf({
        phase: 'connecting',
        codes: ['ESOCKET', 'CERT_HAS_EXPIRED'],
      }),
    ).toContain('certificate');
    expect(
      reasonOf({
        phase: 'connecting',
        codes: ['ESOCKET', 'ECONNREFUSED'],
      }),
    ).toContain('No response on the mail server’s port.');
    expect(
      reasonOf({
        phase: 'connecting',
        codes: ['EDNS', 'ENOTFOUND'],
      }),
    ).toContain('The mail server’s host name can’t be found.');
    expect(
      reasonOf({
        phase: 'connecting',
        codes: ['ETLS'],
      }),
    ).toContain('Encryption settings');
    expect(
      reasonOf({
        phase: 'connecting',
        timedOut: true,
      }),
    ).toContain('The mail server isn’t responding.');
  });

  it('in the middle of a mail is tried again for that mail alone', () => {
    expect(line({ phase: 'envelope', codes: ['ECONNRESET'] })).toMatchObject({ kind: 'deferred' });
    expect(line({ phase: 'content', timedOut: true })).toMatchObject({ kind: 'deferred' });
  });

  it('after the last dot leaves it open whether the mail was taken', () => {
    expect(line({ phase: 'dot', codes: ['ECONNRESET'] })).toMatchObject({ kind: 'uncertain' });
    expect(line({ phase: 'dot', timedOut: true })).toMatchObject({ kind: 'uncertain' });
  });
});
