import type { IncomingHttpHeaders } from 'node:http';
import type { z } from 'zod';
import { Agent, request } from '../platform/httpClient.ts';
import type { NetworkRules } from '../platform/networkRules.ts';
import { FeedError } from './connector.ts';
import { checkAddress, guardedLookup } from './network.ts';

/** An answer that is larger than this is not read to its end, in bytes. */
const MOST = 64 * 1024 * 1024;
const REDIRECTS = 3;

export interface HttpAnswer<Body = string> {
  status: number;
  headers: IncomingHttpHeaders;
  body: Body;
}

type Sent = Awaited<ReturnType<typeof request>>['body'];
/** How a body is taken. */
type Take<Body> = (body: Sent) => Promise<Body>;

const asText: Take<string> = (body) => body.text();

/** Takes a body of so many bytes at most; what is larger is not read to its end. */
const asBytes =
  (most: number): Take<Buffer> =>
  async (body) => {
    const parts: Buffer[] = [];
    let taken = 0;
    for await (const part of body) {
      taken += (part as Buffer).length;
      if (taken > most) throw new FeedError('broken', `It is larger than ${Math.floor(most / 1024 / 1024)} MB.`);
      parts.push(part as Buffer);
    }
    return Buffer.concat(parts);
  };

export interface HttpAsk {
  url: URL;
  headers?: Record<string, string>;
  /** Sent as a form; a POST then. */
  form?: Record<string, string>;
  /** Milliseconds until a service that says nothing more is given up. */
  timeout: number;
  network: NetworkRules;
}

/** Connections that are kept, by where they may lead. */
const agents = new Map<string, InstanceType<typeof Agent>>();

function agentFor(rules: NetworkRules): InstanceType<typeof Agent> {
  const key = JSON.stringify(rules);
  const kept = agents.get(key);
  if (kept) return kept;
  const made = new Agent({
    connect: { lookup: guardedLookup(rules), timeout: 0 },
    maxResponseSize: MOST,
    // The whole exchange has its time: a service that sends a byte a second is silent, too.
    headersTimeout: 0,
    bodyTimeout: 0,
  });
  agents.set(key, made);
  return made;
}

/** Connections that a service shut in the moment in which they were used again. */
const SHUT = new Set(['ECONNRESET', 'UND_ERR_SOCKET']);

async function exchange<Body>(ask: HttpAsk, take: Take<Body>, mayRepeat = true): Promise<HttpAnswer<Body>> {
  const { url, form, timeout, network } = ask;
  checkAddress(url, network);
  const body = form ? new URLSearchParams(form).toString() : null;
  const began = performance.now();
  let answered = false;
  try {
    const response = await request(url, {
      dispatcher: agentFor(network),
      method: body === null ? 'GET' : 'POST',
      headers: {
        accept: 'application/json',
        ...(body !== null && { 'content-type': 'application/x-www-form-urlencoded' }),
        ...ask.headers,
      },
      body,
      signal: AbortSignal.timeout(Math.max(1, Math.ceil(timeout))),
    });
    answered = true;
    return { status: response.statusCode, headers: response.headers, body: await take(response.body) };
  } catch (error) {
    if (error instanceof FeedError) throw error;
    const { name, code = '' } = error as NodeJS.ErrnoException;
    if (name === 'TimeoutError') {
      throw new FeedError('slow', `The service didn’t respond within ${Math.round(timeout / 1000)} seconds.`);
    }
    if (code === 'UND_ERR_RES_EXCEEDED_MAX_SIZE') {
      throw new FeedError('broken', 'The service sent too much data at once.');
    }
    if (mayRepeat && !answered && body === null && SHUT.has(code)) {
      return exchange({ ...ask, timeout: timeout - (performance.now() - began) }, take, false);
    }
    throw new FeedError('down', 'Can’t reach the service.');
  }
}

async function follow<Body>(first: HttpAsk, take: Take<Body>): Promise<HttpAnswer<Body>> {
  let current = first;
  for (let hops = 0; ; hops++) {
    const answer = await exchange(current, take);
    const to = answer.headers.location;
    if (![301, 302, 303, 307, 308].includes(answer.status) || to === undefined || current.form) return answer;
    if (hops === REDIRECTS || !URL.canParse(to, current.url.href)) {
      throw new FeedError('down', 'The service redirects in a loop.');
    }
    const url = new URL(to, current.url);
    const same = url.origin === current.url.origin;
    current = { ...current, url, headers: same ? (current.headers ?? {}) : {} };
  }
}

/**
 * Asks a feed service. A redirect is followed only to an address that is allowed, too, and takes no credentials to
 * another place.
 * @throws FeedError when there is no answer
 */
export const ask = (first: HttpAsk): Promise<HttpAnswer> => follow(first, asText);

/** Fetches a file of at most `most` bytes, by the same rules. @throws FeedError when there is none, or it is larger */
export const fetchFile = (first: HttpAsk, most: number): Promise<HttpAnswer<Buffer>> => follow(first, asBytes(most));

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
    throw new FeedError('broken', 'The service sent incomplete data or invalid JSON.');
  }
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new FeedError('broken', `The service sent an unexpected response (${issue.path.join('.')}: ${issue.message}).`);
}
