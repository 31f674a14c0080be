/** The time as the stand-ins have it: the machine's, moved by an offset that the demo may set. */
export interface StandinClock {
  now(): Date;
  setOffset(ms: number): void;
}

export function createClock(offset = 0): StandinClock {
  let moved = offset;
  return {
    now: () => new Date(Date.now() + moved),
    setOffset: (ms) => {
      moved = ms;
    },
  };
}
