import { AsyncLocalStorage } from 'node:async_hooks';

const counts = new AsyncLocalStorage<{ n: number }>();

/** Does something, and tells how many statements of the databases it took. */
export async function countingStatements<T>(work: () => Promise<T>): Promise<{ result: T; statements: number }> {
  const count = { n: 0 };
  const result = await counts.run(count, work);
  return { result, statements: count.n };
}

/** So many statements more, for whoever counts. */
export function countStatements(n: number): void {
  const count = counts.getStore();
  if (count) count.n += n;
}

/** One statement more. */
export const countStatement = (): void => countStatements(1);
