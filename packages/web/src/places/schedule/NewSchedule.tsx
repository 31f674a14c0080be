import { type Client, PLAIN_CHOICES, type ScheduleInput } from '@chronicon/core/contract';
import { Button, Checkbox } from '@mantine/core';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { SchedulePlace } from './SchedulePlace.tsx';
import { fromDraft, useKeepDraft, useScheduleDraft } from './useScheduleDraft.ts';

type Reports = Reply<'GET /api/clients/:client/reports'>;

/** What a new schedule begins with: the dates of its report's own design, in the client's own zone. */
function fresh(client: Client, report: Reports[number] | undefined, today: string): ScheduleInput {
  return {
    ...PLAIN_CHOICES,
    reportId: report?.id ?? '',
    rule: { freq: 'monthly', every: 1, on: { day: 3 } },
    time: '08:00',
    zone: client.zone,
    firstDate: today,
    lastDate: null,
    period: report?.design.period ?? { kind: 'unit', unit: 'month', offset: -1 },
    comparison: report?.design.comparison ?? { kind: 'previous' },
    readers: [],
    ...client.mail,
  };
}

/** A schedule that is not started yet; what is left unfinished is kept as a draft. */
export function NewSchedule() {
  const { client: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const { now } = useSession();
  const [round, setRound] = useState(0);
  const client = useGet('GET /api/clients/:client', { params: { client: id } });
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: id } });
  const draft = useScheduleDraft(id);
  const from = search.get('from');
  const copied = useGet(
    'GET /api/schedules/:schedule',
    { params: { schedule: from ?? '' } },
    { enabled: from !== null },
  );
  const discard = useChange(() => call('DELETE /api/clients/:client/schedule-draft', { params: { client: id } }));
  if (copied.error) {
    return (
      <main className="place">
        <Notice error={copied.error} />
      </main>
    );
  }
  if (!client.data || !reports.data || draft.isPending || (from !== null && !copied.data)) {
    return (
      <main className="place">
        <Notice error={client.error ?? reports.error} />
        <Loading />
      </main>
    );
  }
  const today = now.slice(0, 10);
  const named = search.get('report');
  const report = reports.data.find((r) => r.id === named) ?? reports.data[0];
  const begun = fresh(client.data, report, today);
  // A copy is for days to come: single runs and the last day were the other one's.
  const copy = copied.data && { ...copied.data.input, firstDate: today, lastDate: null, exceptions: {} };
  const kept = round === 0 && !copy && named === null ? draft.data : null;
  return (
    <NewForm
      key={`${from ?? ''} ${round}`}
      client={client.data}
      reports={reports.data}
      initial={copy ?? (kept ? fromDraft(begun, kept.input) : begun)}
      about={
        copy ? (
          <span className="muted small">
            A copy of a schedule of “{copied.data!.reportTitle}”. The original keeps running.
          </span>
        ) : (
          kept && (
            <span className="row small">
              <span className="muted">An unfinished schedule from {momentOf(kept.savedAt)}.</span>
              <Button
                size="compact-xs"
                variant="default"
                loading={discard.isPending}
                onClick={() =>
                  discard.mutate(undefined, {
                    onSuccess: () => {
                      setSearch({}, { replace: true });
                      setRound(round + 1);
                    },
                  })
                }
              >
                Start over
              </Button>
            </span>
          )
        )
      }
    />
  );
}

interface FormProps {
  client: Client;
  reports: Reports;
  initial: ScheduleInput;
  about: React.ReactNode;
}

function NewForm({ client, reports, initial, about }: FormProps) {
  const navigate = useNavigate();
  // What it began with stays, whatever is read anew meanwhile.
  const [began] = useState(initial);
  const [first, setFirst] = useState(false);
  const { keep, forget, fault } = useKeepDraft(client.id);
  const create = useChange(async (body: ScheduleInput) => {
    const made = await call('POST /api/clients/:client/schedules', { params: { client: client.id }, body });
    forget();
    if (!first) return null;
    const params = { schedule: made.id };
    return (await call('POST /api/schedules/:schedule/make', { params, body: { of: 'last' } })).editionId;
  });
  return (
    <SchedulePlace
      title="New schedule"
      client={client}
      reports={reports}
      initial={began}
      error={create.error}
      about={about}
      onInput={keep}
      actions={(input, _, without) => (
        <>
          <Button
            loading={create.isPending}
            onClick={() =>
              create.mutate(input, {
                onSuccess: (edition) => navigate(edition ? `/editions/${edition}` : `/clients/${client.id}/schedules`),
              })
            }
          >
            {without > 0 ? `Start without ${plural(without, 'block')}` : 'Start this schedule'}
          </Button>
          <Checkbox
            checked={first}
            onChange={(e) => setFirst(e.currentTarget.checked)}
            label="Create the first edition now, for the last period"
            description="You review and send it yourself"
          />
          {fault !== null && (
            <Notice>Your changes couldn’t be saved as a draft. Start the schedule before you leave.</Notice>
          )}
        </>
      )}
    />
  );
}
