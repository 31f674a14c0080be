import type { RouteName } from '@chronicon/core/contract';
import { keepPreviousData, type UseQueryResult, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { type ApiError, type CallOptions, call, type Reply } from './call.ts';

type GetName = Extract<RouteName, `GET ${string}`>;

/**
 * Reads one route and keeps what it said. `live`: it is asked for again when the server says that something has changed
 * ({@link useChanges}); `refetchInterval` watches what moves by the second.
 */
export function useGet<R extends GetName>(
  name: R,
  options: CallOptions<R> = {},
  watch: { live?: boolean; refetchInterval?: number | false; enabled?: boolean; keep?: boolean } = {},
): UseQueryResult<Reply<R>, ApiError> {
  const { keep, live = false, ...rest } = watch;
  return useQuery<Reply<R>, ApiError>({
    queryKey: [name, options.params ?? {}, options.query ?? {}],
    queryFn: ({ signal }) => call(name, { ...options, signal }),
    meta: { live },
    ...rest,
    // What was shown stays until what comes next is there.
    ...(keep && { placeholderData: keepPreviousData }),
  });
}

/** Changes something, after which everything read before is read again. */
export function useChange<T, V = void>(change: (value: V) => Promise<T>) {
  const client = useQueryClient();
  return useMutation<T, ApiError, V>({
    mutationFn: change,
    onSuccess: () => client.invalidateQueries(),
  });
}

/** Does something that changes nothing that was read: what is shown stays as it is. */
export function useAct<T, V = void>(act: (value: V) => Promise<T>) {
  return useMutation<T, ApiError, V>({ mutationFn: act });
}

/** Milliseconds between questions whether anything has changed. */
const CHANGES_MS = 3_000;

/** Has everything that is live asked for again whenever the server has something new; once, around all places. */
export function useChanges(): void {
  const client = useQueryClient();
  const { data } = useGet('GET /api/changes', {}, { refetchInterval: CHANGES_MS });
  const seen = useRef<string | null>(null);
  const mark = data?.mark ?? null;
  useEffect(() => {
    if (mark === null || mark === seen.current) return;
    // What was read on coming in is as new as the first mark.
    if (seen.current !== null) client.invalidateQueries({ predicate: (q) => q.meta?.live === true });
    seen.current = mark;
  }, [mark, client]);
}
