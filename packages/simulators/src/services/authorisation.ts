import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { escapeHtml, page } from '../page.ts';
import type { Grants } from './grants.ts';
import type { ServiceKind } from './serviceKind.ts';

/** Who is registered here: the product itself, without a secret, and an agency of its own. */
export const AGENCY_REGISTRATION = { clientId: 'fernglass-reports', clientSecret: 'garnet lantern+52' };
const CLIENTS = new Map<string, string | null>([
  ['chronicon', null],
  [AGENCY_REGISTRATION.clientId, AGENCY_REGISTRATION.clientSecret],
]);

/** Who asks a token endpoint, by Basic or by name (RFC 6749 §2.3.1); null for one that is not registered like that. */
function clientOf(authorization: string | undefined, named: unknown): string | null {
  let [id, secret]: [string, string | null] = [typeof named === 'string' ? named : '', null];
  if (authorization?.startsWith('Basic ')) {
    const parts = Buffer.from(authorization.slice(6), 'base64').toString('utf8').split(':');
    [id, secret] = parts.map((p) => decodeURIComponent(p.replace(/\+/g, ' '))) as [string, string];
  }
  return CLIENTS.has(id) && CLIENTS.get(id) === secret ? id : null;
}

const ask = z.object({
  response_type: z.literal('code'),
  client_id: z.string().refine((id) => CLIENTS.has(id)),
  redirect_uri: z.url(),
  state: z.string().min(8),
  code_challenge: z.string().length(43),
  code_challenge_method: z.literal('S256'),
});

const tokenAsk = z.discriminatedUnion('grant_type', [
  z.object({
    grant_type: z.literal('authorization_code'),
    code: z.string(),
    redirect_uri: z.string(),
    code_verifier: z.string().min(43).max(128),
  }),
  z.object({ grant_type: z.literal('refresh_token'), refresh_token: z.string() }),
]);

/** Only addresses of this machine and of made-up sites were registered for the client. */
const isRegistered = (uri: string): boolean => {
  const { hostname, pathname } = new URL(uri);
  const known = ['127.0.0.1', 'localhost', '[::1]'].includes(hostname) || hostname.endsWith('.example');
  return known && pathname === '/connect/back';
};

const hidden = (fields: Record<string, string>) =>
  Object.entries(fields)
    .map(([k, v]) => `<input type="hidden" name="${k}" value="${escapeHtml(v)}">`)
    .join('');

/** Where a person lets Chronicon read a service's accounts (RFC 6749 §4.1, RFC 7636). */
export function authorisation(kind: ServiceKind, grants: Grants): Router {
  const router = Router();
  router.use(urlencoded({ extended: false }));

  router.get('/oauth/authorize', (req, res) => {
    const parsed = ask.safeParse(req.query);
    // What does not come from the registered place is never sent back to it.
    if (!parsed.success || !isRegistered(parsed.data.redirect_uri)) {
      res.status(400).send(page('Not possible', '<h1>This request is not one that we answer</h1>'));
      return;
    }
    res.send(
      page(
        kind.label,
        `<h1>${escapeHtml(kind.label)}</h1>
<p>You are signed in as <b>agency@fernglass.example</b>, who can read ${kind.accounts.length} accounts.</p>
<p>May <b>Chronicon</b> read the figures of these accounts? It can change nothing.</p>
<ul>${kind.accounts.map((a) => `<li>${escapeHtml(a.name)} (${a.id})</li>`).join('')}</ul>
<form method="post" action="authorize">${hidden(parsed.data)}
<button name="answer" value="yes">Allow</button> <button name="answer" value="no">Refuse</button></form>`,
      ),
    );
  });

  router.post('/oauth/authorize', (req, res) => {
    const parsed = ask.safeParse(req.body);
    if (!parsed.success || !isRegistered(parsed.data.redirect_uri)) {
      res.status(400).send(page('Not possible', '<h1>This request is not one that we answer</h1>'));
      return;
    }
    const { client_id: client, redirect_uri: redirect, state, code_challenge: challenge } = parsed.data;
    const back = new URL(redirect);
    back.searchParams.set('state', state);
    if (req.body.answer === 'yes') {
      back.searchParams.set('code', grants.code({ kind: kind.kind, client, redirect, challenge }));
    } else back.searchParams.set('error', 'access_denied');
    res.redirect(303, back.href);
  });

  router.post('/oauth/token', (req, res) => {
    res.set('cache-control', 'no-store');
    const client = clientOf(req.get('authorization'), req.body?.client_id);
    if (client === null) {
      res.status(401).json({ error: 'invalid_client' });
      return;
    }
    const parsed = tokenAsk.safeParse(req.body);
    if (!parsed.success) {
      res.status(400).json({ error: 'invalid_request' });
      return;
    }
    const a = parsed.data;
    const tokens =
      a.grant_type === 'refresh_token'
        ? grants.refresh(kind.kind, a.refresh_token)
        : grants.exchange(kind.kind, {
            code: a.code,
            client,
            redirect: a.redirect_uri,
            verifier: a.code_verifier,
          });
    if (tokens) res.json(tokens);
    else res.status(400).json({ error: 'invalid_grant' });
  });
  return router;
}
