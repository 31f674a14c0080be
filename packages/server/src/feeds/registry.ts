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
    about: 'Followers, reach, posts and what people did with them, by profile.',
    restates: 2,
  }),
  protocolFeed({
    kind: 'email',
    label: 'Email',
    about: 'Mailings with opens and clicks, outreach with replies, the size of lists.',
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
    about: 'Updates, backups, uptime checks and security scans, from the day of connecting on.',
    restates: 1,
  }),
  protocolFeed({
    kind: 'search',
    label: 'Search positions',
    about: 'Impressions, clicks and position by keyword, with and without the brand.',
    restates: 3,
  }),
];

/** Every kind, in the order in which it is offered. */
export const feedKinds = (): readonly FeedKind[] => KINDS;

/** @throws FeedError for a kind that there is not */
export function kindOf(kind: string): FeedKind {
  const found = KINDS.find((k) => k.kind === kind);
  if (!found) throw new FeedError('down', `There is no service of the kind ${kind}.`);
  return found;
}

/** Whether a feed is fetched from a service; the others bring files or what was typed in. */
export const isService = (kind: string): boolean => KINDS.some((k) => k.kind === kind);

/** What a kind is called. */
export const feedLabel = (kind: string): string =>
  KINDS.find((k) => k.kind === kind)?.label ?? { file: 'Files', typed: 'Typed in' }[kind] ?? kind;
