export * from './agree.ts';
export * from './formatter.ts';
export * from './locales.ts';
export * from './measureName.ts';
export * from './numbers.ts';
export * from './registry.ts';
export * from './whySentence.ts';
export * from './words.ts';
