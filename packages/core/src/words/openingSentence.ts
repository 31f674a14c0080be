import { changeOf, type Drivers, isKnown, isTold, type Metric, type Value } from '../figures/index.ts';
import { agree } from './agree.ts';
import { driverPieces } from './driverPieces.ts';
import type { Formatter } from './formatter.ts';
import { fullStop } from './fullStop.ts';
import type { PeriodWords } from './periodWords.ts';
import { fill } from './said.ts';
import { endedOrBegan, movedBy } from './told.ts';

export interface OpeningInput {
  metric: Metric;
  /** Its name in the sentence’s language. */
  label: string;
  current: Value;
  /** What it is compared with; null for nothing. */
  before: Value | null;
  /** How that is called. */
  against: PeriodWords & { isTarget: boolean };
  /** The change by parts; null where there are none. */
  drivers: Drivers | null;
  dimension: string;
}

/**
 * How it went, against what, and why, in one sentence: the figure as it stands in the tables, its change as it is judged there,
 * and the parts that brought it by the rules of the drivers (SEMANTICS §12).
 */
export function openingSentence(told: OpeningInput, format: Formatter): string {
  const { metric, label, current, before, against } = told;
  const { opening, reasons, labelled, aside, why } = format.words;
  if (!isKnown(current)) return fullStop(fill(labelled, { label, text: reasons[current.na] }));
  const change = before && changeOf(current, before, metric.unit, metric.polarity);
  const agreement = agree(current, before, change, metric.unit, format);
  const value = format.figure(current.value, metric.unit, agreement.more);
  const alone = fill(opening.alone, { metric: label, value });
  if (!before || !isKnown(before) || !change || !isTold(change))
    return fullStop(current.partial ? fill(aside, { text: alone, aside: reasons.partial }) : alone);
  const { title, during } = against;
  const said = {
    metric: label,
    value,
    title,
    during,
    against: against.against,
    before: format.figure(before.value, metric.unit, agreement.more),
  };
  if (change.verdict === 'steady' || !agreement.isTold) return fullStop(fill(opening.level, said));
  const ends = endedOrBegan(current, before, metric);
  // A target of nothing says little.
  if (ends === 'began') return fullStop(against.isTarget ? alone : fill(opening.began, said));
  if (ends === 'ended') return fullStop(fill(against.isTarget ? opening.endedTarget : opening.ended, said));
  if (change.places !== undefined) {
    const places = format.places(change.places);
    return because(fill(change.places > 0 ? opening.worse : opening.better, { ...said, places }));
  }
  const by = movedBy(change, metric, format, agreement);
  return because(fill(change.abs > 0 ? opening.up : opening.down, { ...said, by }));

  function because(head: string): string {
    const abs = change!.abs as number;
    const parts = told.drivers ? driverPieces(told.drivers, abs, metric, told.dimension, format) : '';
    return fullStop(parts === '' ? head : fill(why.because, { head, parts }));
  }
}
