import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { useQuery } from '@tanstack/react-query';
import { type ApiError, call, type Reply } from '../../api/call.ts';

export type Gap = Reply<'POST /api/clients/:client/schedules/filter-gaps'>['gaps'][number];

/** The blocks of the report that a schedule's filter cannot apply to, left out or not. */
export function useFilterGaps(client: Client, input: ScheduleInput): readonly Gap[] {
  const { reportId, period, comparison, assumed, filter, pages, groups } = input;
  const body = { reportId, period, comparison, assumed, filter, pages, groups };
  const asks = reportId !== '' && (filter.length > 0 || groups !== null);
  const found = useQuery<{ gaps: Gap[] }, ApiError>({
    queryKey: ['filter-gaps', client.id, body],
    queryFn: ({ signal }) =>
      call('POST /api/clients/:client/schedules/filter-gaps', { params: { client: client.id }, body, signal }),
    enabled: asks,
  });
  return asks ? (found.data?.gaps ?? []) : [];
}
