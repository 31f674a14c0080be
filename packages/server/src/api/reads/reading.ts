import type { RouteName } from '@chronicon/core/contract';
import type { Api, Request } from '../context.ts';

/** What a read may use: it changes nothing, and runs in a thread that answers nobody else meanwhile. */
export type Reading = Pick<Api, 'store' | 'facts' | 'clock' | 'config'> & { health: Pick<Api['health'], 'troubles'> };

type ReplyOf<R extends RouteName> = import('zod').z.input<import('@chronicon/core/contract').Routes[R]['reply']>;

/** Handlers that are given a {@link Reading} alone: the compiler holds them to it. */
export type ReadHandlers<R extends RouteName> = {
  [K in R]: (request: Omit<Request<K>, 'api'> & { api: Reading }) => Promise<ReplyOf<K>>;
};
