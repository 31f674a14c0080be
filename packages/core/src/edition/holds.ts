/** Why an edition is held: what may be done about it hangs on this, not on the sentence beside it. */
export type HoldCode =
  /** Days or counts that its pages read were not there at its time. */
  | 'late-data'
  /** An odd day that nobody explained turns a verdict round: a person looks at it (SEMANTICS §6). */
  | 'odd-day'
  /** No face can draw some of its characters: a person writes them otherwise, or looks at it. */
  | 'undrawable'
  /** All is there now, after its time: a person looks at it and sends it. */
  | 'can-go'
  /** It was ready, and more than a day late: a person decides. */
  | 'late'
  /** Its time was moved to one that had passed. */
  | 'time-passed'
  /** It is not what the person saw who sent it. */
  | 'changed'
  | 'paused'
  | 'never-released'
  | 'no-readers'
  /** A reader's address is outside the client's usual domains, and nobody has approved it. */
  | 'guard'
  | 'mail-text'
  /** A file that it needs is missing or damaged and cannot be made anew. */
  | 'file'
  /** Drawing took too long. */
  | 'too-slow'
  /** The mail server refused every reader. */
  | 'refused'
  /** The run would cover dates that were covered already (of those left out). */
  | 'repeat'
  | 'missed'
  | 'error';

/** Holds that are looked at again when something changes; the others are left to a person alone. */
export const FOLLOWS_BY_ITSELF: readonly HoldCode[] = [
  'late-data',
  'odd-day',
  'undrawable',
  'can-go',
  'late',
  'time-passed',
  'changed',
  'never-released',
  'no-readers',
  'guard',
  'mail-text',
  'too-slow',
];

/** Holds of an edition that is drawn and that a person may send once they have seen it. */
export const MAY_BE_SENT: readonly HoldCode[] = ['odd-day', 'undrawable', 'can-go', 'late', 'time-passed', 'changed'];

/** What stops all sending. */
export type StopCause = 'person' | 'mail-server' | 'copy';
