import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';

/** What is chosen of a report: blocks, or a page; neither is the report itself. It stands in the address. */
export interface Selection {
  blocks: readonly string[];
  page: string | null;
}

const MOST = 40;

/** What is chosen, and how to choose; the address is the same place, so that back is the place before. */
export function useSelection() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('block');
  const page = search.get('page');
  const selection = useMemo((): Selection => {
    const blocks = (asked ?? '').split(',').filter((id) => id !== '');
    return { blocks: blocks.slice(0, MOST), page: blocks.length > 0 ? null : page };
  }, [asked, page]);
  const set = useCallback(
    (keys: Record<string, string | null>) =>
      setSearch(
        (old) => {
          const next = new URLSearchParams(old);
          for (const [key, value] of Object.entries(keys)) {
            if (value === null || value === '') next.delete(key);
            else next.set(key, value);
          }
          return next;
        },
        { replace: true },
      ),
    [setSearch],
  );
  const choose = useCallback(
    (blocks: readonly string[], of: string | null = null) => set({ block: blocks.slice(0, MOST).join(','), page: of }),
    [set],
  );
  return { selection, choose, search, set };
}
