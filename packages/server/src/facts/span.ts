import { addDays, minDate } from '@chronicon/core/calendar';
import { FEED, type FeedPart, wholeCoverage } from '@chronicon/core/figures';
import type { CoveredShape, Member } from './coveredShape.ts';

/** The dataset that continues another one, if any does. */
const continuationOf = (m: Member, members: readonly Member[]): Member | undefined =>
  members.find((o) => o !== m && o.past.before === 'continues' && o.past.continues === m.feedId);

function partOf(m: Member): FeedPart {
  const lastDay = m.ended;
  return {
    feed: m.feedName,
    firstDay: m.firstDay,
    lastDay: m.until === null ? lastDay : lastDay === null ? m.until : minDate(lastDay, m.until),
    from: m.past.before === 'ran' ? null : m.firstDay,
    to: m.until ?? (m.past.after === 'ended' ? m.ended : null),
    covered: m.covered,
  };
}

const union = (lists: readonly (readonly string[])[]): string[] => [...new Set(lists.flat())];

function spanned(all: readonly Member[]): CoveredShape {
  const [first] = all;
  if (all.length === 1) return first!;
  const members = all.map((m): Member => {
    const next = continuationOf(m, all);
    return next ? { ...m, until: addDays(next.firstDay, -1) } : m;
  });
  const parts = members.map(partOf);
  return {
    id: members.map((m) => m.id).join('+'),
    feedId: first!.feedId,
    key: first!.key,
    name: first!.name,
    firstDay: members.map((m) => m.firstDay).reduce(minDate),
    dimensions: union([[FEED], ...members.map((m) => m.dimensions)]),
    measures: union(members.map((m) => m.measures)),
    covered: wholeCoverage(parts),
    parts,
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
