import type { Logger } from 'pino';

/** So many pieces of work of one kind at once, each known by an id and never twice; who starts one does not wait for it. */
export interface Slots {
  readonly running: number;
  /** How many more may be started. */
  readonly free: number;
  has(id: string): boolean;
  /** Starts what is not under way and finds room. @returns how many were started */
  fill<T extends { id: string }>(items: readonly T[], work: (item: T) => Promise<void>): number;
  /** Resolves when all that is under way has ended. */
  idle(): Promise<void>;
}

/** @param ended told of each piece of work that has ended */
export function createSlots(atOnce: number, log: Logger, ended: () => void = () => undefined): Slots {
  const running = new Map<string, Promise<void>>();
  const freeNow = () => Math.max(0, atOnce - running.size);
  return {
    get running() {
      return running.size;
    },
    get free() {
      return freeNow();
    },
    has: (id) => running.has(id),
    fill(items, work) {
      const free = items.filter((i) => !running.has(i.id)).slice(0, freeNow());
      for (const item of free) {
        const done = work(item)
          .catch((err) => log.error({ err, id: item.id }, 'work failed'))
          .finally(() => {
            running.delete(item.id);
            ended();
          });
        running.set(item.id, done);
      }
      return free.length;
    },
    async idle() {
      await Promise.all(running.values());
    },
  };
}
