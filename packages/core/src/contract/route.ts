import './plainWords.ts';
import { z } from 'zod';
import { ROLES, type Role } from './roles.ts';

export { ROLES, type Role };

/** One route of the API. The table of all of them is the role table: what is not in it does not exist. */
export interface Route {
  /** What it is for, in one line; goes into the OpenAPI description. */
  about: string;
  /** Who may enter; `open` needs no session. */
  roles: readonly Role[] | 'open';
  body: z.ZodType;
  query: z.ZodType;
  reply: z.ZodType;
}

type Part = z.ZodType | undefined;
type Or<T, F extends z.ZodType> = T extends z.ZodType ? T : F;
type Nothing = z.ZodObject<Record<never, never>, z.core.$strip>;

export const nothing: Nothing = z.object({});

/** A route with types of its own; body and query default to nothing. */
export function route<R extends z.ZodType, B extends Part = undefined, Q extends Part = undefined>(r: {
  about: string;
  roles: readonly Role[] | 'open';
  reply: R;
  body?: B;
  query?: Q;
}): { about: string; roles: readonly Role[] | 'open'; body: Or<B, Nothing>; query: Or<Q, Nothing>; reply: R } {
  return { ...r, body: r.body ?? nothing, query: r.query ?? nothing } as never;
}

export const EVERYONE: readonly Role[] = ROLES;
export const MAKERS: readonly Role[] = ['owner', 'manager', 'analyst'];
export const MANAGERS: readonly Role[] = ['owner', 'manager'];

/** What every refusal says: a sentence, and sentences for fields by their path (`readers`, `rule.weekdays`). */
export const errorReply = z.object({
  message: z.string(),
  fields: z.record(z.string(), z.string()).optional(),
  /** What the request is called in the server's log. */
  request: z.string().optional(),
});
export type ErrorReply = z.infer<typeof errorReply>;

export const range = z.object({ from: z.string(), to: z.string() });
export const done = z.object({ done: z.literal(true) });
