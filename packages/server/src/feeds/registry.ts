import type { Config } from '../config.ts';
import type { FeedKind } from './connector.ts';
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

/** Every kind with where its service is found; null when this server was given no address. */
export const feedKinds = (config: Config): { kind: FeedKind; address: string | null }[] =>
  KINDS.map((kind) => ({
    kind,
    address: config.feeds === null ? null : `${config.feeds.replace(/\/$/, '')}/${kind.kind}/v1`,
  }));

/** What a kind is called. */
export const feedLabel = (kind: string): string => KINDS.find((k) => k.kind === kind)?.label ?? kind;
