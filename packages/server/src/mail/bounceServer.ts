import type { AddressInfo } from 'node:net';
import { tokenOf } from '@chronicon/core/edition';
import type { Logger } from 'pino';
import { SMTPServer } from 'smtp-server';
import { MOST_BOUNCE_BYTES } from './readBounce.ts';

/** What comes back, and for which deliveries. */
export interface CameBack {
  deliveries: string[];
  raw: Buffer;
}

interface Tools {
  port: number;
  log: Logger;
  /** The address at which mails come back, as it is set now; empty for none. */
  base(): Promise<string>;
  /** The delivery that a token stands for; null for one that was not made here. */
  deliveryOf(token: string): Promise<string | null>;
  take(back: CameBack): Promise<void>;
}

/** Conversations at once, and milliseconds without a word after which one is ended. */
const MOST = 20;
const SILENCE = 60_000;
const MOST_RECIPIENTS = 20;

const refusal = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });

/**
 * A server for bounces (RFC 5321): it takes those alone whose address holds a token that was made here, so that
 * nobody can send anything else to it. Nothing is relayed.
 */
export async function openBounceServer({ port, log, base, deliveryOf, take }: Tools) {
  const found = async (address: string): Promise<string | null> => {
    const at = await base();
    const token = at === '' ? null : tokenOf(at, address);
    return token === null ? null : deliveryOf(token);
  };
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    banner: 'bounces',
    logger: false,
    size: MOST_BOUNCE_BYTES,
    maxClients: MOST,
    socketTimeout: SILENCE,
    disableReverseLookup: true,
    onRcptTo({ address }, session, done) {
      if (session.envelope.rcptTo.length >= MOST_RECIPIENTS) {
        done(refusal(452, '4.5.3 Too many recipients'));
        return;
      }
      found(address).then(
        (delivery) => done(delivery === null ? refusal(550, '5.1.1 No such return path') : undefined),
        (error: unknown) => {
          log.error({ err: error }, 'a return path could not be looked up');
          done(refusal(451, '4.3.0 Try again later'));
        },
      );
    },
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      let bytes = 0;
      stream.on('data', (part: Buffer) => {
        bytes += part.length;
        if (bytes <= MOST_BOUNCE_BYTES) chunks.push(part);
      });
      stream.on('end', () => {
        if (bytes > MOST_BOUNCE_BYTES) {
          done(refusal(552, '5.3.4 Larger than a report on a delivery'));
          return;
        }
        const read = async () => {
          const known = await Promise.all(session.envelope.rcptTo.map((r) => found(r.address)));
          await take({ deliveries: known.filter((d) => d !== null), raw: Buffer.concat(chunks) });
        };
        read().then(
          () => done(),
          (error: unknown) => {
            log.error({ err: error }, 'a mail that came back could not be taken');
            done(refusal(451, '4.3.0 Try again later'));
          },
        );
      });
    },
  });
  server.on('error', (err) => log.warn({ err }, 'a conversation with the server for bounces broke'));
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise<void>((resolve) => server.close(() => resolve())),
  };
}
