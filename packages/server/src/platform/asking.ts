import { AsyncLocalStorage } from 'node:async_hooks';

/** The person for whom something is done at present, and until when they are kept waiting. */
interface Asking {
  member: string;
  /** By the monotonic clock, in milliseconds. */
  until: number;
  /** Aborted when they no longer wait. */
  gone: AbortSignal;
}

/** A person gets an answer, or a refusal, within this time, in milliseconds. */
export const PERSON_WAITS = 9_000;

const asking = new AsyncLocalStorage<Asking>();

/** Does something for a person who waits for it. */
export const askedBy = <T>(
  member: string,
  work: () => Promise<T>,
  gone: AbortSignal = new AbortController().signal,
): Promise<T> => asking.run({ member, until: performance.now() + PERSON_WAITS, gone }, work);

/** Does something that may go on when the person has been answered. */
export const unwatched = <T>(work: () => T): T => asking.exit(work);

/** Who waits; null for what the server does by itself. */
export const whoAsks = (): string | null => asking.getStore()?.member ?? null;

/** The person for whom something was to be done has gone: another question, another page. */
export class GoneError extends Error {}

/** Ends what is done for a person who no longer waits, where it has not begun. @throws GoneError */
export function stillWaits(): void {
  if (asking.getStore()?.gone.aborted) throw new GoneError('nobody waits for this any more');
}

/** Milliseconds until the person who waits has to be answered; none are left over for what nobody waits for. */
export function timeLeft(): number {
  const store = asking.getStore();
  return store ? Math.max(1, store.until - performance.now()) : Number.POSITIVE_INFINITY;
}

/**
 * Waits for something no longer than a part of the time that is left. What is not ready goes on by itself, for the next
 * who asks; its errors are its own.
 */
export async function forAWhile(work: Promise<unknown>, share: number): Promise<void> {
  const left = timeLeft();
  if (left === Number.POSITIVE_INFINITY) {
    await work;
    return;
  }
  let timer: NodeJS.Timeout | undefined;
  const enough = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, left * share);
  });
  work.catch(() => undefined);
  await Promise.race([work, enough]);
  clearTimeout(timer);
}
