import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { momentIn } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

/** Where one is signed in, and how to end it there. */
export function Sessions({ idleHours }: { idleHours: number }) {
  const { zone } = useSession();
  const client = useQueryClient();
  const sessions = useGet('GET /api/sessions');
  const end = useChange(async (id: string | null) => {
    if (id === null) await call('DELETE /api/sessions');
    else await call('DELETE /api/sessions/:session', { params: { session: id } });
    await client.invalidateQueries();
  });
  if (sessions.error) return <Notice error={sessions.error} />;
  if (!sessions.data) return <Loading lines={3} />;
  const others = sessions.data.filter((s) => !s.current);
  return (
    <section className="card stack">
      <h2>Where you are signed in</h2>
      <table className="list">
        <thead>
          <tr>
            <th>Browser</th>
            <th>From</th>
            <th>Last used</th>
            <th>
              <span className="reading-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sessions.data.map((s) => (
            <tr key={s.id}>
              <td>
                {s.device}
                <div className="small muted">since {momentIn(s.since, zone)}</div>
              </td>
              <td>{s.address || 'unknown'}</td>
              <td>{s.current ? 'this device' : momentIn(s.seen, zone)}</td>
              <td>
                {!s.current && (
                  <Button
                    size="compact-sm"
                    variant="subtle"
                    aria-label={`Sign out ${s.device}, signed in ${momentIn(s.since, zone)}`}
                    loading={end.isPending && end.variables === s.id}
                    onClick={() => end.mutate(s.id)}
                  >
                    End
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Notice error={end.error} />
      {others.length > 1 && (
        <div>
          <Button variant="outline" onClick={() => end.mutate(null)}>
            Sign out other sessions
          </Button>
        </div>
      )}
      <span className="muted small">
        Sessions expire after {idleHours === 1 ? 'an hour' : `${idleHours} hours`} of inactivity.
      </span>
    </section>
  );
}
