import type { Laid } from './block.ts';

const GAP = 14;

/** Parts of one block, one beneath the other; divided between them, and where they may be themselves. */
export function stack(parts: readonly Laid[]): Laid {
  if (parts.length === 1) return parts[0]!;
  const tops = parts.map((_, i) => parts.slice(0, i).reduce((sum, p) => sum + p.height + GAP, 0));
  const pieces = parts.flatMap((part, i) => {
    const last = i === parts.length - 1;
    const own = part.pieces;
    const heights = own ? own.heights : [part.height];
    return heights.map((height, piece) => ({
      part: i,
      piece,
      height: height + (piece === heights.length - 1 && !last ? GAP : 0),
      penalty: piece === heights.length - 1 ? 0 : own!.penalties[piece]!,
      again: own?.again ?? 0,
    }));
  });
  const name = parts[0]?.name;
  return {
    height: parts.reduce((sum, p) => sum + p.height, GAP * (parts.length - 1)),
    ...(name !== undefined && { name }),
    draw(pen, x, y) {
      parts.forEach((p, i) => {
        p.draw(pen, x, y + tops[i]!);
      });
    },
    pieces: {
      heights: pieces.map((p) => p.height),
      penalties: pieces.map((p) => p.penalty),
      // What begins a page within a part has that part's head once more; one head is as high as another.
      again: Math.max(...pieces.map((p) => p.again)),
      cut: (from, to) => {
        const kept = pieces.slice(from, to);
        const each = parts.flatMap((part, i) => {
          const own = kept.filter((p) => p.part === i);
          if (own.length === 0) return [];
          const all = part.pieces?.heights.length ?? 1;
          return [own.length === all ? part : part.pieces!.cut(own[0]!.piece, own.at(-1)!.piece + 1)];
        });
        return stack(each);
      },
    },
  };
}
