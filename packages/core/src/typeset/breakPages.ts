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

/** What the foot of a page holds: so many notes, and in place of more of them one sentence of this height. */
export interface NoteRules {
  /** What parts notes from the flow above them. */
  gap: number;
  most: number;
  more: number;
}

/** Height of the foot of a page with the notes of some items, each said once. */
function footOf(notes: ReadonlyMap<string, number>, { gap, most, more }: NoteRules): number {
  if (notes.size === 0) return 0;
  if (notes.size > most) return gap + more;
  let height = gap;
  for (const h of notes.values()) height += h;
  return height;
}

/**
 * Where pages end, chosen for the whole flow at once, so that there are as few as may be and they end as evenly as may be,
 * none after an item that keeps with the next where the next has room beside it (Knuth and Plass 1981, as for lines of a
 * paragraph). An item that is taller than a page stands alone on one.
 * @param first room on the first page, `further` on each other
 * @returns the place of the first item of each page, ascending; empty for no items
 */
export function breakPages(items: readonly FlowItem[], first: number, further: number, rules: NoteRules): number[] {
  const n = items.length;
  // best[i]: of all ways to set the items before i, i beginning a page.
  const best: { cost: number; from: number }[] = [{ cost: 0, from: -1 }];
  for (let end = 1; end <= n; end++) best.push({ cost: Number.POSITIVE_INFINITY, from: -1 });
  for (let from = 0; from < n; from++) {
    const before = best[from]!.cost;
    if (before === Number.POSITIVE_INFINITY) continue;
    const room = from === 0 ? first : further;
    const notes = new Map<string, number>();
    let used = from === 0 ? 0 : items[from]!.again;
    let shrink = 0;
    for (let end = from + 1; end <= n; end++) {
      const item = items[end - 1]!;
      const gap = end - 1 > from ? items[end - 2]!.after : 0;
      used += item.height + gap;
      shrink += item.shrink + gap * GAP_SHRINK;
      for (const note of item.notes) notes.set(note.text, note.height);
      const foot = footOf(notes, rules);
      const over = used + foot - room;
      // What is taller than a page stands alone on one.
      if (over > shrink + 1e-6 && end > from + 1) {
        // One more note may make the foot lower: then a sentence stands for all of them.
        if (used - room > shrink + 1e-6) break;
        continue;
      }
      const share = Math.min(1, (used + foot) / room);
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
