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

/** The kind of service that a dataset is of, and its name there; a dataset that stands alone is of none. */
const kindOf = ({ family }: Member): string => family.slice(0, Math.max(0, family.indexOf('.')));

/** What every one of them has. */
const shared = (lists: readonly (readonly string[])[]): string[] =>
  (lists[0] ?? []).filter((x) => lists.every((l) => l.includes(x)));

/** For each feed of a kind that measures something, the first of its datasets that does. */
function bringing(measure: string, members: readonly Member[]): Member[] {
  const found = new Map<string, Member>();
  for (const m of members) if (m.measures.includes(measure) && !found.has(m.feedId)) found.set(m.feedId, m);
  return [...found.values()];
}

/**
 * Measures that feeds of one kind bring in datasets of different names, as two services do: each such set of datasets as one,
 * with the dimensions that all of them have. @returns those, and the measures of each dataset that they take over
 */
function acrossNames(members: readonly Member[]): { joined: CoveredShape[]; taken: Map<string, string[]> } {
  const groups = new Map<string, { members: Member[]; measures: string[] }>();
  const taken = new Map<string, string[]>();
  // What is known of whole weeks or months is no part of what is known of days.
  const daily = members.filter((m) => (m.grain ?? 'day') === 'day');
  for (const measure of union(daily.map((m) => m.measures))) {
    const brought = bringing(measure, daily);
    if (brought.length < 2) continue;
    const having = daily.filter((m) => m.measures.includes(measure));
    /** Whether datasets of its name are there of every feed that brings the measure: together they are the whole already. */
    const isWhole = (family: string) =>
      brought.every((b) => having.some((m) => m.feedId === b.feedId && m.family === family));
    const parts = having.filter((m) => !isWhole(m.family));
    for (const m of parts) taken.set(m.id, [...(taken.get(m.id) ?? []), measure]);
    if (parts.length < having.length) continue;
    const key = brought.map((m) => m.id).join('+');
    const group = groups.get(key) ?? { members: brought, measures: [] };
    group.measures.push(measure);
    groups.set(key, group);
  }
  const joined = [...groups.values()].map(({ members: own, measures }): CoveredShape => {
    const whole = spanned(own);
    // A second one of the same datasets, beside the one of their names, is another one to whoever reads it.
    return { ...whole, id: `${whole.id}+`, measures, dimensions: [FEED, ...shared(own.map((m) => m.dimensions))] };
  });
  return { joined, taken };
}

/** The datasets of one kind of service, of several feeds of a client as one, with the feed as one more dimension. */
function spannedKind(members: readonly Member[]): CoveredShape[] {
  const { joined, taken } = acrossNames(members);
  const byName = new Map<string, Member[]>();
  for (const m of members) byName.set(m.family, [...(byName.get(m.family) ?? []), m]);
  const named = [...byName.values()].map((own): CoveredShape => {
    const others = union(own.map((m) => taken.get(m.id) ?? []));
    return others.length > 0 ? { ...spanned(own), shared: others } : spanned(own);
  });
  return [...joined, ...named];
}

/**
 * Datasets as questions see them: those of several feeds of one kind of a client are read together (SEMANTICS §4). The others
 * stand alone.
 */
export function spanFamilies(datasets: readonly Member[]): CoveredShape[] {
  const kinds = new Map<string, Member[]>();
  for (const d of datasets) {
    const key = kindOf(d) || d.id;
    kinds.set(key, [...(kinds.get(key) ?? []), d]);
  }
  return [...kinds.values()].flatMap(spannedKind);
}
