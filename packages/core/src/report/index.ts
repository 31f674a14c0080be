export { type Block, blockKind, blockMetrics, blockSchema } from './blocks/registry.ts';
export type * from './blocks/sheet.ts';
export * from './brand.ts';
export * from './document.ts';
export * from './mergeFields.ts';
export * from './specs.ts';
export * from './starters.ts';
