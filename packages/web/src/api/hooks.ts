import type { RouteName } from '@chronicon/core/contract';
import { keepPreviousData, type UseQueryResult, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ApiError, type CallOptions, call, type Reply } from './call.ts';

type GetName = Extract<RouteName, `GET ${string}`>;

/** Reads one door and keeps what it said; `refetchInterval` watches something that moves. */
export function useGet<R extends GetName>(
  name: R,
  options: CallOptions<R> = {},
  watch: { refetchInterval?: number | false; enabled?: boolean; keep?: boolean } = {},
): UseQueryResult<Reply<R>, ApiError> {
  const { keep, ...rest } = watch;
  return useQuery<Reply<R>, ApiError>({
    queryKey: [name, options.params ?? {}, options.query ?? {}],
    queryFn: ({ signal }) => call(name, { ...options, signal }),
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
