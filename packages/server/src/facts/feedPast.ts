/** What a person said that an account was before it was linked, and what it is since it was removed (SEMANTICS §4). */
export interface FeedPast {
  /** `ran` without us, `began` then, or `continues` the feed of that id. */
  before: 'ran' | 'began' | 'continues';
  continues: string | null;
  after: 'unread' | 'ended';
}

/** What counts until a person says otherwise. */
export const PAST: FeedPast = { before: 'ran', continues: null, after: 'unread' };
