export * from './aggregate.ts';
export * from './answer.ts';
export * from './assume.ts';
export * from './book.ts';
export * from './breakdown.ts';
export * from './byDay.ts';
export * from './change.ts';
export * from './columns.ts';
export * from './conversion.ts';
export * from './countedRange.ts';
export * from './coverage.ts';
export * from './dataset.ts';
export * from './drivers.ts';
export * from './excluded.ts';
export * from './feedPart.ts';
export * from './feedParts.ts';
export * from './filter.ts';
export * from './filterPart.ts';
export * from './form.ts';
export * from './formula/check.ts';
export * from './formula/evaluate.ts';
export * from './formula/knownMetrics.ts';
export * from './formula/parse.ts';
export { type Item, type Standing, TOLD_BESIDE } from './items.ts';
export * from './lacks.ts';
export * from './library/dimensions.ts';
export * from './library/library.ts';
export * from './metric.ts';
export * from './moneyMeasures.ts';
export { changeWithout, NOTHING_ODD, type Odd, type OddDayOf } from './oddAnswer.ts';
export * from './oddDays.ts';
export * from './order.ts';
export * from './pace.ts';
export { elapsed, type Pace } from './paceAnswer.ts';
export type { Peer, Peers } from './peersAnswer.ts';
export * from './picturesOf.ts';
export {
  type Against,
  type Answer,
  type Answers,
  answersAnything,
  dimensionsOf,
  type Knowledge,
  keyOf,
  metricsOf,
  type Question,
  rangeKey,
} from './questions.ts';
export * from './rhythm.ts';
export * from './segment.ts';
export * from './share.ts';
export { datasetOf, type Need, planReads } from './sources.ts';
export * from './steps.ts';
export * from './targets.ts';
export * from './uniqueAsks.ts';
export * from './value.ts';
export * from './why.ts';
