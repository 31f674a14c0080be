import {
  addDays,
  type ComparisonSpec,
  occurrences,
  type PeriodSpec,
  type Range,
  type Recurrence,
} from '../calendar/index.ts';
import { type DatesOfClient, settleDates } from './settleDates.ts';

/** One run of a schedule: when it is sent, and which dates it covers. */
export interface Run {
  /** The unmoved date: part of its edition's identity. */
  nominal: string;
  /** The date it runs on, after the working-day rule. */
  runsOn: string;
  /** The instant at which it is sent, UTC ISO text. */
  at: string;
  period: Range;
  compared: Range | null;
}

/** A moved run may lie up to two weeks from its unmoved date. */
const SLACK = 15;

/**
 * The runs of a schedule after an instant, soonest first: all up to `until`, inclusive, and at least `least` if there are
 * so many.
 */
export function runsOf(
  recurrence: Recurrence,
  spec: { period: PeriodSpec; comparison: ComparisonSpec },
  client: DatesOfClient,
  span: { after: string; until: string; least: number },
): Run[] {
  const after = Date.parse(span.after);
  const until = Date.parse(span.until);
  const lastUnmoved = addDays(new Date(until).toISOString().slice(0, 10), SLACK);
  const found: Run[] = [];
  for (const o of occurrences(recurrence, addDays(new Date(after).toISOString().slice(0, 10), -SLACK))) {
    if (o.nominal > lastUnmoved && found.length >= span.least) break;
    const at = Date.parse(o.at);
    if (at <= after) continue;
    const { period, compared } = settleDates(spec.period, spec.comparison, o.nominal, client);
    found.push({ nominal: o.nominal, runsOn: o.runs, at: new Date(at).toISOString(), period, compared });
  }
  found.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  const within = found.filter((r) => Date.parse(r.at) <= until).length;
  return found.slice(0, Math.max(within, span.least));
}
