import { type IncomingMessage, Agent as PlainAgent, request as plainRequest } from 'node:http';
import { Agent as TlsAgent, request as tlsRequest } from 'node:https';
import type { z } from 'zod';
import type { NetworkRules } from '../ground/networkRules.ts';
import { FeedError } from './connector.ts';
import { checkAddress, guardedLookup } from './network.ts';

/** An answer that is larger than this is not read to its end, in bytes. */
const MOST = 64 * 1024 * 1024;
const REDIRECTS = 3;

const agents = { 'http:': new PlainAgent({ keepAlive: true }), 'https:': new TlsAgent({ keepAlive: true }) };

export interface HttpAnswer {
  status: number;
  headers: IncomingMessage['headers'];
  text: string;
}

export interface HttpAsk {
  url: URL;
  headers?: Record<string, string>;
  /** Sent as a form; a POST then. */
  form?: Record<string, string>;
  /** Milliseconds until a service that says nothing more is given up. */
  timeout: number;
  network: NetworkRules;
}

function exchange(ask: HttpAsk): Promise<HttpAnswer> {
  const { url, form, timeout } = ask;
  checkAddress(url, ask.network);
  const body = form ? new URLSearchParams(form).toString() : null;
  const secure = url.protocol === 'https:';
  const slow = new FeedError('slow', `The service did not answer within ${Math.round(timeout / 1000)} seconds.`);
  return new Promise((resolve, reject) => {
    const sent = (secure ? tlsRequest : plainRequest)(url, {
      method: body === null ? 'GET' : 'POST',
      agent: agents[secure ? 'https:' : 'http:'],
      lookup: guardedLookup(ask.network),
      headers: {
        accept: 'application/json',
        ...(body !== null && { 'content-type': 'application/x-www-form-urlencoded' }),
        ...ask.headers,
      },
    });
    // The whole exchange has to fit: a service that sends a byte a second is silent, too.
    const timer = setTimeout(() => sent.destroy(slow), timeout);
    let ended = false;
    const fail = (error: NodeJS.ErrnoException) => {
      if (ended) return;
      ended = true;
      clearTimeout(timer);
      // A connection that was kept may be shut by the service in the moment in which it is used again.
      if (error.code === 'ECONNRESET' && sent.reusedSocket && body === null) {
        resolve(exchange(ask));
        return;
      }
      reject(error instanceof FeedError ? error : new FeedError('down', 'The service cannot be reached.'));
    };
    sent.on('error', fail);
    sent.on('response', (response) => {
      const parts: Buffer[] = [];
      let size = 0;
      response.on('data', (part: Buffer) => {
        size += part.length;
        if (size > MOST) sent.destroy(new FeedError('broken', 'The service sent more than we take at once.'));
        else parts.push(part);
      });
      response.on('error', fail);
      response.on('end', () => {
        ended = true;
        clearTimeout(timer);
        resolve({
          status: response.statusCode ?? 0,
          headers: response.headers,
          text: Buffer.concat(parts).toString('utf8'),
        });
      });
    });
    sent.end(body ?? undefined);
  });
}

/**
 * Asks a feed service. A redirect is followed only to an address that is allowed, too, and takes no credentials to
 * another place.
 * @throws FeedError when there is no answer
 */
export async function ask(first: HttpAsk): Promise<HttpAnswer> {
  let current = first;
  for (let hops = 0; ; hops++) {
    const answer = await exchange(current);
    const to = answer.headers.location;
    if (![301, 302, 303, 307, 308].includes(answer.status) || to === undefined || current.form) return answer;
    if (hops === REDIRECTS || !URL.canParse(to, current.url.href)) {
      throw new FeedError('down', 'The service sends us from one place to the next.');
    }
    const url = new URL(to, current.url);
    const same = url.origin === current.url.origin;
    current = { ...current, url, headers: same ? (current.headers ?? {}) : {} };
  }
}

/** Seconds of a Retry-After header, given as a number or as a date (RFC 9110 §10.2.3). */
export function retryAfterOf(header: string | undefined, now: number): number | null {
  if (header === undefined) return null;
  if (/^\d+$/.test(header.trim())) return Number(header);
  const at = Date.parse(header);
  return Number.isNaN(at) ? null : Math.max(0, Math.round((at - now) / 1000));
}

/** A body as JSON of a shape. @throws FeedError that says what is wrong with it */
export function parseJson<T>(text: string, schema: z.ZodType<T>): T {
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new FeedError('broken', 'The service sent something that breaks off or is no JSON.');
  }
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new FeedError(
    'broken',
    `The service sent an answer of another shape (${issue.path.join('.')}: ${issue.message}).`,
  );
}
