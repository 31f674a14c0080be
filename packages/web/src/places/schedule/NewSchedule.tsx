import { PLAIN_CHOICES, type ScheduleInput } from '@chronicon/core/contract';
import { Button, Checkbox } from '@mantine/core';
import { useState } from 'react';
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
  const [first, setFirst] = useState(false);
  const create = useChange(async (body: ScheduleInput) => {
    const made = await call('POST /api/clients/:client/schedules', { params: { client: id }, body });
    if (!first) return null;
    const params = { schedule: made.id };
    return (await call('POST /api/schedules/:schedule/make', { params, body: { of: 'last' } })).editionId;
  });
  if (!client.data || !reports.data) {
    return (
      <main className="place">
        <Loading />
      </main>
    );
  }
  const initial: ScheduleInput = {
    ...PLAIN_CHOICES,
    reportId: search.get('report') ?? reports.data[0]?.id ?? '',
    rule: { freq: 'monthly', every: 1, on: { day: 3 } },
    time: '08:00',
    zone: client.data.zone,
    firstDate: now.slice(0, 10),
    lastDate: null,
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
            onClick={() =>
              create.mutate(input, {
                onSuccess: (edition) => navigate(edition ? `/editions/${edition}` : `/clients/${id}/schedules`),
              })
            }
          >
            Start this schedule
          </Button>
          <Checkbox
            checked={first}
            onChange={(e) => setFirst(e.currentTarget.checked)}
            label="Make the first edition now, for the last period"
            description="It waits to be looked at; nothing goes before you send it"
          />
        </>
      )}
    />
  );
}
