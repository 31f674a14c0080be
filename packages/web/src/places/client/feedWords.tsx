import type { Feed } from '@chronicon/core/contract';
import { momentOf, plainDate } from '../../parts/when.ts';

/** The day through which all of a feed's datasets are there. */
export const coveredThrough = (feed: Feed): string | null =>
  feed.datasets.map((d) => d.coveredThrough ?? '').sort()[0] || null;

/** How a feed is, in one line. */
export function FeedState({ feed }: { feed: Feed }) {
  if (feed.state === 'troubled') return <span className="tone-wrong">■ in trouble</span>;
  if (feed.state !== 'fresh') return <span className="tone-accent">◌ first load</span>;
  const through = coveredThrough(feed);
  return <span className="tone-good">● through {through ? plainDate(through) : '–'}</span>;
}

/** How far a load has come, while one is under way. */
export function FeedProgress({ feed }: { feed: Feed }) {
  if (!feed.progress) return null;
  const { done, of } = feed.progress;
  return (
    <div className="stack" style={{ gap: 4 }}>
      <div
        className="progress"
        role="progressbar"
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={of}
        aria-label="Days fetched"
      >
        <span style={{ width: `${(100 * done) / Math.max(1, of)}%` }} />
      </div>
      <span className="small muted">
        {done.toLocaleString('en-GB')} of {of.toLocaleString('en-GB')} days fetched, newest first
      </span>
    </div>
  );
}

export const lastSuccess = (feed: Feed): string => (feed.lastSuccess ? momentOf(feed.lastSuccess) : 'never');
