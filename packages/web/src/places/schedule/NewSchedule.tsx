import type { ScheduleInput } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { SchedulePlace } from './SchedulePlace.tsx';

export function NewSchedule() {
  const { client: id = '' } = useParams();
  const [search] = useSearchParams();
  const { now } = useSession();
  const navigate = useNavigate();
  const client = useGet('GET /api/clients/:client', { params: { client: id } });
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: id } });
  const create = useChange((body: ScheduleInput) =>
    call('POST /api/clients/:client/schedules', { params: { client: id }, body }),
  );
  if (!client.data || !reports.data) {
    return (
      <main className="place">
        <Loading />
      </main>
    );
  }
  const initial: ScheduleInput = {
    assumed: {},
    filter: [],
    reportId: search.get('report') ?? reports.data[0]?.id ?? '',
    rule: { freq: 'monthly', every: 1, on: { day: 3 } },
    time: '08:00',
    zone: client.data.zone,
    firstDate: now.slice(0, 10),
    lastDate: null,
    workingDayRule: 'as is',
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    readers: [],
    ...client.data.mail,
  };
  return (
    <SchedulePlace
      title="New schedule"
      client={client.data}
      reports={reports.data}
      initial={initial}
      error={create.error}
      actions={(input, changed) => (
        <>
          <Unsaved when={changed && !create.isPending && !create.isSuccess} what="this schedule" />
          <Button
            loading={create.isPending}
            onClick={() => create.mutate(input, { onSuccess: () => navigate(`/clients/${id}/schedules`) })}
          >
            Start this schedule
          </Button>
        </>
      )}
    />
  );
}
