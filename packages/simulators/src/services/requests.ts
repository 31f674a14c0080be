import type { SimulatorClock } from '../clock.ts';

const DAY_LIMIT = 50_000;

/** Counts each service's requests of a UTC day against what it grants. */
export interface Requests {
  /** Counts one more; `remaining` is below zero when it was one too many. */
  count(kind: string): { limit: number; remaining: number; resetSeconds: number };
  setLimit(kind: string, limit: number): void;
  made(kind: string): number;
}

export function createRequests(clock: SimulatorClock): Requests {
  const limits = new Map<string, number>();
  let day = '';
  const made = new Map<string, number>();
  return {
    count(kind) {
      const now = clock.now();
      const today = now.toISOString().slice(0, 10);
      if (today !== day) made.clear();
      day = today;
      const n = (made.get(kind) ?? 0) + 1;
      made.set(kind, n);
      const limit = limits.get(kind) ?? DAY_LIMIT;
      const midnight = Date.parse(today) + 86_400_000;
      return { limit, remaining: limit - n, resetSeconds: Math.ceil((midnight - now.getTime()) / 1000) };
    },
    setLimit: (kind, limit) => void limits.set(kind, limit),
    made: (kind) => made.get(kind) ?? 0,
  };
}
