import { useEffect, useRef } from 'react';
import type { Document } from './documentEdits.ts';
import type { Selection } from './useSelection.ts';

/** Keeps the keyboard in the outline with what is chosen: what has the focus may move, or be taken away, under it. */
export function useOutlineFocus(selection: Selection, edited: Document): void {
  const last = selection.blocks.at(-1) ?? null;
  /** Whether the keyboard is in the outline. */
  const inOutline = useRef(false);
  useEffect(() => {
    const seen = (e: FocusEvent) => {
      inOutline.current = (e.target as Element).closest('.outline') !== null;
    };
    window.addEventListener('focusin', seen);
    return () => window.removeEventListener('focusin', seen);
  }, []);
  const wanted = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is edited may have taken the focus along
  useEffect(() => {
    const chosenNow = `${last} ${selection.page}`;
    const at = document.activeElement;
    const lost = at === null || at === document.body;
    const moved = wanted.current !== chosenNow;
    wanted.current = chosenNow;
    if (!inOutline.current || (!lost && !moved)) return;
    const place =
      last !== null ? `[data-block="${last}"]` : selection.page !== null ? `[data-page="${selection.page}"]` : '.whole';
    const found = document.querySelector<HTMLElement>(`.outline ${place}`);
    (found ?? document.querySelector<HTMLElement>('.outline .whole'))?.focus();
  }, [last, selection.page, edited]);
}
