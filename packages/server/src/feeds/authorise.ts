import { createHash, randomBytes } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import { z } from 'zod';
import { timeLeft } from '../platform/asking.ts';
import { beginAuthorisation, endAuthorisation } from '../store/connections.ts';
import { FeedError } from './connector.ts';
import { ask, parseJson } from './http.ts';
import { identify, theRegistration } from './registrations.ts';
import type { FeedTools } from './tools.ts';

/** What is asked for: to read figures, and nothing else (RFC 6749 §3.3). */
const SCOPES = 'read';
/** Minutes that a person has for the round trip. */
const MINUTES = 15;

const tokenReply = z.object({
  access_token: z.string().min(1),
  refresh_token: z.string().min(1).optional(),
  expires_in: z.number().positive().optional(),
  token_type: z.string().regex(/^bearer$/i),
  scope: z.string().max(500).optional(),
});

export interface OAuthTokens {
  access: string;
  refresh: string | null;
  /** Instant at which the access ends; null when the service did not say. */
  until: string | null;
}

type Tools = Pick<FeedTools, 'config' | 'clock' | 'secrets' | 'store'>;

const hashOf = (state: string) => createHash('sha256').update(state).digest('base64url');
const secret = () => randomBytes(32).toString('base64url');

/**
 * Begins the round trip of authorisation (RFC 6749 §4.1 with RFC 7636, method S256). The state belongs to the member who
 * began it, is good once and for a quarter of an hour.
 * @returns the address at the service to which the browser goes
 */
export async function beginRoundTrip(
  tools: Tools,
  ask: { kind: string; redirect: string; memberId: string; connectionId: string | null },
): Promise<string> {
  const { address, clientId } = await theRegistration(tools, ask.kind);
  const [state, verifier] = [secret(), secret()];
  await beginAuthorisation(tools.store, {
    state: hashOf(state),
    kind: ask.kind,
    connection_id: ask.connectionId,
    verifier: tools.secrets.seal(verifier),
    redirect: ask.redirect,
    member_id: ask.memberId,
    scopes: SCOPES,
    until: addMinutes(tools.clock.now(), MINUTES),
  });
  const url = new URL(`${address}/oauth/authorize`);
  url.search = new URLSearchParams({
    response_type: 'code',
    scope: SCOPES,
    client_id: clientId,
    redirect_uri: ask.redirect,
    state,
    code_challenge: createHash('sha256').update(verifier).digest('base64url'),
    code_challenge_method: 'S256',
  }).toString();
  return url.href;
}

async function askForTokens(
  tools: Tools,
  kind: string,
  form: Record<string, string>,
): Promise<OAuthTokens & { scope: string | undefined }> {
  const { config, clock } = tools;
  const registration = await theRegistration(tools, kind);
  const url = new URL(`${registration.address}/oauth/token`);
  const own = identify(registration);
  const { network } = config;
  const timeout = Math.min(config.timeout, timeLeft() * 0.8);
  const answer = await ask({ url, headers: own.headers, form: { ...form, ...own.form }, timeout, network });
  if (answer.status === 400 || answer.status === 401) {
    throw new FeedError('refused', 'Access was revoked. Reconnect the service.');
  }
  if (answer.status !== 200) throw new FeedError('down', `The service answered ${answer.status}.`);
  const tokens = parseJson(answer.body, tokenReply);
  const { expires_in: seconds } = tokens;
  return {
    access: tokens.access_token,
    refresh: tokens.refresh_token ?? null,
    until: seconds === undefined ? null : addMinutes(clock.now(), seconds / 60),
    scope: tokens.scope,
  };
}

/**
 * Ends a round trip: the code for tokens. Null when this member began none of this state, or too long ago.
 * @throws FeedError when the service does not give tokens for the code
 */
export async function endRoundTrip(
  tools: Tools,
  back: { state: string; code: string; memberId: string },
): Promise<{ kind: string; connectionId: string | null; tokens: OAuthTokens } | null> {
  const begun = await endAuthorisation(tools.store, hashOf(back.state), tools.clock.now());
  if (!begun || begun.member_id !== back.memberId) return null;
  const { scope, ...tokens } = await askForTokens(tools, begun.kind, {
    grant_type: 'authorization_code',
    code: back.code,
    redirect_uri: begun.redirect,
    code_verifier: tools.secrets.open(begun.verifier),
  });
  // A grant of anything else than what was asked for is none (RFC 6749 §3.3; left out, it is what was asked for).
  const asked = new Set((begun.scopes ?? '').split(' '));
  const more = (scope ?? '').split(' ').filter((s) => s !== '' && !asked.has(s));
  if (more.length > 0) {
    throw new FeedError(
      'refused',
      `The service granted more than was asked for (${more.join(', ')}). Nothing was kept.`,
    );
  }
  return { kind: begun.kind, connectionId: begun.connection_id, tokens };
}

/** New tokens for a refresh token (RFC 6749 §6). @throws FeedError `refused` when the grant was taken back */
export const refreshTokens = async (tools: Tools, kind: string, refresh: string): Promise<OAuthTokens> => {
  const { scope: _, ...tokens } = await askForTokens(tools, kind, {
    grant_type: 'refresh_token',
    refresh_token: refresh,
  });
  // A service that gives no new refresh token lets the old one go on.
  return { ...tokens, refresh: tokens.refresh ?? refresh };
};
