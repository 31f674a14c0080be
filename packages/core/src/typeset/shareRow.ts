/** A block's place in a row of the page: which one of the row it is, where it begins, and how wide it is, in points. */
export interface Place {
  index: number;
  x: number;
  width: number;
}

/** What a block wants of its row. */
export interface RowWish {
  /** Narrower than this, in points, it cannot live. */
  least: number;
  /** Columns of the page; left out, an even share of what the others leave. */
  columns?: number | undefined;
}

/** The grid on which rows stand: the width of the page and the gap between columns, in points, and their number. */
export interface Grid {
  room: number;
  gap: number;
  columns: number;
}

/** The width of so many columns side by side, the gaps between them included. */
export const columnsWidth = ({ room, gap, columns }: Grid, n: number): number => {
  const one = (room - gap * (columns - 1)) / columns;
  return n * one + (n - 1) * gap;
};

/** Columns without which a block that shares evenly has no room beside others. */
const EVEN_LEAST = 2;

/**
 * A row in as many lines as its columns need: what has no room beside those before it begins the next.
 * @returns places of the row, line by line; `fills` where the line was meant to take the whole width
 */
export function linesOfRow(
  wishes: readonly Pick<RowWish, 'columns'>[],
  columns: number,
): { places: number[]; fills: boolean }[] {
  const lines: { places: number[]; fills: boolean }[] = [];
  let used = Number.POSITIVE_INFINITY;
  wishes.forEach((wish, i) => {
    const wanted = wish.columns ?? EVEN_LEAST;
    if (used + wanted > columns) {
      lines.push({ places: [], fills: false });
      used = 0;
    }
    used += wanted;
    const line = lines.at(-1)!;
    line.places.push(i);
    line.fills ||= wish.columns === undefined || used === columns;
  });
  return lines;
}

interface Asking {
  least: number;
  index: number;
  /** Points that it would have if everybody could live so. */
  wished: number;
}

/** The width that each block of a line would have, in points. */
export function wishedWidths(wishes: readonly Pick<RowWish, 'columns'>[], grid: Grid, fills: boolean): number[] {
  const { room, gap } = grid;
  const free = room - gap * (wishes.length - 1);
  const said = wishes.map((w) => (w.columns === undefined ? null : columnsWidth(grid, w.columns)));
  const taken = said.reduce<number>((sum, w) => sum + (w ?? 0), 0);
  const even = said.filter((w) => w === null).length;
  if (even > 0) {
    const each = Math.max(0, free - taken) / even;
    return said.map((w) => w ?? each);
  }
  // What is left of a line that was full widens.
  const by = fills && taken > 0 ? free / taken : 1;
  return said.map((w) => w! * by);
}

/**
 * Divides the width of a page among the blocks of a line. Each gets what it wishes where all can live in that; else those
 * that need more get what they need and the others share the rest as they would have shared the whole; where the line is
 * too narrow for all of them, the one that needs most takes a line of its own, and its neighbours stay in their order before
 * and after it.
 * @param fills whether the line takes the whole width
 * @returns lines from the top; each block stands in exactly one
 */
export function shareRow(wishes: readonly RowWish[], grid: Grid, fills = true): Place[][] {
  const wished = wishedWidths(wishes, grid, fills);
  return divide(
    wishes.map(({ least }, index) => ({ least, index, wished: wished[index]! })),
    grid,
  );
}

function divide(blocks: readonly Asking[], grid: Grid): Place[][] {
  if (blocks.length === 0) return [];
  const { room, gap } = grid;
  const free = room - gap * (blocks.length - 1);
  if (blocks.reduce((sum, b) => sum + Math.max(b.least, 0), 0) <= free)
    return [placed(blocks, fill(blocks, free), gap)];
  if (blocks.length === 1) return [placed(blocks, [room], gap)];
  const most = blocks.reduce((a, b) => (b.least > a.least ? b : a));
  const at = blocks.indexOf(most);
  return [...whole(blocks.slice(0, at), grid), placed([most], [room], gap), ...whole(blocks.slice(at + 1), grid)];
}

/** Blocks beside which others have gone: they have the whole width. */
function whole(blocks: readonly Asking[], grid: Grid): Place[][] {
  const free = grid.room - grid.gap * (blocks.length - 1);
  const sum = blocks.reduce((n, b) => n + b.wished, 0);
  return divide(
    blocks.map((b) => ({ ...b, wished: sum > 0 ? (b.wished / sum) * free : free / blocks.length })),
    grid,
  );
}

/** Widths that come to no more than `free`: as wished as what each needs allows. */
function fill(blocks: readonly Asking[], free: number): number[] {
  const fixed = new Set<number>();
  for (;;) {
    const rest = blocks.filter((b) => !fixed.has(b.index));
    const taken = blocks.reduce((sum, b) => sum + (fixed.has(b.index) ? b.least : 0), 0);
    const wished = rest.reduce((sum, b) => sum + b.wished, 0);
    const by = wished > 0 ? Math.min(1, (free - taken) / wished) : 1;
    const needy = rest.filter((b) => b.least > b.wished * by);
    if (needy.length === 0) return blocks.map((b) => (fixed.has(b.index) ? b.least : b.wished * by));
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
