// @vitest-environment happy-dom
import type { Look, Report } from '@chronicon/core/contract';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { usePreview } from './usePreview.ts';

const OWN = { kind: 'own' } as Look;
type Document = Report['document'];
const documentOf = (pages: number, words = ''): Document => ({
  version: 2,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  pages: Array.from({ length: pages }, (_, i) => ({
    id: `p${i}`,
    title: `Page ${i}`,
    rows: i === 0 ? [{ id: 'r', blocks: [{ kind: 'heading' as const, id: 'h', text: words }] }] : [],
  })),
});

interface Asked {
  title?: string;
  document: Document;
  have: string[];
  pages?: number;
}

/** A server that draws when it is told to. */
class Server {
  readonly asked: Asked[] = [];
  private readonly waiting: ((response: Response) => void)[] = [];
  uncounted = false;
  counts = 0;
  readonly fetch = (path: string, init: RequestInit): Promise<Response> => {
    if (path.endsWith('/count')) {
      this.counts++;
      return Promise.resolve(Response.json({ asked: this.uncounted ? 1 : 0 }));
    }
    this.asked.push(JSON.parse(init.body as string));
    return new Promise((resolve) => this.waiting.push(resolve));
  };

  /** Answers the request that came first, with sheets that are named after the words they were asked with. */
  async draws(): Promise<void> {
    const asked = this.asked.at(-this.waiting.length)!;
    const shown = asked.document.pages.slice(0, asked.pages);
    const pages = shown.map((page, i) => {
      const hash = i === 0 ? JSON.stringify(page) : page.id;
      return { hash, page: asked.have.includes(hash) ? null : { title: page.title, of: JSON.stringify(page) } };
    });
    await this.answers(Response.json({ pages, lacks: [], uncounted: this.uncounted }));
  }

  async answers(response: Response): Promise<void> {
    await act(async () => this.waiting.shift()!(response));
  }
}

