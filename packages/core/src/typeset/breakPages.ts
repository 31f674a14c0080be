/** A stretch of the flow between two places at which a page may end. Points. */
export interface FlowItem {
  height: number;
  /** Space to the next item; nothing where a page ends between them. */
  after: number;
  /** How bad it is to end a page after it: 0 is as good as any, infinite is never. */
  penalty: number;
  /** What is drawn once more above it where it begins a page: the head of a table, say. */
  again: number;
  /** Points by which it may be lower, where a page needs room. */
  shrink: number;
  /** What stands at the foot of its page, each once for a page, with its height. */
  notes: readonly { text: string; height: number }[];
}

/** Each page more costs more than all unevenness; what should never be, more than any number of pages. */
const PAGE = 1_000;
const NEVER = 1e8;
/** A last page with less on it than this share looks forgotten, as bad as one before it that is three quarters empty. */
const FORGOTTEN = 0.12;
const FORGOTTEN_COST = 60;

/** Of the space between two items, what a page that needs room may take. */
export const GAP_SHRINK = 0.3;

/** Height of the notes of items, each said once. */
function addNotes(seen: Set<string>, notes: FlowItem['notes']): number {
  let height = 0;
  for (const note of notes) {
    if (seen.has(note.text)) continue;
    seen.add(note.text);
    height += note.height;
  }
  return height;
}

/**
 * Where pages end, chosen for the whole flow at once, so that there are as few as may be and they end as evenly as may be,
 * none after an item that keeps with the next where the next has room beside it (Knuth and Plass 1981, as for lines of a
 * paragraph). An item that is taller than a page stands alone on one.
 * @param first room on the first page, `further` on each other; `noteGap` is what parts notes from the flow above them
 * @returns the place of the first item of each page, ascending; empty for no items
 */
export function breakPages(items: readonly FlowItem[], first: number, further: number, noteGap: number): number[] {
  const n = items.length;
  // best[i]: of all ways to set the items before i, i beginning a page.
  const best: { cost: number; from: number }[] = [{ cost: 0, from: -1 }];
  for (let end = 1; end <= n; end++) best.push({ cost: Number.POSITIVE_INFINITY, from: -1 });
  for (let from = 0; from < n; from++) {
    const before = best[from]!.cost;
    if (before === Number.POSITIVE_INFINITY) continue;
    const room = from === 0 ? first : further;
    const seen = new Set<string>();
    let notes = 0;
    let used = from === 0 ? 0 : items[from]!.again;
    let shrink = 0;
    for (let end = from + 1; end <= n; end++) {
      const item = items[end - 1]!;
      const gap = end - 1 > from ? items[end - 2]!.after : 0;
      used += item.height + gap;
      shrink += item.shrink + gap * GAP_SHRINK;
      notes += addNotes(seen, item.notes);
      const over = used + (notes > 0 ? notes + noteGap : 0) - room;
      // What is taller than a page stands alone on one.
      if (over > shrink + 1e-6 && end > from + 1) break;
      const share = Math.min(1, (used + notes) / room);
      const isLast = end === n;
      const loose = isLast ? (share < FORGOTTEN && n > 1 ? FORGOTTEN_COST : 0) : 100 * (1 - share) ** 2;
      const uneven = over > 0 && shrink > 0 ? 100 * Math.min(1, over / shrink) ** 2 : loose;
      const penalty = isLast ? 0 : Math.min(NEVER, item.penalty);
      const cost = before + PAGE + uneven + penalty;
      if (cost < best[end]!.cost) best[end] = { cost, from };
    }
  }
  const starts: number[] = [];
  for (let at = n; at > 0; at = best[at]!.from) starts.unshift(best[at]!.from);
  return starts;
}
