import type { IncomingHttpHeaders } from 'node:http';
import type { z } from 'zod';
import { Agent, request } from '../ground/httpClient.ts';
import type { NetworkRules } from '../ground/networkRules.ts';
import { FeedError } from './connector.ts';
import { checkAddress, guardedLookup } from './network.ts';

/** An answer that is larger than this is not read to its end, in bytes. */
const MOST = 64 * 1024 * 1024;
const REDIRECTS = 3;

export interface HttpAnswer {
  status: number;
  headers: IncomingHttpHeaders;
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

async function exchange(ask: HttpAsk, mayRepeat = true): Promise<HttpAnswer> {
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
    return { status: response.statusCode, headers: response.headers, text: await response.body.text() };
  } catch (error) {
    if (error instanceof FeedError) throw error;
    const { name, code = '' } = error as NodeJS.ErrnoException;
    if (name === 'TimeoutError') {
      throw new FeedError('slow', `The service did not answer within ${Math.round(timeout / 1000)} seconds.`);
    }
    if (code === 'UND_ERR_RES_EXCEEDED_MAX_SIZE') {
      throw new FeedError('broken', 'The service sent more than we take at once.');
    }
    if (mayRepeat && !answered && body === null && SHUT.has(code)) {
      return exchange({ ...ask, timeout: timeout - (performance.now() - began) }, false);
    }
    throw new FeedError('down', 'The service cannot be reached.');
  }
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
