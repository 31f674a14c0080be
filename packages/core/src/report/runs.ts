import {
  type ComparisonSpec,
  type Exception,
  occurrencesAhead,
  type PeriodSpec,
  type Range,
  type Recurrence,
} from '../calendar/index.ts';
import { type DatesOfClient, settleDates } from './settleDates.ts';

/** One run of a schedule: when it is sent, and which dates it covers. */
export interface Run {
  /** The unmoved date: part of its edition's identity. */
  nominal: string;
  /** The date it runs on, after the working-day rule, or where a person moved it. */
  runsOn: string;
  /** The instant at which it is sent, UTC ISO text. */
  at: string;
  period: Range;
  compared: Range | null;
}

/** The period that a run covers: what was said of it alone, or what its schedule says. */
export const periodOfRun = (period: PeriodSpec, exception: Exception | undefined): PeriodSpec =>
  exception?.covers ? { kind: 'fixed', ...exception.covers } : period;

/**
 * The runs of a schedule after an instant, soonest first: all up to `until`, inclusive, and at least `least` if there are
 * so many.
 */
export const runsOf = (
  recurrence: Recurrence,
  spec: { period: PeriodSpec; comparison: ComparisonSpec },
  client: DatesOfClient,
  span: { after: string; until: string; least: number },
): Run[] =>
  occurrencesAhead(recurrence, span).map(({ nominal, runs, at }) => {
    const asked = periodOfRun(spec.period, recurrence.exceptions[nominal]);
    const { period, compared } = settleDates(asked, spec.comparison, nominal, client);
    return { nominal, runsOn: runs, at: new Date(at).toISOString(), period, compared };
  });
