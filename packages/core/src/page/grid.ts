/** Rounds to 0.01 pt, the grid of every scene. */
export const grid = (n: number): number => Math.round(n * 100) / 100;
