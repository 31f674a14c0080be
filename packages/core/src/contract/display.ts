import { en } from '../words/en.ts';

/** What screens need to write figures as pages do: the numbers, the change and its verdict, the reasons in words. */
export { readTyped, type TypedNumber } from '../feeds/files/typedNumber.ts';
export { type Change, changeOf, isTold } from '../figures/change.ts';
export { PATIENCE_HOURS } from '../report/patienceHours.ts';
export { type Agreement, agree, printedPoints } from '../words/agree.ts';
export { type Axis, axisOf } from '../words/axis.ts';
export { fullStop } from '../words/fullStop.ts';
export { measureName } from '../words/measureName.ts';
export { createNumbers, type Numbers } from '../words/numbers.ts';

export { ROLES, type Role } from './roles.ts';

export const REASONS = en.reasons;
