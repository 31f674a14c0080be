/** Whose turn it is on the one thread that answers people and moves editions along. */
export interface Precedence {
  /** Work that a person waits for. */
  first<T>(work: () => Promise<T>): Promise<T>;
  /** Before the next step of what nobody waits for: resolves once nobody waits, and after a moment in any case. */
  turn(): Promise<void>;
}

/** Milliseconds that a step gives way at most: mails go out however many people look on. */
const LONGEST = 100;

export function createPrecedence(longest = LONGEST): Precedence {
  let waiting = 0;
  const steps = new Set<() => void>();
  return {
    async first(work) {
      waiting++;
      try {
        return await work();
      } finally {
        waiting--;
        if (waiting === 0) for (const go of steps) go();
      }
    },
    turn() {
      if (waiting === 0) return Promise.resolve();
      return new Promise((resolve) => {
        const go = () => {
          clearTimeout(timer);
          steps.delete(go);
          resolve();
        };
        const timer = setTimeout(go, longest);
        steps.add(go);
      });
    },
  };
}
