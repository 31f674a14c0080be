import { FeedError, type FeedKind } from './connector.ts';
import { protocolFeed } from './protocolFeed.ts';

/** Every kind of feed. A kind whose service speaks another protocol brings its own `open`. */
const KINDS: readonly FeedKind[] = [
  protocolFeed({
    kind: 'web-analytics',
    label: 'Web analytics',
    about: 'Visits by channel, device, country, landing page and hour; orders, revenue and enquiries.',
    restates: 3,
  }),
  protocolFeed({
    kind: 'paid-ads',
    label: 'Paid ads',
    about: 'Cost, impressions, clicks and conversions by campaign, ad group, advertiser and line item.',
    restates: 7,
  }),
  protocolFeed({
    kind: 'social',
    label: 'Social profiles',
    about: 'Followers, reach, posts and engagement, by profile.',
    restates: 2,
  }),
  protocolFeed({
    kind: 'email',
    label: 'Email',
    about: 'Email campaigns with opens and clicks, outreach with replies, list sizes.',
    restates: 5,
  }),
  protocolFeed({
    kind: 'calls',
    label: 'Call tracking',
    about: 'Calls by hour and source, answered ones, time on the phone.',
    restates: 1,
  }),
  protocolFeed({
    kind: 'listings',
    label: 'Local listings',
    about: 'Searches, views, requests for directions, calls and ratings, by location.',
    restates: 4,
  }),
  protocolFeed({
    kind: 'upkeep',
    label: 'Site upkeep',
    about: 'Updates, backups, uptime checks and security scans, from the day you connect.',
    restates: 1,
  }),
  protocolFeed({
    kind: 'search',
    label: 'Search positions',
    about: 'Impressions, clicks and position by keyword, brand and non-brand.',
    restates: 3,
  }),
];

/** Every kind, in the order in which it is offered. */
export const feedKinds = (): readonly FeedKind[] => KINDS;

/**
 * A further service of a kind is called by the kind and a number: `paid-ads.2`. Its feeds are of the kind, and counted together
 * with those of the others (SEMANTICS §4).
 */
const NAMED = /^([a-z-]+)(?:\.([2-9]))?$/;

/** The kind of a service. @example baseOf('paid-ads.2') // 'paid-ads' */
export const baseOf = (service: string): string => NAMED.exec(service)?.[1] ?? service;

/** Whether it is a further service of its kind, which has an address of its own. */
export const isFurther = (service: string): boolean => NAMED.exec(service)?.[2] !== undefined;

/** The next further service of a kind, beside those that there are; null once there are as many as there can be. */
export function nextService(kind: string, taken: readonly string[]): string | null {
  const free = [2, 3, 4, 5, 6, 7, 8, 9].map((n) => `${kind}.${n}`).find((s) => !taken.includes(s));
  return free ?? null;
}

/** The kind of a service, or of a further one. @throws FeedError for one that there is not */
export function kindOf(service: string): FeedKind {
  const found = KINDS.find((k) => k.kind === baseOf(service));
  if (!found) throw new FeedError('down', `Unknown kind of service: ${service}.`);
  return found.kind === service ? found : { ...found, kind: service, label: feedLabel(service) };
}

/** Whether a feed is fetched from a service; the others bring files or what was typed in. */
export const isService = (kind: string): boolean => KINDS.some((k) => k.kind === baseOf(kind));

/** What a kind is called; of a further service with its number. */
export function feedLabel(kind: string): string {
  const base = KINDS.find((k) => k.kind === baseOf(kind))?.label ?? { file: 'Files', typed: 'Typed in' }[kind] ?? kind;
  return isFurther(kind) ? `${base} ${kind.slice(kind.indexOf('.') + 1)}` : base;
}
