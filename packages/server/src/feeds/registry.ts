import type { Config } from '../config.ts';
import type { FeedKind } from './connector.ts';
import { webAnalytics } from './webAnalytics.ts';

/** Every kind of feed, with where its service is found; null when this server was given no address for it. */
export const feedKinds = (config: Config): { kind: FeedKind; address: string | null }[] => [
  { kind: webAnalytics, address: config.webAnalytics },
];
