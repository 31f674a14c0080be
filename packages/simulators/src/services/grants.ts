import { createHash, randomBytes } from 'node:crypto';
import type { SimulatorClock } from '../clock.ts';

const CODE_SECONDS = 60;
const ACCESS_SECONDS = 3_600;

interface Code {
  kind: string;
  client: string;
  redirect: string;
  challenge: string;
  until: number;
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
  code(ask: Omit<Code, 'until'>): string;
  /** RFC 6749 §4.1.3 with RFC 7636 §4.6; null for what has to be refused. A code used twice takes its grant back. */
  exchange(kind: string, ask: { code: string; client: string; redirect: string; verifier: string }): Tokens | null;
  /** RFC 6749 §6; null when the token is not known or was used. */
  refresh(kind: string, token: string): Tokens | null;
  /** Takes back everything that a service granted, but the token that was set up. */
  revoke(kind: string): void;
}

const secret = () => randomBytes(24).toString('base64url');

export function createGrants(clock: SimulatorClock, fixed: string): Grants {
  const codes = new Map<string, Code>();
  const used = new Map<string, string>();
  const access = new Map<string, { kind: string; until: number; grant: string }>();
  const refresh = new Map<string, { kind: string; grant: string }>();
  const now = () => clock.now().getTime();
  const drop = (grant: string) => {
    for (const [token, a] of access) if (a.grant === grant) access.delete(token);
    for (const [token, r] of refresh) if (r.grant === grant) refresh.delete(token);
  };
  const issue = (kind: string, grant: string): Tokens => {
    const tokens = { access_token: secret(), refresh_token: secret() };
    access.set(tokens.access_token, { kind, until: now() + ACCESS_SECONDS * 1000, grant });
    refresh.set(tokens.refresh_token, { kind, grant });
    return { ...tokens, expires_in: ACCESS_SECONDS, token_type: 'Bearer' };
  };
  return {
    allows(kind, token) {
      if (token === fixed) return true;
      const found = access.get(token);
      return found !== undefined && found.kind === kind && found.until > now();
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
      return issue(kind, grant);
    },
    refresh(kind, token) {
      const found = refresh.get(token);
      if (!found || found.kind !== kind) return null;
      refresh.delete(token);
      return issue(kind, found.grant);
    },
    revoke(kind) {
      for (const [token, a] of access) if (a.kind === kind) access.delete(token);
      for (const [token, r] of refresh) if (r.kind === kind) refresh.delete(token);
    },
  };
}
