/** What is known of a reason for which an edition is held or left out. */
interface Reason {
  /** The sentence that says it; null where it names what it is about, and is composed where that is known. */
  says: string | null;
  /** It is looked at again when something changes; any other is left to a person alone. */
  follows?: true;
  /** The edition is drawn, and a person may send it once they have seen it. */
  maySend?: true;
  /** Of those left out: it is news for people, until somebody puts it away. */
  isNews?: true;
}

/**
 * Why an edition is held or left out. What may be done about it hangs on the code; the sentence beside it is for people
 * alone.
 */
const REASONS = {
  /** Days or counts that its pages read were not there at its time. */
  'late-data': { says: null, follows: true },
  /** An odd day that nobody explained turns a verdict round: a person looks at it (SEMANTICS §6). */
  'odd-day': { says: null, follows: true, maySend: true },
  /** No face can draw some of its characters: a person writes them otherwise, or looks at it. */
  undrawable: { says: null, follows: true, maySend: true },
  'can-go': {
    says: 'All its data is here now, and its send time has passed. Review it, then send it.',
    follows: true,
    maySend: true,
  },
  /** It was ready, and more than a day late: a person decides. */
  late: {
    says: 'It is more than a day late. Review it, then send or skip it.',
    follows: true,
    maySend: true,
  },
  'time-passed': {
    says: 'Its send time was moved to one that has passed. Review it, then send or skip it.',
    follows: true,
    maySend: true,
  },
  /** It is not what the person saw who sent it. */
  changed: {
    says: 'It changed just before sending. Review it again.',
    follows: true,
    maySend: true,
  },
  paused: { says: 'Its schedule is paused.' },
  'never-released': {
    says: 'Release the report first.',
    follows: true,
  },
  'no-readers': {
    says: 'All its readers were removed. Add readers or skip it.',
    follows: true,
  },
  /** A reader's address is outside the client's usual domains, and nobody has approved it. */
  guard: { says: null, follows: true },
  'mail-text': { says: null, follows: true },
  /** A file that it needs is missing or damaged and cannot be made anew. */
  file: { says: null },
  'too-slow': { says: null, follows: true },
  /** The mail server refused every reader. */
  refused: { says: null },
  error: { says: null },
  /** The run would cover dates that were covered already. */
  repeat: { says: null, isNews: true },
  missed: { says: 'Its time passed while the server was not running.', isNews: true },
  /** A person left its run out; one press on the run takes it up again. */
  'left-out': { says: 'Its run was skipped.' },
  /** Its schedule was ended: undoing that takes it up again. */
  ended: { says: null },
} as const satisfies Record<string, Reason>;

export type HoldCode = keyof typeof REASONS;

const codes = (that: (reason: Reason) => boolean): readonly HoldCode[] =>
  (Object.keys(REASONS) as HoldCode[]).filter((code) => that(REASONS[code]));

export const FOLLOWS_BY_ITSELF = codes((r) => r.follows === true);
export const MAY_BE_SENT = codes((r) => r.maySend === true);
export const IS_NEWS = codes((r) => r.isNews === true);

type Said = { [K in HoldCode]: (typeof REASONS)[K]['says'] extends string ? K : never }[HoldCode];

/**
 * A reason with its sentence, as an edition keeps both.
 *
 * @example because('paused') // { code: 'paused', reason: 'Its schedule is paused.' }
 */
export const because = <K extends Said>(code: K): { code: K; reason: string } => ({
  code,
  reason: REASONS[code].says as string,
});

/** What stops all sending. */
export type StopCause = 'person' | 'mail-server' | 'copy';
