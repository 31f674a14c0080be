import type { ScheduleInput } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';
import { History } from './History.tsx';
import { SchedulePlace } from './SchedulePlace.tsx';
import { SeriesPart } from './SeriesPart.tsx';
import { Standing } from './Standing.tsx';

export function EditSchedule() {
  const { schedule: id = '' } = useParams();
  const navigate = useNavigate();
  const [ending, setEnding] = useState(false);
  const params = { schedule: id };
  const schedule = useGet('GET /api/schedules/:schedule', { params });
  const clientId = schedule.data?.clientId ?? '';
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } }, { enabled: clientId !== '' });
  const reports = useGet(
    'GET /api/clients/:client/reports',
    { params: { client: clientId } },
    { enabled: clientId !== '' },
  );
  const save = useChange((body: ScheduleInput) => call('PUT /api/schedules/:schedule', { params, body }));
  const test = useChange(() => call('POST /api/schedules/:schedule/test', { params }));
  const end = useChange(() => call('DELETE /api/schedules/:schedule', { params }));
  if (schedule.error) {
    return (
      <main className="place">
        <Notice error={schedule.error} />
      </main>
    );
  }
  if (!schedule.data || !client.data || !reports.data) {
    return (
      <main className="place">
        <Loading />
      </main>
    );
  }
  return (
    <SchedulePlace
      title="Schedule"
      client={client.data}
      reports={reports.data}
      initial={schedule.data.input}
      schedule={id}
      error={save.error}
      actions={(input, changed, without) => (
        <>
          <Unsaved when={changed && !ending} what="your changes to this schedule" />
          <Button disabled={!changed} loading={save.isPending} onClick={() => save.mutate(input)}>
            {changed && without > 0 ? `Save without ${plural(without, 'block')}` : 'Save changes'}
          </Button>
          <Button variant="outline" disabled={changed} loading={test.isPending} onClick={() => test.mutate()}>
            Send me a test
          </Button>
          <Button component={Link} variant="outline" to={`/clients/${clientId}/schedules/new?from=${id}`}>
            Duplicate
          </Button>
          <Button
            variant="subtle"
            color="red"
            loading={end.isPending}
            onClick={() =>
              ending
                ? end.mutate(undefined, { onSuccess: () => navigate(`/clients/${clientId}/schedules`) })
                : setEnding(true)
            }
          >
            {ending ? 'End schedule (stops all sending)' : 'End this schedule'}
          </Button>
          {save.isSuccess && !changed && <span className="tone-good">Saved</span>}
          {test.data && <Link to={`/editions/${test.data.editionId}`}>View test</Link>}
          {schedule.data.ended && (
            <span className="tone-attention">▬ Ended: nothing more is sent. {schedule.data.ended}</span>
          )}
          <Notice error={test.error ?? end.error} />
        </>
      )}
    >
      <Standing schedule={schedule.data} />
      <SeriesPart schedule={schedule.data} />
      <History schedule={id} client={client.data} reports={reports.data} />
    </SchedulePlace>
  );
}