let server: Server;
beforeEach(() => {
  server = new Server();
  vi.stubGlobal('fetch', server.fetch);
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const opened = (document: Document) =>
  renderHook(
    (props: { document: Document; look: Look; saves: number }) =>
      usePreview('rp_1', 'October', props.document, props.look, props.saves),
    { initialProps: { document, look: OWN, saves: 0 } },
  );
const wordsOf = (document: Document) => JSON.stringify(document.pages[0]);

describe('the pages of a report that is edited', () => {
  it('are asked for at once, one after the other, and only as they are now', async () => {
    const { result, rerender } = opened(documentOf(1, 'a'));
    expect(server.asked).toHaveLength(1);
    for (const words of ['ab', 'abc', 'abcd']) rerender({ document: documentOf(1, words), look: OWN, saves: 0 });
    expect(server.asked).toHaveLength(1);
    await server.draws();
    // What was typed meanwhile is drawn next; what stood between is not.
    expect(server.asked.map((a) => wordsOf(a.document))).toEqual([
      wordsOf(documentOf(1, 'a')),
      wordsOf(documentOf(1, 'abcd')),
    ]);
    await server.draws();
    await waitFor(() =>
      expect(result.current.shown!.pages[0]!.page).toMatchObject({ of: wordsOf(documentOf(1, 'abcd')) }),
    );
    expect(server.asked).toHaveLength(2);
  });

  it('are asked for as soon as an edit is made, before the screen follows, and once', async () => {
    let hear: (now: { title: string; document: Document }) => void = () => undefined;
    const edited = (listener: typeof hear) => {
      hear = listener;
      return () => {
        hear = () => undefined;
      };
    };
    const { rerender, unmount } = renderHook(
      (props: { document: Document }) => usePreview('rp_1', 'October', props.document, OWN, 0, edited),
      { initialProps: { document: documentOf(1, 'a') } },
    );
    await server.draws();
    const next = documentOf(1, 'b');
    act(() => hear({ title: 'October', document: next }));
    expect(server.asked.map((a) => wordsOf(a.document)).at(-1)).toBe(wordsOf(next));
    rerender({ document: next });
    await server.draws();
    expect(server.asked).toHaveLength(2);
    unmount();
    hear({ title: 'October', document: documentOf(1, 'c') });
    expect(server.asked).toHaveLength(2);
  });

  it('leave what is told beside them as it was where it is the same', async () => {
    const { result, rerender } = opened(documentOf(1, 'a'));
    await server.draws();
    const { lacks } = result.current.shown!;
    rerender({ document: documentOf(1, 'b'), look: OWN, saves: 0 });
    await server.draws();
    await waitFor(() =>
      expect(result.current.shown!.pages[0]!.page).toMatchObject({ of: wordsOf(documentOf(1, 'b')) }),
    );
    expect(result.current.shown!.lacks).toBe(lacks);
  });

  it('come by the first ones of a long report, and without those that are there', async () => {
    const { result, rerender } = opened(documentOf(9, 'a'));
    expect(server.asked[0]!.pages).toBe(3);
    await server.draws();
    expect(result.current.shown!.pages).toHaveLength(3);
    await server.draws();
    expect(result.current.shown!.pages.map((p) => p.page.title)).toEqual(documentOf(9).pages.map((p) => p.title));
    rerender({ document: documentOf(9, 'b'), look: OWN, saves: 0 });
    expect(server.asked[2]).not.toHaveProperty('pages');
    expect(server.asked[2]!.have).toContain('p8');
    await server.draws();
    expect(result.current.shown!.pages[8]!.page.title).toBe('Page 8');
  });

  it('stay as they were where the server says no, and follow the next edit', async () => {
    const { result, rerender } = opened(documentOf(1, 'a'));
    await server.draws();
    rerender({ document: documentOf(1, 'b'), look: OWN, saves: 0 });
    await server.answers(Response.json({ message: 'The page could not be drawn.', fields: {} }, { status: 500 }));
    expect(result.current.error?.message).toBe('The page could not be drawn.');
    expect(result.current.shown!.pages[0]!.page).toMatchObject({ of: wordsOf(documentOf(1, 'a')) });
    rerender({ document: documentOf(1, 'c'), look: OWN, saves: 0 });
    await waitFor(() => expect(server.asked).toHaveLength(3));
    await server.draws();
    expect(result.current.error).toBeNull();
    expect(result.current.shown!.pages[0]!.page).toMatchObject({ of: wordsOf(documentOf(1, 'c')) });
  });

  it('are asked for again by themselves where the server was busy or the line broke', async () => {
    const { result } = opened(documentOf(1, 'a'));
    await server.answers(Response.json({ message: 'Much to do; try again.', fields: {} }, { status: 503 }));
    expect(result.current.error?.message).toBe('Much to do; try again.');
    await waitFor(() => expect(server.asked).toHaveLength(2), { timeout: 10_000 });
    await server.draws();
    expect(result.current.error).toBeNull();
    expect(result.current.shown!.pages).toHaveLength(1);
  });

  it('are not asked for again where the server does not take them, nor once nobody looks', async () => {
    vi.useFakeTimers();
    const refused = opened(documentOf(1, 'a'));
    await server.answers(Response.json({ message: 'No such dates.', fields: {} }, { status: 422 }));
    await act(async () => vi.advanceTimersByTime(120_000));
    expect(server.asked).toHaveLength(1);
    refused.unmount();
    const left = opened(documentOf(1, 'b'));
    await server.answers(Response.json({ message: 'Much to do.', fields: {} }, { status: 503 }));
    left.unmount();
    await act(async () => vi.advanceTimersByTime(120_000));
    expect(server.asked).toHaveLength(2);
  });

  it('are drawn again for other dates, when commentary was saved, and when services have counted', async () => {
    const { rerender } = opened(documentOf(1, 'a'));
    await server.draws();
    expect(server.counts).toBe(1);
    rerender({ document: documentOf(1, 'a'), look: OWN, saves: 1 });
    await server.draws();
    expect(server.counts).toBe(1);
    server.uncounted = true;
    rerender({
      document: documentOf(1, 'a'),
      look: { kind: 'dates', from: '2026-10-01', to: '2026-10-31' } as Look,
      saves: 1,
    });
    await server.draws();
    await waitFor(() => expect(server.asked).toHaveLength(4));
    expect(server.counts).toBe(2);
  });
});
