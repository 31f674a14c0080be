import type { Look, Report } from '@chronicon/core/contract';
import type { ScenePage } from '@chronicon/core/page';
import { replaceEqualDeep } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
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
  /** Raised by what is saved beside the document and stands on its pages. */
  saves: number;
}

/** What is told of the pages. Where only sheets changed, all the rest is the same object as before. */
const told = (before: Shown | null, { pages, ...rest }: Shown): Shown => {
  const { pages: _, ...old } = before ?? { pages: [] };
  return { ...(before ? replaceEqualDeep(old, rest) : rest), pages } as Shown;
};

/** Asks for the pages of one report, one request at a time. */
class Drawer {
  /** What was wanted last, whether it was drawn or not. */
  last: Wanted | null = null;
  private wanted: Wanted | null = null;
  private readonly known = new Map<string, ScenePage>();
  private looked: Look | null = null;
  private drawing = false;
  private gone = new AbortController();
  /** Ends a wait for another try. */
  private wake = () => {};

  constructor(
    private readonly id: string,
    private readonly show: (change: (before: Shown | null) => Shown) => void,
    private readonly tell: (error: ApiError | null) => void,
  ) {}

  open(): void {
    if (this.gone.signal.aborted) this.gone = new AbortController();
  }

  close(): void {
    this.gone.abort();
    this.last = null;
    this.wake();
  }

  want(now: Wanted): void {
    const { last } = this;
    this.last = now;
    const same =
      last?.document === now.document && last.title === now.title && last.look === now.look && last.saves === now.saves;
    if (same) return;
    this.wanted = now;
    this.wake();
    if (!this.drawing) void this.draw();
  }

  private async ask({ title, document, look }: Wanted, upTo?: number): Promise<boolean> {
    const have = [...this.known.keys()].slice(-MOST_KNOWN);
    const reply = await call('POST /api/reports/:report/preview', {
      params: { report: this.id },
      body: { title: title.trim() === '' ? undefined : title, document, have, look, pages: upTo },
      signal: this.gone.signal,
    });
    for (const { hash, page } of reply.pages) if (page) this.known.set(hash, page);
    const pages = reply.pages.map(({ hash }) => ({ hash, page: this.known.get(hash)! }));
    this.show((before) => told(before, { ...reply, pages }));
    this.tell(null);
    return reply.uncounted;
  }

  /** What services have to count is asked for beside the page, once for each look; the page is drawn again with it. */
  private async count(of: Wanted): Promise<void> {
    const { asked } = await call('POST /api/reports/:report/count', {
      params: { report: this.id },
      body: { document: of.document, look: of.look },
      signal: this.gone.signal,
    });
    if (asked === 0) return;
    this.wanted ??= of;
    if (!this.drawing) await this.draw();
  }

  private readonly pause = (ms: number) =>
    new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, ms);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });

  private async draw(): Promise<void> {
    this.drawing = true;
    let tries = 0;
    const failed = (e: unknown) => {
      if ((e as Error).name !== 'AbortError') this.tell(e as ApiError);
    };
    try {
      for (let now = this.wanted; now; now = this.wanted) {
        this.wanted = null;
        const fresh = this.looked !== now.look;
        this.looked = now.look;
        try {
          if (fresh && now.document.pages.length > FIRST_PAGES) await this.ask(now, FIRST_PAGES);
          const uncounted = await this.ask(now);
          if (fresh || uncounted) void this.count(now).catch(failed);
          tries = 0;
        } catch (e) {
          failed(e);
          const { signal } = this.gone;
          if (isPassing(e) && !signal.aborted) {
            if (!this.wanted) await this.pause(againAfter(tries++));
            this.wanted ??= now;
            // What was not seen yet is looked at as if it were new.
            if (fresh) this.looked = null;
          }
          if (signal.aborted) return;
        }
      }
    } finally {
      this.drawing = false;
    }
  }
}

/**
 * The pages as they would be drawn for the dates that are looked at. Asked anew after each edit, at once: while one answer is
 * on its way the newest state waits, and the states between are never drawn. Only pages that changed are sent again, and of
 * a long report the first ones before the others. What the line or the server lost is asked for again by itself, and at once
 * where something is edited.
 * @param edited tells of each edit as it is made: the server draws while the screen beside the sheets is painted
 */
export function usePreview(
  id: string,
  title: string,
  document: Report['document'],
  look: Look | null,
  saves: number,
  edited?: (hear: (now: Pick<Wanted, 'title' | 'document'>) => void) => () => void,
) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [error, setError] = useState<ApiError | null>(null);
  const [drawer] = useState(() => new Drawer(id, setShown, setError));

  useEffect(() => {
    drawer.open();
    return () => drawer.close();
  }, [drawer]);
  useEffect(() => {
    if (look) drawer.want({ title, document, look, saves });
  }, [drawer, title, document, look, saves]);
  useEffect(
    () =>
      edited?.((now) => {
        // Before anything was shown there is nothing to be changed.
        if (drawer.last) drawer.want({ ...drawer.last, title: now.title, document: now.document });
      }),
    [drawer, edited],
  );
  return { shown, error };
}
