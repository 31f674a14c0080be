import { lookup as lookUp } from 'node:dns';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import type { NetworkRules } from '../platform/networkRules.ts';
import { FeedError } from './connector.ts';

/**
 * Ranges that are not the public Internet though they look like it: the IANA registries of special-purpose addresses
 * (RFC 6890 and its updates), as far as the package does not know them.
 */
const SPECIAL: readonly [string, number][] = [
  ['0.0.0.0', 8],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.31.196.0', 24],
  ['192.52.193.0', 24],
  ['192.88.99.0', 24],
  ['192.175.48.0', 24],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
  ['::', 96],
  ['64:ff9b::', 96],
  ['64:ff9b:1::', 48],
  ['100::', 64],
  ['100:0:0:1::', 64],
  ['2001::', 23],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['2620:4f:8000::', 48],
  ['3fff::', 20],
  ['5f00::', 16],
  ['fec0::', 10],
];

const isSpecial = (address: ipaddr.IPv4 | ipaddr.IPv6): boolean =>
  SPECIAL.some(([net, bits]) => {
    const parsed = ipaddr.parse(net);
    return parsed.kind() === address.kind() && (address as ipaddr.IPv6).match(parsed as ipaddr.IPv6, bits);
  });

const PRIVATE = new Set(['private', 'uniqueLocal', 'carrierGradeNat']);

/** Whether a server that feeds are fetched from may have this IP address. Link-local ones never may. */
export function isAllowed(address: string, rules: NetworkRules): boolean {
  const parsed = ipaddr.process(address);
  const range = parsed.range();
  if (range === 'unicast') return !isSpecial(parsed);
  if (range === 'loopback') return rules.loopback;
  return PRIVATE.has(range) && rules.private;
}

const forbidden = (host: string) => new FeedError('down', `This server isn’t allowed to fetch from ${host}.`);

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
