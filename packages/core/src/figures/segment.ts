import type { FilterPart } from './filterPart.ts';

/** Stands among the parts of a filter for segments, whose values are their ids: each of them has to hold. */
export const SEGMENT = 'segment';

/** A named filter of a client, or of the agency for all clients. */
export interface Segment {
  id: string;
  name: string;
  parts: readonly FilterPart[];
}

/** The parts of a filter with those of its segments in their place, and the ids of segments that are no longer there. */
export function withSegments(
  parts: readonly FilterPart[],
  segments: readonly Segment[],
): { parts: FilterPart[]; gone: string[] } {
  const gone: string[] = [];
  const settled = parts.flatMap((part): FilterPart[] => {
    if (part.dimension !== SEGMENT) return [part];
    return part.values.flatMap((id) => {
      const found = segments.find((s) => s.id === id);
      if (!found) gone.push(id);
      // One does not stand for another: a segment within a segment is nothing.
      return found?.parts.filter((p) => p.dimension !== SEGMENT) ?? [];
    });
  });
  return { parts: settled, gone };
}
