import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { dayWithYear, plural, zoneWords } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { AlmanacHead } from './AlmanacHead.tsx';

/** Runs that other rules of time zones move: shown before they count. */
export function ZoneMoves() {
  const { member } = useSession();
  const may = member.role === 'owner' || member.role === 'manager';
  const found = useGet('GET /api/zone-moves', {}, { live: true });
  const { data } = found;
  const agree = useChange(() => call('POST /api/zone-moves/agree'));
  return (
    <main className="place">
      <AlmanacHead title="Time zones" />
      <p className="muted">
        Time-zone rules changed, so these runs would go out at a different moment. They keep the original time until
        someone confirms.
      </p>
      <Notice error={found.error ?? agree.error} />
      {!data && !found.error && <Loading lines={6} />}
      {data?.total === 0 && <p>No run is moved.</p>}
      {data && data.total > 0 && (
        <>
          <table className="list">
            <thead>
              <tr>
                <th>What</th>
                <th>Planned time, by the new rules</th>
                <th>By the schedule</th>
              </tr>
            </thead>
            <tbody>
              {data.moves.map((m) => (
                <tr key={`${m.scheduleId} ${m.was.at}`}>
                  <td>
                    <Link className="name-link" to={`/schedules/${m.scheduleId}`}>
                      {m.title}
                    </Link>
                    <div className="muted small">{m.clientName}</div>
                  </td>
                  <td>
                    {dayWithYear(m.was.date)}, {m.was.time} <span className="muted small">{zoneWords(m.zone)}</span>
                  </td>
                  <td>
                    <b>
                      {dayWithYear(m.becomes.date)}, {m.becomes.time}
                    </b>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {data.total > data.moves.length && <p className="muted small">And {data.total - data.moves.length} more.</p>}
          {may && (
            <div className="row" style={{ marginTop: 12 }}>
              <Button loading={agree.isPending} onClick={() => agree.mutate()}>
                Move {plural(data.total, 'run')} to their scheduled time
              </Button>
            </div>
          )}
        </>
      )}
    </main>
  );
}
