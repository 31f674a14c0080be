import { Button } from '@mantine/core';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { momentOf, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';

/** What was done with many schedules at once lately, each to be undone. */
export function RecentActs() {
  const { member } = useSession();
  const acts = useGet('GET /api/schedules/many', {}, { live: true });
  const undo = useChange((act: string) => call('POST /api/schedules/many/:act/undo', { params: { act } }));
  if (!acts.data || acts.data.length === 0) return null;
  const may = member.role === 'owner' || member.role === 'manager';
  return (
    <section className="card stack" aria-label="Recent changes">
      <h2>Recent changes</h2>
      <Notice error={undo.error} />
      {undo.data && (
        <span role="status" className="small">
          Undone in {plural(undo.data.undone, 'place')}.
          {undo.data.kept.length > 0 && ` Not undone because it changed since: ${undo.data.kept.join(', ')}.`}
        </span>
      )}
      <ul className="acts-done">
        {acts.data.map((a) => (
          <li key={a.id} className="row">
            <span>
              {a.what}{' '}
              <span className="muted small">
                {a.who}, {momentOf(a.at)}
              </span>
            </span>
            {a.undone ? (
              <span className="muted small">undone</span>
            ) : (
              may && (
                <Button
                  size="compact-sm"
                  variant="outline"
                  aria-label={`Undo: ${a.what}`}
                  loading={undo.isPending && undo.variables === a.id}
                  onClick={() => undo.mutate(a.id)}
                >
                  Undo
                </Button>
              )
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
