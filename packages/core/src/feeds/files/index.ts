export * from './cell.ts';
export * from './dates.ts';
export * from './inspect.ts';
export * from './mapping.ts';
export * from './numbers.ts';
export * from './rowReader.ts';
export * from './table.ts';
export * from './tableSchema.ts';
