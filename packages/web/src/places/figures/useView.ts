import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { parseView, type View, viewSearch } from './view.ts';

/** The present view, and a way to change parts of it; each change is a step that one can go back from. */
export function useView(first: string): [View, (patch: Partial<View>) => void] {
  const [search, setSearch] = useSearchParams();
  const view = useMemo(() => parseView(search, first), [search, first]);
  const change = useCallback(
    (patch: Partial<View>) =>
      // At once, not as a transition: what is asked next is asked sooner.
      setSearch((before) => viewSearch({ ...parseView(before, first), ...patch }, before), { flushSync: true }),
    [setSearch, first],
  );
  return [view, change];
}
