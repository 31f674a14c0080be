export * from './deliveryStatus.ts';
export * from './holds.ts';
export * from './identity.ts';
export * from './messageId.ts';
export * from './missed.ts';
export * from './retry.ts';
export * from './returnPath.ts';
export * from './states.ts';
