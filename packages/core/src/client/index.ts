export * from './guard.ts';
export * from './registry.ts';
export type { Choice, Setting, SettingField } from './setting.ts';
