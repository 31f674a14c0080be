import { useCallback, useLayoutEffect, useRef } from 'react';

/** A function that stays the same while it does what the newest one does: parts that are slow to draw are not drawn anew. */
export function useStable<A extends unknown[], R>(run: (...args: A) => R): (...args: A) => R {
  const newest = useRef(run);
  useLayoutEffect(() => {
    newest.current = run;
  });
  return useCallback((...args: A) => newest.current(...args), []);
}
