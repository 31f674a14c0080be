import { BudgetError } from '../platform/budget.ts';

/**
 * Runs a task of a pool of threads: one that takes longer than it may, or more memory, is ended with its thread.
 * @param budget milliseconds
 * @param running what is under way, for whoever ends all of it
 * @throws BudgetError where it took too much; or what the task throws
 */
export async function withinBudget<T>(
  budget: number,
  run: (signal: AbortSignal) => Promise<T>,
  running: Set<AbortController> = new Set(),
): Promise<T> {
  const ending = new AbortController();
  let late = false;
  const timer = setTimeout(() => {
    late = true;
    ending.abort();
  }, budget);
  running.add(ending);
  try {
    return await run(ending.signal);
  } catch (error) {
    if (late || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') {
      throw new BudgetError(Math.round(budget / 1000));
    }
    throw error;
  } finally {
    clearTimeout(timer);
    running.delete(ending);
  }
}
