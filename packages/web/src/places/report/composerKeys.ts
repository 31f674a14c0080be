import type { Act } from './BlockActs.tsx';

/** What a key asks for in the composer; null for nothing of ours. */
export type Asked =
  | { act: Act }
  | { step: -1 | 1; more: boolean }
  | { do: 'paste' | 'cut' | 'all' | 'report' | 'undo' | 'redo' | 'palette' };

/** Where keys write, they are not ours. */
const WRITES = 'input, textarea, select, [contenteditable="true"], [role="dialog"], [role="listbox"], [role="menu"]';

const ARROWS: Record<string, Act> = { ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'left', ArrowRight: 'right' };
const WIDER: Record<string, Act> = { ArrowLeft: 'narrower', ArrowRight: 'wider' };
const WITH_MOD: Record<string, Asked> = {
  d: { act: 'duplicate' },
  c: { act: 'copy' },
  x: { do: 'cut' },
  v: { do: 'paste' },
  a: { do: 'all' },
};

type Key = Pick<KeyboardEvent, 'key' | 'altKey' | 'shiftKey' | 'ctrlKey' | 'metaKey'>;

/** Alt moves, with Shift it sets columns; arrows alone choose; the usual letters copy, paste and take back. */
export function askedBy({ key, altKey, shiftKey, ctrlKey, metaKey }: Key): Asked | null {
  const mod = ctrlKey || metaKey;
  const letter = key.toLowerCase();
  if (mod && !altKey) {
    if (letter === 'z') return { do: shiftKey ? 'redo' : 'undo' };
    if (letter === 'y') return { do: 'redo' };
    return shiftKey ? null : (WITH_MOD[letter] ?? null);
  }
  if (mod) return null;
  if (altKey) {
    const act = shiftKey
      ? WIDER[key]
      : (ARROWS[key] ?? { PageUp: 'pageBack' as const, PageDown: 'pageOn' as const }[key]);
    return act ? { act } : null;
  }
  if (key === 'ArrowUp' || key === 'ArrowDown') return { step: key === 'ArrowUp' ? -1 : 1, more: shiftKey };
  if (shiftKey) return null;
  if (key === 'Delete' || key === 'Backspace') return { act: 'remove' };
  if (key === 'Escape') return { do: 'report' };
  if (letter === 'b') return { do: 'palette' };
  return null;
}

/**
 * Whether a letter alone counts: where outline or sheets have the focus, and nowhere else (WCAG 2.2 SC 2.1.4); and whether
 * copying is the browser's, since words are marked.
 */
export const isAmongBlocks = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('.outline, .desk-well') !== null;
export const hasMarkedWords = (): boolean => window.getSelection()?.isCollapsed === false;

/** Whether a key goes to a field, a list or a dialog. */
export const isWriting = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest(WRITES) !== null;
