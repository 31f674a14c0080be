export * from './files/index.ts';
export * from './fingerprint.ts';
export * from './match.ts';
export * from './pause.ts';
export * from './quota.ts';
