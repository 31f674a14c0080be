import type { Client } from '@chronicon/core/contract';
import { useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { momentWithYear } from '../../parts/when.ts';
import { partLabel, partWords } from './partWords.ts';

const ACTIONS: Record<string, string> = {
  'schedule.started': 'started it',
  'schedule.changed': 'changed it',
  'schedule.paused': 'paused it',
  'schedule.resumed': 'resumed it',
  'schedule.stopped': 'stopped it',
  'schedule.ended': 'ended it',
};

/** What was done with a schedule, by whom. */
export function History({
  schedule,
  client,
  reports,
}: {
  schedule: string;
  client: Client;
  reports: readonly { id: string; title: string }[];
}) {
  const history = useGet('GET /api/schedules/:schedule/history', { params: { schedule } });
  const colleagues = useGet('GET /api/colleagues').data ?? [];
  if (!history.data) return <Notice error={history.error} />;
  return (
    <details className="history">
      <summary>History</summary>
      <ul>
        {history.data.map((h, i) => (
          <li key={i}>
            <span className="muted small">{momentWithYear(h.at)}</span> <b>{h.who}</b> {ACTIONS[h.action] ?? h.action}
            {h.changed.map((c) => (
              <div key={c.part} className="small">
                {partLabel(c.part)}: <s>{partWords(c.part, c.before, { client, colleagues, reports })}</s> →{' '}
                {partWords(c.part, c.after, { client, colleagues, reports })}
              </div>
            ))}
          </li>
        ))}
        {history.data.length === 0 && <li className="muted">No changes since it started.</li>}
      </ul>
    </details>
  );
}
