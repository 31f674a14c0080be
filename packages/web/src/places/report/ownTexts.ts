import { blockIn, type Draft, type Edit } from '@chronicon/core/contract/edits';

/** A field that holds words: of the report, of a page, or of a block. */
export interface TextField {
  /** Null for the report itself. */
  of: { page: string } | { block: string } | null;
  field: string;
}

/** Words of one's own in whose place somebody else's stand; null where what held them is gone. */
export interface Overwritten extends TextField {
  mine: string;
  theirs: string | null;
}

const keyOf = ({ of, field }: TextField): string => JSON.stringify([of, field]);

/** The words that an edit sets. */
function textsOf(edit: Edit): { field: TextField; text: string }[] {
  if (edit.op === 'title') return [{ field: { of: null, field: 'title' }, text: edit.title }];
  if (edit.op === 'namePage') return [{ field: { of: { page: edit.page }, field: 'title' }, text: edit.title }];
  if (edit.op !== 'setBlock') return [];
  return Object.entries(edit.set).flatMap(([field, text]) =>
    typeof text === 'string' ? [{ field: { of: { block: edit.block }, field }, text }] : [],
  );
}

/** What a field holds; null where it is gone. */
function textAt({ title, document }: Draft, { of, field }: TextField): string | null {
  if (of === null) return title;
  if ('page' in of) return document.pages.find((p) => p.id === of.page)?.title ?? null;
  const block = blockIn(document, of.block)?.block as Record<string, unknown> | undefined;
  return block ? String(block[field] ?? '') : null;
}

/** The edit that sets a field's words. */
export const settingText = ({ of, field }: TextField, text: string): Edit =>
  of === null
    ? { op: 'title', title: text }
    : 'page' in of
      ? { op: 'namePage', page: of.page, title: text }
      : { op: 'setBlock', block: of.block, set: { [field]: text } };

/** Words that were written so long ago are somebody else's to change without a word, in milliseconds. */
const LATELY = 10 * 60_000;

/** The words that one has written oneself lately, to tell when somebody else's come to stand in their place. */
export class OwnTexts {
  private readonly own = new Map<string, { field: TextField; text: string; at: number }>();

  /** Notes what one sets. @param at monotonic milliseconds */
  note(edits: readonly Edit[], at: number): void {
    for (const { field, text } of edits.flatMap(textsOf)) this.own.set(keyOf(field), { field, text, at });
  }

  /** Words of one's own that a draft no longer holds, each once. */
  lostTo(draft: Draft, at: number): Overwritten[] {
    const lost: Overwritten[] = [];
    for (const [key, { field, text, at: since }] of this.own) {
      const theirs = textAt(draft, field);
      if (theirs === text && at - since <= LATELY) continue;
      this.own.delete(key);
      if (theirs !== text && at - since <= LATELY && text.trim() !== '') lost.push({ ...field, mine: text, theirs });
    }
    return lost;
  }
}
