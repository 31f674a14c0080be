/** The time as the simulators have it: the machine's, moved by an offset that the demo may set. */
export interface SimulatorClock {
  now(): Date;
  setOffset(ms: number): void;
}

export function createClock(offset = 0): SimulatorClock {
  let moved = offset;
  return {
    now: () => new Date(Date.now() + moved),
    setOffset: (ms) => {
      moved = ms;
    },
  };
}
