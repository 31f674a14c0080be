import { lookup as lookUp } from 'node:dns';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import { FeedError } from './connector.ts';

/** Which addresses beside the public ones feeds may be fetched from. */
export interface NetworkRules {
  loopback: boolean;
  private: boolean;
}

const PRIVATE = new Set(['private', 'uniqueLocal', 'carrierGradeNat']);

/** Whether a server that feeds are fetched from may have this IP address. Link-local ones never may. */
export function isAllowed(address: string, rules: NetworkRules): boolean {
  const range = ipaddr.process(address).range();
  if (range === 'unicast') return true;
  if (range === 'loopback') return rules.loopback;
  return PRIVATE.has(range) && rules.private;
}

const forbidden = (host: string) =>
  new FeedError('down', `${host} is not a place that feeds may be fetched from on this server.`);

/**
 * Resolves names for a request, and gives no address that is not allowed: what is checked is what is connected to, so
 * a name cannot show one address to the check and another to the request.
 */
export const guardedLookup =
  (rules: NetworkRules): LookupFunction =>
  (hostname, options, done) => {
    lookUp(hostname, { ...options, all: true }, (error, found) => {
      if (error) return done(error, '', 0);
      const allowed = found.filter((a) => isAllowed(a.address, rules));
      const [first] = allowed;
      if (!first) return done(forbidden(hostname), '', 0);
      if (options.all) return (done as unknown as (e: null, all: typeof allowed) => void)(null, allowed);
      done(null, first.address, first.family);
    });
  };

/** Refuses an address that names another scheme, or an IP address that is not allowed. @throws FeedError */
export function checkAddress(url: URL, rules: NetworkRules): void {
  if (url.protocol !== 'https:' && url.protocol !== 'http:') throw forbidden(url.href);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (ipaddr.isValid(host) && !isAllowed(host, rules)) throw forbidden(host);
}
