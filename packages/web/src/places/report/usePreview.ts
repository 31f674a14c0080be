import type { Look, Report } from '@chronicon/core/contract';
import type { ScenePage } from '@chronicon/core/page';
import { useEffect, useRef, useState } from 'react';
import { type ApiError, againAfter, call, isPassing, type Reply } from '../../api/call.ts';

export interface Shown extends Omit<Reply<'POST /api/reports/:report/preview'>, 'pages'> {
  pages: { hash: string; page: ScenePage }[];
}

/** Pages of the design that are drawn before the others: what a screen shows first. */
const FIRST_PAGES = 3;
/** Sheets that the server need not send again. */
const MOST_KNOWN = 60;

interface Wanted {
  title: string;
  document: Report['document'];
  look: Look;
}

/**
 * The pages as they would be drawn for the dates that are looked at. Asked anew after each edit, at once: while one answer is
 * on its way the newest state waits, and the states between are never drawn. Only pages that changed are sent again, and of
 * a long report the first ones before the others. What the line or the server lost is asked for again by itself, and at once
 * where something is edited.
 */
export function usePreview(id: string, title: string, document: Report['document'], look: Look | null, saves: number) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [error, setError] = useState<ApiError | null>(null);
  const known = useRef(new Map<string, ScenePage>());
  const looked = useRef<Look | null>(null);
  const wanted = useRef<Wanted | null>(null);
  const drawing = useRef(false);
  const gone = useRef(new AbortController());
  /** Ends a wait for another try. */
  const wake = useRef(() => {});

  useEffect(() => {
    if (gone.current.signal.aborted) gone.current = new AbortController();
    return () => {
      gone.current.abort();
      wake.current();
    };
  }, []);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a save of commentary draws the page anew
  useEffect(() => {
    if (!look) return;
    wanted.current = { title, document, look };
    wake.current();
    if (!drawing.current) void draw();

    async function ask({ title: named, document: design, look: dates }: Wanted, pages?: number): Promise<boolean> {
      const have = [...known.current.keys()].slice(-MOST_KNOWN);
      const reply = await call('POST /api/reports/:report/preview', {
        params: { report: id },
        body: { title: named.trim() === '' ? undefined : named, document: design, have, look: dates, pages },
        signal: gone.current.signal,
      });
      for (const { hash, page } of reply.pages) if (page) known.current.set(hash, page);
      setShown({ ...reply, pages: reply.pages.map(({ hash }) => ({ hash, page: known.current.get(hash)! })) });
      setError(null);
      return reply.uncounted;
    }

    /** What services have to count is asked for beside the page, once for each look; the page is drawn again with it. */
    async function count(of: Wanted): Promise<void> {
      const { asked } = await call('POST /api/reports/:report/count', {
        params: { report: id },
        body: { document: of.document, look: of.look },
        signal: gone.current.signal,
      });
      if (asked === 0) return;
      wanted.current ??= of;
      if (!drawing.current) await draw();
    }

    const pause = (ms: number) =>
      new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, ms);
        wake.current = () => {
          clearTimeout(timer);
          resolve();
        };
      });

    async function draw(): Promise<void> {
      drawing.current = true;
      let tries = 0;
      const tell = (e: unknown) => {
        if ((e as Error).name !== 'AbortError') setError(e as ApiError);
      };
      try {
        for (let now = wanted.current; now; now = wanted.current) {
          wanted.current = null;
          const fresh = looked.current !== now.look;
          looked.current = now.look;
          try {
            if (fresh && now.document.pages.length > FIRST_PAGES) await ask(now, FIRST_PAGES);
            const uncounted = await ask(now);
            if (fresh || uncounted) void count(now).catch(tell);
            tries = 0;
          } catch (e) {
            tell(e);
            const { signal } = gone.current;
            if (isPassing(e) && !signal.aborted) {
              if (!wanted.current) await pause(againAfter(tries++));
              wanted.current ??= now;
              // What was not seen yet is looked at as if it were new.
              if (fresh) looked.current = null;
            }
            if (signal.aborted) return;
          }
        }
      } finally {
        drawing.current = false;
      }
    }
  }, [id, title, document, look, saves]);
  return { shown, error };
}
