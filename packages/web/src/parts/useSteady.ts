import { useCallback, useRef } from 'react';

/**
 * One and the same function for as long as a place stands, which does what the newest one does: what is handed it need not be
 * drawn anew with whoever hands it.
 */
export function useSteady<A extends unknown[], R>(does: (...args: A) => R): (...args: A) => R {
  const newest = useRef(does);
  newest.current = does;
  return useCallback((...args: A) => newest.current(...args), []);
}
