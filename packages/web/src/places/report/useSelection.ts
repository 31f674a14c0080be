import { useCallback, useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';

/** What is chosen of a report: blocks, or a page; neither is the report itself. It stands in the address. */
export interface Selection {
  blocks: readonly string[];
  page: string | null;
}

const MOST = 40;

function selectionIn(asked: string | null, page: string | null): Selection {
  const blocks = (asked ?? '').split(',').filter((id) => id !== '');
  return { blocks: blocks.slice(0, MOST), page: blocks.length > 0 ? null : page };
}

/**
 * What is chosen, and how to choose. It counts at once, for the next key that is pressed; the address follows, so that what
 * is chosen can be linked, and the place before is the one before.
 */
export function useSelection() {
  const [search, setSearch] = useSearchParams();
  const [asked, page] = [search.get('block'), search.get('page')];
  const [selection, setSelection] = useState(() => selectionIn(asked, page));
  /** The address as it was last set from here: another one is somebody else's, and is followed. */
  const written = useRef(`${asked ?? ''} ${page ?? ''}`);
  useEffect(() => {
    const now = `${asked ?? ''} ${page ?? ''}`;
    if (now === written.current) return;
    written.current = now;
    setSelection(selectionIn(asked, page));
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
    (blocks: readonly string[], of: string | null = null) => {
      const chosen = selectionIn(blocks.join(','), of);
      const block = chosen.blocks.join(',');
      const now = `${block} ${chosen.page ?? ''}`;
      if (now === written.current) return;
      written.current = now;
      setSelection(chosen);
      set({ block, page: chosen.page });
    },
    [set],
  );
  return { selection, choose, search, set };
}
