/** The one source of time. `now` may be moved in a demo or test; `machine` is for leases between processes. */
export interface Clock {
  now(): string;
  machine(): number;
  /**
   * Milliseconds that only go forward, whatever happens to the machine's clock: for how long ago, and how long yet. Moves
   * along where `now` is moved. Means nothing to another process.
   */
  steady(): number;
  readonly offset: number;
  /** Moves forward to an instant. @throws RangeError when it lies behind */
  moveTo(instant: string): void;
}

export function createClock(offset = 0): Clock {
  let moved = offset;
  return {
    now: () => new Date(Date.now() + moved).toISOString(),
    machine: () => Date.now(),
    steady: () => performance.now() + moved - offset,
    get offset() {
      return moved;
    },
    moveTo(instant) {
      const next = Date.parse(instant) - Date.now();
      if (next < moved) throw new RangeError('a clock is moved forward only');
      moved = next;
    },
  };
}

/** A clock that shows `instant` now and goes on from there; the machine's own time for null. */
export const createClockAt = (instant: string | null): Clock =>
  createClock(instant === null ? 0 : Date.parse(instant) - Date.now());

/** Milliseconds that a clock may lose, as it is corrected over the network, without having been set back. */
const CORRECTED = 30_000;

/** @returns tells whether `clock` was set back since it was asked last, as the clock that only goes forward shows */
export function watchClock(clock: Clock): () => boolean {
  const lead = () => Date.parse(clock.now()) - clock.steady();
  let before = lead();
  return () => {
    const now = lead();
    const lost = before - now;
    before = now;
    return lost > CORRECTED;
  };
}
