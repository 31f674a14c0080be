export * from './formatter.ts';
export * from './locales.ts';
export * from './registry.ts';
export * from './words.ts';
