import type { Feed } from '@chronicon/core/contract';
import { momentOf, plainDate } from './when.ts';

const DAY = 86_400_000;

/** How many days rows of the last file left open. */
function openWords(open: Feed['open']): string {
  const days = open.reduce((n, d) => n + (Date.parse(d.to) - Date.parse(d.from)) / DAY + 1, 0);
  return days === 1 ? 'one day' : `${days} days`;
}

/** How a feed is, in one line. */
export function FeedState({ feed }: { feed: Feed }) {
  switch (feed.state) {
    case 'troubled':
      return <span className="tone-wrong">■ error</span>;
    case 'stopped':
      return <span className="tone-wrong">■ stopped</span>;
    case 'removed':
      return <span className="muted">□ removed, data kept</span>;
    case 'new':
    case 'loading':
      return <span className="tone-accent">◌ importing history</span>;
    case 'fresh':
      if (feed.coveredThrough && feed.open.length > 0) {
        return (
          <span className="tone-attention">
            ■ up to {plainDate(feed.coveredThrough)}, {openWords(feed.open)} missing
          </span>
        );
      }
      if (feed.coveredThrough) return <span className="tone-good">● up to {plainDate(feed.coveredThrough)}</span>;
      return <span className="tone-attention">■ no data yet</span>;
  }
}

/** How far a load has come, while one is under way. */
export function FeedProgress({ feed }: { feed: Feed }) {
  if (!feed.progress || feed.state === 'stopped' || feed.state === 'removed') return null;
  const { done, of } = feed.progress;
  return (
    <div className="stack" style={{ gap: 4 }}>
      <ProgressBar label="Days fetched" done={done} of={of} />
      <span className="small muted">
        {done.toLocaleString('en-GB')} of {of.toLocaleString('en-GB')} days fetched, newest first
      </span>
    </div>
  );
}

export function ProgressBar({ label, done, of }: { label: string; done: number; of: number }) {
  return (
    <div
      className="progress"
      role="progressbar"
      aria-valuenow={done}
      aria-valuemin={0}
      aria-valuemax={of}
      aria-label={label}
    >
      <span style={{ width: `${(100 * done) / Math.max(1, of)}%` }} />
    </div>
  );
}

export const lastSuccess = (feed: Feed): string => (feed.lastSuccess ? momentOf(feed.lastSuccess) : 'never');
