import type { z } from 'zod';

export interface Choice<T extends string | number> {
  value: T;
  label: string;
}

/** How a setting is asked for: plain data, which forms draw their fields from. */
export type SettingField<T extends string | number = string | number> =
  | { kind: 'text'; placeholder: string }
  | { kind: 'date' }
  /** One of these; `many`: so many that one searches among them; `from`: what the server offers beside them. */
  | { kind: 'choice'; options: readonly Choice<T>[]; many: boolean; from?: 'calendars' };

/** One thing that is set for a client: how it is asked for, what is accepted, and what stands where nothing was said. */
export interface Setting<T extends string | number> {
  label: string;
  hint?: string;
  field: SettingField<T>;
  schema: z.ZodType<T>;
  /** Of clients that are older than the setting. */
  otherwise: T;
  /** What is made of a stored value that today's rules would not take. */
  mend?: (stored: T) => T;
}

/** A client's setting; see `registry.ts` for how one is added. */
export const defineSetting = <T extends string | number>(setting: Setting<T>): Setting<T> => setting;
