import { type CivilDate, minDate, toDayNumber } from '@chronicon/core/calendar';
import { type Coverage, coverageOf } from '@chronicon/core/figures';
import type { CoveredShape } from './factReader.ts';

/** A dataset with what it needs to be read together with its like of other feeds. */
export interface Member extends CoveredShape {
  family: string;
  feedName: string;
  /** The last day that a removed feed brought. */
  ended: CivilDate | null;
}

/** The dimension by which figures of several feeds are told apart. */
export const FEED = 'feed';

/** Days that every member has delivered; one is not asked for days before its first or after its end. */
function coveredByAll(members: readonly Member[]): Coverage {
  const edges = members.flatMap((m) => m.covered.flat());
  if (edges.length === 0) return [];
  const [first, last] = [Math.min(...edges), Math.max(...edges)];
  const lacking = new Uint8Array(last - first + 1);
  for (const m of members) {
    const from = Math.max(first, toDayNumber(m.firstDay));
    const to = m.ended === null ? last : Math.min(last, toDayNumber(m.ended));
    const has = new Uint8Array(lacking.length);
    for (const [a, b] of m.covered) has.fill(1, a - first, b - first + 1);
    for (let day = from; day <= to; day++) if (has[day - first] === 0) lacking[day - first] = 1;
  }
  const days: number[] = [];
  const begins = Math.min(...members.map((m) => toDayNumber(m.firstDay)));
  for (let i = 0; i < lacking.length; i++) if (lacking[i] === 0 && first + i >= begins) days.push(first + i);
  return coverageOf(days);
}

const union = (lists: readonly (readonly string[])[]): string[] => [...new Set(lists.flat())];

function spanned(members: readonly Member[]): CoveredShape {
  const [first] = members;
  if (members.length === 1) return first!;
  return {
    id: members.map((m) => m.id).join('+'),
    feedId: first!.feedId,
    key: first!.key,
    name: first!.name,
    firstDay: members.map((m) => m.firstDay).reduce(minDate),
    dimensions: union([[FEED], ...members.map((m) => m.dimensions)]),
    measures: union(members.map((m) => m.measures)),
    covered: coveredByAll(members),
    feeds: members.length,
    members,
  };
}

/**
 * Datasets as questions see them: those of one family, of several feeds of a client, as one, with the feed as one more
 * dimension. The others stand alone.
 */
export function spanFamilies(datasets: readonly Member[]): CoveredShape[] {
  const families = new Map<string, Member[]>();
  for (const d of datasets) {
    const key = d.family === '' ? d.id : d.family;
    families.set(key, [...(families.get(key) ?? []), d]);
  }
  return [...families.values()].map(spanned);
}
