import type { ScheduleInput } from '@chronicon/core/contract';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ApiError, call } from '../../api/call.ts';
import { fieldError } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';

/** On what a change of a schedule acts, before it is saved. */
export function Effects({ schedule, input }: { schedule: string; input: ScheduleInput }) {
  const effects = useQuery({
    queryKey: ['effects', schedule, input],
    queryFn: ({ signal }) =>
      call('POST /api/schedules/:schedule/effects', { params: { schedule }, body: input, signal }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const error = effects.error as ApiError | null;
  if (error) return <span className="tone-wrong small">{fieldError(error, 'exceptions') ?? error.message}</span>;
  if (!effects.data) return null;
  const { runs, editions } = effects.data;
  return (
    <div className="small" role="status">
      Affects {plural(runs.after, 'run')} in the next 100 days
      {runs.before !== runs.after && ` (currently ${runs.before})`}
      {editions.length === 0 && '. Existing editions don’t change.'}
      {editions.length > 0 && (
        <ul className="effects">
          {editions.map((e) => (
            <li key={e.editionId}>
              {e.label}: <b>{e.becomes}</b>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
