export { decodeChunk, encodeChunk } from './chunkCodec.ts';
export { type ColumnCache, createColumnCache } from './columnCache.ts';
export { datasetsOf, inSnapshot, pastsOf, readNeeds } from './factReader.ts';
export * from './factStore.ts';
export type { FactTables } from './schema.ts';
