/** A block's place in a row of the page: which one of the row it is, where it begins, and how wide it is, in points. */
export interface Place {
  index: number;
  x: number;
  width: number;
}

/**
 * Divides the width of a page among the blocks of a row. Each gets the same where all can live in that; else those that
 * need more get what they need and the others share the rest; where the row is too narrow for all of them, the one that
 * needs most takes a row of its own, and its neighbours stay in their order before and after it.
 * @param leasts the narrowest width of each block, in points
 * @returns rows from the top; each block stands in exactly one
 */
export function shareRow(leasts: readonly number[], room: number, gap: number): Place[][] {
  return divide(
    leasts.map((least, index) => ({ least, index })),
    room,
    gap,
  );
}

interface Asking {
  least: number;
  index: number;
}

function divide(blocks: readonly Asking[], room: number, gap: number): Place[][] {
  if (blocks.length === 0) return [];
  const free = room - gap * (blocks.length - 1);
  if (blocks.length === 1) return [placed(blocks, [room], gap)];
  if (blocks.reduce((sum, b) => sum + b.least, 0) <= free) return [placed(blocks, fill(blocks, free), gap)];
  const most = blocks.reduce((a, b) => (b.least > a.least ? b : a));
  const at = blocks.indexOf(most);
  return [
    ...divide(blocks.slice(0, at), room, gap),
    placed([most], [room], gap),
    ...divide(blocks.slice(at + 1), room, gap),
  ];
}

/** Widths that come to `free`: as even as what each needs allows. */
function fill(blocks: readonly Asking[], free: number): number[] {
  const fixed = new Set<number>();
  for (;;) {
    const rest = blocks.filter((b) => !fixed.has(b.index));
    const taken = blocks.reduce((sum, b) => sum + (fixed.has(b.index) ? b.least : 0), 0);
    const even = (free - taken) / Math.max(1, rest.length);
    const needy = rest.filter((b) => b.least > even);
    if (needy.length === 0) return blocks.map((b) => (fixed.has(b.index) ? b.least : even));
    for (const b of needy) fixed.add(b.index);
  }
}

function placed(blocks: readonly Asking[], widths: readonly number[], gap: number): Place[] {
  let x = 0;
  return blocks.map(({ index }, i) => {
    const place = { index, x, width: widths[i]! };
    x += place.width + gap;
    return place;
  });
}
