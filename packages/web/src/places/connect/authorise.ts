import { call } from '../../api/call.ts';

const KEY = 'chronicon.connect.then';

/** Sends the browser to a service to be let in; it comes back to /connect/back, and goes on from there. */
export async function authorise(ask: { kind: string; connection?: string; next: string }): Promise<void> {
  const back = `${location.origin}/connect/back`;
  const { kind, connection, next } = ask;
  const { url } = await call('POST /api/connections/begin', {
    body: { kind, back, ...(connection !== undefined && { connection }) },
  });
  sessionStorage.setItem(KEY, next);
  location.assign(url);
}

/** Where to go on after the round trip; only places of this interface. */
export function whereNext(connection: string): string {
  const then = sessionStorage.getItem(KEY) ?? '/connect';
  sessionStorage.removeItem(KEY);
  if (!then.startsWith('/') || then.startsWith('//')) return '/connect';
  return then.startsWith('/connect') ? `${then}${then.includes('?') ? '&' : '?'}connection=${connection}` : then;
}
