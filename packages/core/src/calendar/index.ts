export * from './boundedDates.ts';
export * from './civilDate.ts';
export * from './comparisons.ts';
export * from './joinRanges.ts';
export * from './periods.ts';
export * from './recurrence.ts';
export * from './workingDays.ts';
export * from './zones.ts';
