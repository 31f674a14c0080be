import { type CivilDate, civilDateAt, type Range } from '@chronicon/core/calendar';
import type { FiguresQuery } from '@chronicon/core/contract';
import {
  byCodePoint,
  type Exclusion,
  FEED,
  type Filter,
  type FilterPart,
  filterOf,
  type Knowledge,
  SEGMENT,
  withSegments,
} from '@chronicon/core/figures';
import type { CoveredShape } from '../facts/coveredShape.ts';
import { labelsOf } from '../facts/reported.ts';
import type { SyncTools } from '../feeds/sync.ts';
import { uniquesFor } from '../feeds/uniques.ts';
import { atField } from '../platform/refusal.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import type { StoredClient } from '../store/clients.ts';
import { conversionsAt } from '../store/conversions.ts';
import { notesOf } from '../store/dayNotes.ts';
import { exclusionsOf, namedExclusion, plainExclusion } from '../store/excludedDays.ts';
import { feedsOf } from '../store/feeds.ts';
import { segmentsOf } from '../store/segments.ts';
import type { Store } from '../store/store.ts';
import { targetsOf } from '../store/targets.ts';
import { underAssumptions } from './assumptions.ts';
import { planFigures } from './plan.ts';
import { type Basis, knowledgeOf } from './reading.ts';
import type { FiguresView } from './reply.ts';
import { type FiguresPlan, questionsOfPlan } from './viewQuestions.ts';

const MOST_LABELS = 20_000;

export interface ClientFigures {
  /** With the days that are left out, so that dates are settled without them. */
  client: StoredClient & { excluded: Exclusion[] };
  basis: Basis;
  knowledge: Knowledge;
  today: CivilDate;
}

/** What a client's figures are asked of. */
export async function figuresOf(tools: SyncTools, asked: StoredClient): Promise<ClientFigures> {
  const excluded = (await exclusionsOf(tools.store, asked.id)).map(plainExclusion);
  const client = { ...(await underAssumptions(tools.store, asked)), excluded };
  const targets = await targetsOf(tools.store, client.id);
  const { holidays } = await agencyFor(tools.store, client);
  const basis = { clientId: client.id, metrics: client.metrics, targets, holidays, excluded };
  return {
    client,
    basis,
    knowledge: knowledgeOf(basis),
    today: civilDateAt(tools.clock.now(), client.zone),
  };
}

/** @throws Refusal at `metrics` for one that the client does not have */
export function checkMetrics(keys: readonly string[], { knowledge }: ClientFigures, field = 'metrics'): void {
  const unknown = keys.find((key) => !knowledge.book.has(key));
  if (unknown) throw atField(field, `Unknown metric: ${unknown}.`);
}

/** Every label of a dimension that any of the client's datasets has. */
export async function allLabels(
  tools: Pick<SyncTools, 'facts'>,
  shapes: readonly CoveredShape[],
  dimension: string,
): Promise<string[]> {
  const found = new Set<string>();
  for (const shape of shapes.filter((s) => s.dimensions.includes(dimension))) {
    if (dimension === FEED) for (const { feed } of shape.parts ?? []) found.add(feed);
    // Of several feeds of a kind, what any of them has.
    for (const id of shape.members?.map((m) => m.id) ?? [shape.id]) {
      for (const label of await labelsOf(tools.facts, id, dimension, MOST_LABELS)) found.add(label);
    }
  }
  return [...found].sort(byCodePoint);
}

/** A filter as it is asked for, its segments in place. @throws Refusal at `filter` for a segment that is not there */
export async function settleFilter(tools: SyncTools, clientId: string, parts: readonly FilterPart[]): Promise<Filter> {
  const segments = parts.some((p) => p.dimension === SEGMENT) ? await segmentsOf(tools.store, clientId) : [];
  const settled = withSegments(parts, segments);
  if (settled.gone.length > 0) throw atField('filter', 'This segment was deleted: choose another.');
  return filterOf(settled.parts);
}

/** The exclusions of days that a view shows, with who left them out. */
async function exclusionsShown(db: Store, clientId: string, { period, compared }: FiguresPlan) {
  const touches = (e: Range) => [period, compared].some((r) => r && e.from <= r.to && e.to >= r.from);
  const own = (await exclusionsOf(db, clientId)).filter(touches);
  return Promise.all(own.map((e) => namedExclusion(db, e)));
}

/** Settles what the Figures place asks, and has what its services count over exactly these days counted. */
export async function viewOf(tools: SyncTools, figures: ClientFigures, query: FiguresQuery): Promise<FiguresView> {
  const { client, basis, knowledge, today } = figures;
  checkMetrics(query.metrics, figures);
  const plan = planFigures(client, today, query, await settleFilter(tools, client.id, query.filter));
  await uniquesFor(tools, client.id, questionsOfPlan(plan), knowledge);
  const { period } = plan;
  const notes = (await notesOf(tools.store, client.id)).filter((n) => n.from <= period.to && n.to >= period.from);
  const feeds = await feedsOf(tools.store, client.id);
  return {
    basis,
    plan,
    today,
    currency: client.currency,
    notes: notes.map(({ madeBy: _, ...n }) => n),
    exclusions: await exclusionsShown(tools.store, client.id, plan),
    conversions: await conversionsAt(tools.store, client),
    feeds: feeds.map(({ name, trouble }) => ({ name, trouble })),
  };
}
