import type { RouteName, Routes } from '@chronicon/core/contract';
import type { z } from 'zod';
import type { Session } from '../access/sessions.ts';
import type { Scheduler } from '../scheduler/scheduler.ts';
import type { Tools } from '../scheduler/tools.ts';
import type { Written } from '../workers/written.ts';
import type { ReadThreads } from './reads/readThreads.ts';
import type { Unwell } from './unwell.ts';

/** What handlers work with. */
export interface Api extends Tools {
  scheduler: Scheduler;
  /** Reads what is of many clients at once. */
  reads: ReadThreads;
  /** Origins at which members reach this server: its address, and the one it was given. */
  origins: Set<string>;
}

/** The `:name` parts of a path. */
type Params<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? { [K in Name]: string } & Params<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? { [K in Name]: string }
    : Record<never, string>;

type PathOf<R extends string> = R extends `${string} ${infer Path}` ? Path : never;

export interface Request<R extends RouteName> {
  api: Api;
  params: Params<PathOf<R>>;
  body: z.output<Routes[R]['body']>;
  query: z.output<Routes[R]['query']>;
  /** Who asks; open routes are served without. */
  session: Routes[R]['roles'] extends 'open' ? null : Session;
  /** Where the request came from, and what the browser says of itself. */
  address: string;
  agent: string;
  /** Sets or takes away the session's cookie; that of the browser tells it from others where somebody signs in. */
  cookie: {
    token: string | null;
    browser: string | null;
    set(token: string | null): void;
    setBrowser(token: string): void;
  };
}

type Reply<R extends RouteName> = z.input<Routes[R]['reply']>;

/** A reply that a worker thread has written already is sent as it is. */
export type Handler<R extends RouteName> = (
  request: Request<R>,
) => Promise<Reply<R> | Written<Reply<R>> | Unwell<Reply<R>>>;

/** Handlers of some routes; together they have to cover the whole table. */
export type Handlers<R extends RouteName> = { [K in R]: Handler<K> };
