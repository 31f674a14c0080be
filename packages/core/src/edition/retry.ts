/** Minutes to wait after each failed try of a delivery; after the last of them it is refused. */
const PAUSES = [1, 5, 15, 60, 180, 360, 720];
/** After a line that broke past the last dot: the reader may have it, and each try may be one copy more. */
const UNCERTAIN_PAUSES = [30, 240];
/** Until a mail server is tried again that takes nothing from anybody. */
const SERVER_PAUSES = [1, 2, 5, 10, 15];

/** Minutes to wait after the `tries`-th try failed (1 is the first), or null when no more are made. */
export const pauseAfter = (tries: number): number | null => PAUSES[tries - 1] ?? null;

/** Minutes to wait after the `times`-th try that ended in doubt, or null when it stays in doubt for good. */
export const pauseInDoubt = (times: number): number | null => UNCERTAIN_PAUSES[times - 1] ?? null;

/** Minutes until a mail server is tried for the `tries`-th time once it was found to take nothing; never none. */
export const pauseOfServer = (tries: number): number => SERVER_PAUSES[Math.min(tries, SERVER_PAUSES.length) - 1]!;
