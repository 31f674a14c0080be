import type { Look, Report } from '@chronicon/core/contract';
import type { ScenePage } from '@chronicon/core/page';
import { useEffect, useRef, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';

export interface Shown extends Omit<Reply<'POST /api/reports/:report/preview'>, 'pages'> {
  pages: { hash: string; page: ScenePage }[];
}

/** Milliseconds of quiet before the page is drawn anew: nobody waits for each letter. */
const PAUSE = 180;

/** Pages of the design that are drawn before the others: what a screen shows first. */
const FIRST_PAGES = 3;

/**
 * The pages as they would be drawn for the dates that are looked at. Asked anew after each edit, when the hand rests; only pages that changed
 * are sent again, and of a long report the first ones before the others.
 */
export function usePreview(id: string, title: string, document: Report['document'], look: Look | null, saves: number) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [error, setError] = useState<ApiError | null>(null);
  const known = useRef(new Map<string, ScenePage>());
  const looked = useRef<Look | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a save of commentary draws the page anew
  useEffect(() => {
    if (!look) return;
    const abort = new AbortController();
    const long = document.pages.length > FIRST_PAGES;
    const fresh = looked.current !== look;
    looked.current = look;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const wait = (ms: number) =>
      new Promise<void>((resolve) => {
        timer = setTimeout(resolve, ms);
      });
    const ask = async (pages?: number) => {
      const have = [...known.current.keys()].slice(-60);
      const reply = await call('POST /api/reports/:report/preview', {
        params: { report: id },
        body: { title: title.trim() === '' ? undefined : title, document, have, look, pages },
        signal: abort.signal,
      });
      for (const { hash, page } of reply.pages) if (page) known.current.set(hash, page);
      // A part of it takes the place of the whole only where the whole is of other dates.
      if (pages !== undefined && !fresh) return false;
      setShown({ ...reply, pages: reply.pages.map(({ hash }) => ({ hash, page: known.current.get(hash)! })) });
      setError(null);
      return reply.uncounted;
    };
    (async () => {
      try {
        if (fresh && long) await ask(FIRST_PAGES);
        if (!fresh) await wait(PAUSE);
        const uncounted = await ask();
        // Drawing asks nobody; what services have to count is asked for beside it, once for each look.
        if (!fresh && !uncounted) return;
        const body = { document, look };
        const { asked } = await call('POST /api/reports/:report/count', {
          params: { report: id },
          body,
          signal: abort.signal,
        });
        if (asked > 0) await ask();
      } catch (e) {
        if ((e as Error).name !== 'AbortError') setError(e as ApiError);
      }
    })();
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [id, title, document, look, saves]);
  return { shown, error };
}
