/** Whose turn it is on the one thread that answers people and moves editions along. */
export interface Precedence {
  /** Work that a person waits for. */
  first<T>(work: () => Promise<T>): Promise<T>;
  /** Before the next step of what nobody waits for: resolves once nobody waits, and after a moment in any case. */
  turn(): Promise<void>;
}

/** Milliseconds that a step gives way at most: mails go out however many people look on. */
const LONGEST = 100;
/** Milliseconds after which somebody who still waits waits for something else than this thread: a service, say. */
const OWN_WORK = 1_000;

export function createPrecedence(longest = LONGEST, ownWork = OWN_WORK): Precedence {
  const waiting = new Set<symbol>();
  const steps = new Set<() => void>();
  const leave = (who: symbol) => {
    if (waiting.delete(who) && waiting.size === 0) for (const go of steps) go();
  };
  return {
    async first(work) {
      const who = Symbol('who waits');
      waiting.add(who);
      const timer = setTimeout(() => leave(who), ownWork);
      try {
        return await work();
      } finally {
        clearTimeout(timer);
        leave(who);
      }
    },
    turn() {
      if (waiting.size === 0) return Promise.resolve();
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
