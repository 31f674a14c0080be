import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type ApiError, call } from '../../api/call.ts';

const PAUSE_MS = 600;

export interface SavedText {
  block: string;
  from: string;
  to: string;
  text: string;
}

const keyOf = (k: Omit<SavedText, 'text'>) => `${k.block} ${k.from} ${k.to}`;

/**
 * Commentary as it is being written for single periods: kept here at once, at the server soon after. What could not be
 * saved stays, and is tried again with the next letter.
 */
export function useCommentary(report: string) {
  const client = useQueryClient();
  const [texts, setTexts] = useState<Record<string, SavedText>>({});
  const unsaved = useRef(new Map<string, SavedText>());
  /** As the server had it when it was last heard of. */
  const stored = useRef(new Map<string, string>());
  /** Words of others in whose place one's own stand. */
  const [over, setOver] = useState<readonly SavedText[]>([]);
  const [pending, setPending] = useState(false);
  const [error, setError] = useState<ApiError | null>(null);
  /** Raised by each save, so that the page is drawn anew. */
  const [saves, setSaves] = useState(0);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);

  const save = useCallback(async () => {
    const waiting = [...unsaved.current.values()];
    try {
      for (const { block, from, to, text } of waiting) {
        const { over } = await call('PUT /api/reports/:report/commentary', {
          params: { report },
          body: { block, from, to, text, before: stored.current.get(keyOf({ block, from, to })) },
        });
        stored.current.set(keyOf({ block, from, to }), text);
        if (over !== null) setOver((all) => [...all, { block, from, to, text: over }]);
        const now = unsaved.current.get(keyOf({ block, from, to }));
        if (now?.text === text) unsaved.current.delete(keyOf({ block, from, to }));
      }
      setError(null);
      setSaves((n) => n + 1);
      client.invalidateQueries({ queryKey: ['GET /api/reports/:report/release'] });
    } catch (e) {
      setError(e as ApiError);
    }
    setPending(unsaved.current.size > 0);
  }, [client, report]);

  useEffect(() => () => clearTimeout(timer.current), []);
  // Leaving the page with something unsaved asks first.
  useEffect(() => {
    if (!pending) return;
    const warn = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [pending]);

  const write = useCallback(
    (kept: SavedText, before: string) => {
      if (!stored.current.has(keyOf(kept))) stored.current.set(keyOf(kept), before);
      unsaved.current.set(keyOf(kept), kept);
      setTexts((all) => ({ ...all, [keyOf(kept)]: kept }));
      setPending(true);
      clearTimeout(timer.current);
      timer.current = setTimeout(save, PAUSE_MS);
    },
    [save],
  );
  const letGo = useCallback((words: SavedText) => setOver((all) => all.filter((o) => o !== words)), []);
  return useMemo(() => {
    const textOf = (block: string, period: { from: string; to: string }, stored: string): string =>
      texts[keyOf({ block, ...period })]?.text ?? stored;
    return { write, textOf, pending, error, saves, over, letGo };
  }, [write, texts, pending, error, saves, over, letGo]);
}
