import type { Role, RouteName, Routes } from '@chronicon/core/contract';
import type { z } from 'zod';
import type { Api, Request } from '../context.ts';

/** What a read may use: it changes nothing, and runs in a thread that answers nobody else meanwhile. */
export type Reading = Pick<Api, 'store' | 'facts'> & {
  clock: Pick<Api['clock'], 'now'>;
  health: Pick<Api['health'], 'troubles'>;
};

/** Who asks, and what for: reads have no body, and nothing in their path. */
export type ReadRequest<R extends RouteName> = Pick<Request<R>, 'query'> & {
  api: Reading;
  session: { member: { id: string; name: string; email: string; role: Role } };
};

/** Handlers that are given a {@link ReadRequest} alone: the compiler holds them to it. */
export type ReadHandlers<R extends RouteName> = {
  [K in R]: (request: ReadRequest<K>) => Promise<z.input<Routes[K]['reply']>>;
};
