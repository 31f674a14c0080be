import type { FeedLack } from '../figures/index.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './said.ts';

/** Says of one of several feeds since when it is known, or until when it was read. */
export function feedLackWords({ feed, since, until }: FeedLack, format: Formatter): string {
  const { noteFeedSince, noteFeedUntil } = format.words;
  return since
    ? fill(noteFeedSince, { feed, date: format.date(since) })
    : fill(noteFeedUntil, { feed, date: format.date(until!) });
}
