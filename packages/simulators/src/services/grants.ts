import { createHash, randomBytes } from 'node:crypto';
import type { SimulatorClock } from '../clock.ts';
import type { Keep } from '../keep.ts';

const CODE_SECONDS = 60;
const ACCESS_SECONDS = 3_600;

interface Code {
  kind: string;
  client: string;
  redirect: string;
  challenge: string;
  until: number;
}

interface Granted {
  kind: string;
  grant: string;
  /** When somebody allowed it, in milliseconds since 1970. */
  begun: number;
}
interface Kept {
  access: [string, Granted & { until: number }][];
  refresh: [string, Granted][];
}

export interface Tokens {
  access_token: string;
  refresh_token: string;
  expires_in: number;
  token_type: 'Bearer';
}

/** What the services have granted: codes of one minute, access of an hour, refresh tokens good for one use each. */
export interface Grants {
  allows(kind: string, token: string): boolean;
  /** When somebody allowed what a token stands for, in milliseconds since 1970; of the tokens that were set up, before and after everything. */
  begun(token: string): number;
  code(ask: Omit<Code, 'until'>): string;
  /** RFC 6749 §4.1.3 with RFC 7636 §4.6; null for what has to be refused. A code used twice takes its grant back. */
  exchange(kind: string, ask: { code: string; client: string; redirect: string; verifier: string }): Tokens | null;
  /** RFC 6749 §6; null when the token is not known or was used. */
  refresh(kind: string, token: string): Tokens | null;
  /** Takes back everything that a service granted, but the token that was set up. */
  revoke(kind: string): void;
}

const secret = () => randomBytes(24).toString('base64url');

/** A second token that was set up, to take the place of the first where that is revoked. */
export const nextToken = (token: string): string => `${token}-2`;

export function createGrants(clock: SimulatorClock, fixed: string, keep: Keep): Grants {
  const codes = new Map<string, Code>();
  const used = new Map<string, string>();
  const kept = keep.read<Kept>('grants');
  const access = new Map(kept?.access);
  const refresh = new Map(kept?.refresh);
  const note = () => keep.write('grants', { access: [...access], refresh: [...refresh] } satisfies Kept);
  const now = () => clock.now().getTime();
  const drop = (grant: string) => {
    for (const [token, a] of access) if (a.grant === grant) access.delete(token);
    for (const [token, r] of refresh) if (r.grant === grant) refresh.delete(token);
    note();
  };
  const issue = (kind: string, grant: string, begun: number): Tokens => {
    const tokens = { access_token: secret(), refresh_token: secret() };
    access.set(tokens.access_token, { kind, until: now() + ACCESS_SECONDS * 1000, grant, begun });
    refresh.set(tokens.refresh_token, { kind, grant, begun });
    note();
    return { ...tokens, expires_in: ACCESS_SECONDS, token_type: 'Bearer' };
  };
  return {
    allows(kind, token) {
      if (token === fixed || token === nextToken(fixed)) return true;
      const found = access.get(token);
      return found !== undefined && found.kind === kind && found.until > now();
    },
    begun(token) {
      if (token === nextToken(fixed)) return Number.POSITIVE_INFINITY;
      return access.get(token)?.begun ?? Number.NEGATIVE_INFINITY;
    },
    code(ask) {
      const code = secret();
      codes.set(code, { ...ask, until: now() + CODE_SECONDS * 1000 });
      return code;
    },
    exchange(kind, ask) {
      const grantOfUsed = used.get(ask.code);
      if (grantOfUsed) drop(grantOfUsed);
      const code = codes.get(ask.code);
      codes.delete(ask.code);
      if (!code || code.kind !== kind || code.until < now()) return null;
      const challenge = createHash('sha256').update(ask.verifier).digest('base64url');
      if (code.client !== ask.client || code.redirect !== ask.redirect || code.challenge !== challenge) return null;
      const grant = secret();
      used.set(ask.code, grant);
      return issue(kind, grant, now());
    },
    refresh(kind, token) {
      const found = refresh.get(token);
      if (!found || found.kind !== kind) return null;
      refresh.delete(token);
      return issue(kind, found.grant, found.begun);
    },
    revoke(kind) {
      for (const [token, a] of access) if (a.kind === kind) access.delete(token);
      for (const [token, r] of refresh) if (r.kind === kind) refresh.delete(token);
      note();
    },
  };
}
