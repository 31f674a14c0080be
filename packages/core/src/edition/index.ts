export * from './messageId.ts';
export * from './missed.ts';
export * from './retry.ts';
export * from './states.ts';
