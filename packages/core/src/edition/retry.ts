/** Minutes to wait after each failed try of a delivery; after the last of them it is refused. */
const PAUSES = [1, 5, 15, 60, 180, 360, 720];
/** After a line that broke past the last dot: the reader may have it, and each try may be one copy more. */
const UNCERTAIN_PAUSES = [30, 240];
/** Until a mail server is tried again that takes nothing from anybody. */
const SERVER_PAUSES = [1, 2, 5, 10, 15];

/** By how much of itself a pause is longer at most, by chance: mails that were put off together come back apart. */
const JITTER = 0.2;

/** A pause made longer by chance, in whole seconds. */
const jittered = (minutes: number | undefined, chance: number): number | null =>
  minutes === undefined ? null : Math.round(minutes * 60 * (1 + JITTER * chance)) / 60;

/**
 * Minutes to wait after the `tries`-th try failed (1 is the first), or null when no more are made.
 * @param chance a number in [0, 1): the pause is up to a fifth longer by it
 */
export const pauseAfter = (tries: number, chance: number): number | null => jittered(PAUSES[tries - 1], chance);

/**
 * Minutes to wait after the `times`-th try that ended in doubt, or null when it stays in doubt for good.
 * @param chance as for {@link pauseAfter}
 */
export const pauseInDoubt = (times: number, chance: number): number | null =>
  jittered(UNCERTAIN_PAUSES[times - 1], chance);

/** Minutes until a mail server is tried for the `tries`-th time once it was found to take nothing; never none. */
export const pauseOfServer = (tries: number): number => SERVER_PAUSES[Math.min(tries, SERVER_PAUSES.length) - 1]!;
