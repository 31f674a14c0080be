import type { z } from 'zod';
import { FeedError } from './connector.ts';

/** Seconds of a Retry-After header, given as a number or as a date (RFC 9110 §10.2.3). */
function retryAfterOf(header: string | null): number | null {
  if (header === null) return null;
  if (/^\d+$/.test(header.trim())) return Number(header);
  const at = Date.parse(header);
  return Number.isNaN(at) ? null : Math.max(0, Math.round((at - Date.now()) / 1000));
}

/**
 * Gets JSON from a feed service and parses it. Redirects are not followed: an address is only what was set up.
 * @throws FeedError for everything that is not a good answer
 */
export async function getJson<T>(url: URL, token: string, schema: z.ZodType<T>, timeout: number): Promise<T> {
  let response: Response;
  let text: string;
  try {
    response = await fetch(url, {
      headers: { authorization: `Bearer ${token}`, accept: 'application/json' },
      redirect: 'error',
      signal: AbortSignal.timeout(timeout),
    });
    text = await response.text();
  } catch (error) {
    if (error instanceof Error && error.name === 'TimeoutError') {
      throw new FeedError('slow', `The service did not answer within ${Math.round(timeout / 1000)} seconds.`);
    }
    throw new FeedError('down', 'The service cannot be reached.');
  }
  switch (response.status) {
    case 200:
      break;
    case 401:
    case 403:
      throw new FeedError('refused', 'The service refused the access token.');
    case 404:
      throw new FeedError('unknown-account', 'The service knows no such account.');
    case 429:
      throw new FeedError(
        'busy',
        'The service asks us to come back later.',
        retryAfterOf(response.headers.get('retry-after')),
      );
    default:
      throw new FeedError('down', `The service answered ${response.status}.`);
  }
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new FeedError('broken', 'The service sent something that breaks off or is no JSON.');
  }
  const parsed = schema.safeParse(body);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new FeedError(
      'broken',
      `The service sent an answer of another shape (${issue.path.join('.')}: ${issue.message}).`,
    );
  }
  return parsed.data;
}
