import type { Copied } from './documentEdits.ts';

/** Lies in the browser, so that what is copied can be pasted into another report, in another tab. */
const KEY = 'chronicon.copied';

/** Keeps what is copied. @returns false where the browser has no room for it */
export function keepCopied(copied: Copied): boolean {
  try {
    localStorage.setItem(KEY, JSON.stringify(copied));
    return true;
  } catch {
    return false;
  }
}

/** What was copied last; null for nothing that can be read. */
export function readCopied(): Copied | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Partial<Copied> | null;
    return kept && Array.isArray(kept.rows) && typeof kept.client === 'string' ? (kept as Copied) : null;
  } catch {
    return null;
  }
}
