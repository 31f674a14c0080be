/** Minutes to wait after each failed try of a delivery; after the last of them it is refused. */
const PAUSES = [1, 5, 15, 60, 180, 360, 720];

/** Minutes to wait after the `tries`-th try failed (1 is the first), or null when no more are made. */
export const pauseAfter = (tries: number): number | null => PAUSES[tries - 1] ?? null;
