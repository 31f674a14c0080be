import type { Client, Schedule } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link, useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { periodWords } from '../../parts/periods.ts';
import { momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { type Colleague, readerName } from '../schedule/readersText.ts';
import { ruleWords } from '../schedule/ruleWords.ts';

/** To whom a schedule goes, in a cell. */
function readersOf(client: Client, colleagues: readonly Colleague[], { readers, groups, archive }: Schedule['input']) {
  if (groups) return plural(groups.groups.length, 'group');
  if (readers.length === 0) return archive ? 'Archive only' : 'nobody yet';
  return readers.map((r) => readerName(client, colleagues, r)).join(', ');
}

function Line({ schedule, client }: { schedule: Schedule; client: Client }) {
  const toggle = useChange(() =>
    call('PUT /api/schedules/:schedule/active', {
      params: { schedule: schedule.id },
      body: { active: !schedule.active },
    }),
  );
  const navigate = useNavigate();
  const make = useChange(() =>
    call('POST /api/schedules/:schedule/make', { params: { schedule: schedule.id }, body: {} }),
  );
  const { input } = schedule;
  const colleagues = useGet('GET /api/colleagues');
  const readers = readersOf(client, colleagues.data ?? [], input);
  return (
    <tr>
      <td>
        <Link className="name-link" to={`/schedules/${schedule.id}`}>
          {schedule.reportTitle}
        </Link>
        <Notice error={make.error ?? toggle.error} />
      </td>
      <td>
        {ruleWords(input.rule)} at {input.time}
        <div className="muted small">{input.zone}</div>
      </td>
      <td>{periodWords(input.period)}</td>
      <td>{readers}</td>
      <td>
        {schedule.ended ? (
          <span className="muted">▬ ended</span>
        ) : schedule.active ? (
          <span className="tone-good">● runs</span>
        ) : (
          <span className="tone-attention">■ {schedule.stopped ? 'stopped' : 'paused'}</span>
        )}
        {schedule.ended && <div className="muted small">{schedule.ended}</div>}
        {schedule.stopped && <div className="muted small">{schedule.stopped}</div>}
      </td>
      <td style={{ whiteSpace: 'nowrap', textAlign: 'right' }}>
        <Button
          variant="subtle"
          size="compact-sm"
          loading={make.isPending}
          onClick={() => make.mutate(undefined, { onSuccess: ({ editionId }) => navigate(`/editions/${editionId}`) })}
        >
          Create a preview edition
        </Button>
        <Button
          component={Link}
          variant="subtle"
          size="compact-sm"
          aria-label={`Duplicate ${schedule.reportTitle}, ${ruleWords(input.rule)}`}
          to={`/clients/${client.id}/schedules/new?from=${schedule.id}`}
        >
          Duplicate
        </Button>
        <Button variant="subtle" size="compact-sm" loading={toggle.isPending} onClick={() => toggle.mutate()}>
          {schedule.active ? 'Pause' : 'Resume'}
        </Button>
      </td>
    </tr>
  );
}

/** What somebody has begun of a schedule and not started. */
function Unfinished({ client }: { client: string }) {
  const { member } = useSession();
  const mayPlan = member.role === 'owner' || member.role === 'manager';
  const params = { client };
  const draft = useGet('GET /api/clients/:client/schedule-draft', { params }, { enabled: mayPlan });
  const discard = useChange(() => call('DELETE /api/clients/:client/schedule-draft', { params }));
  const begun = draft.data?.draft;
  if (!begun) return null;
  return (
    <div className="row">
      <span className="tone-attention">◆ You have an unfinished schedule from {momentOf(begun.savedAt)}.</span>
      <Button size="compact-sm" variant="default" component={Link} to={`/clients/${client}/schedules/new`}>
        Continue
      </Button>
      <Button size="compact-sm" variant="subtle" loading={discard.isPending} onClick={() => discard.mutate()}>
        Discard it
      </Button>
      <Notice error={discard.error} />
    </div>
  );
}

export function Schedules({ client }: { client: Client }) {
  const schedules = useGet('GET /api/clients/:client/schedules', { params: { client: client.id } });
  if (!schedules.data) return schedules.error ? <Notice error={schedules.error} /> : <Loading />;
  return (
    <div className="stack">
      {schedules.data.length > 0 ? (
        <table className="list">
          <thead>
            <tr>
              <th>Sends</th>
              <th>When</th>
              <th>Covers</th>
              <th>To</th>
              <th>State</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {schedules.data.map((s) => (
              <Line key={s.id} schedule={s} client={client} />
            ))}
          </tbody>
        </table>
      ) : (
        <p className="muted">Schedules send reports automatically. None yet.</p>
      )}
      <Unfinished client={client.id} />
      <div>
        <Button component={Link} to={`/clients/${client.id}/schedules/new`}>
          New schedule
        </Button>
      </div>
    </div>
  );
}
