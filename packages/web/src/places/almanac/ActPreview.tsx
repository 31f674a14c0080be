import type { BulkAct } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type ApiError, call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { plural } from '../../parts/when.ts';

/** Rows that are shown; beyond, one is told how many more there are. */
const SHOWN = 200;

interface Props {
  /** Null for all that one sees. */
  schedules: readonly string[] | null;
  act: BulkAct;
  /** What is done, as a button says it. */
  label: string;
  onDone: () => void;
  onCancel: () => void;
}

/** What an act would change, place by place, before it is done. */
export function ActPreview({ schedules, act, label, onDone, onCancel }: Props) {
  const body = { schedules: schedules && [...schedules], act };
  const preview = useQuery({
    queryKey: ['many', body],
    queryFn: ({ signal }) => call('POST /api/schedules/many', { body, signal }),
    retry: false,
  });
  const doing = useChange((seen: string) => call('POST /api/schedules/many', { body: { ...body, seen } }));
  const { data } = preview;
  const stays = data?.rows.filter((r) => r.problem !== null).length ?? 0;
  if (doing.data && doing.data.late.length + doing.data.left.length > 0) {
    const { late, left } = doing.data;
    return (
      <section className="card stack" aria-label="Warnings">
        {late.length > 0 && (
          <>
            <h2>Changed. These emails were already being sent</h2>
            <ul className="plain stack">
              {late.slice(0, SHOWN).map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
            <p className="muted small">To send one to the new reader, resend it from its edition.</p>
          </>
        )}
        {left.length > 0 && (
          <>
            <h2>Someone else changed these in the meantime. They stay the same</h2>
            <ul className="plain stack">
              {left.slice(0, SHOWN).map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </>
        )}
        <div className="row">
          <Button onClick={onDone}>Close</Button>
        </div>
      </section>
    );
  }
  return (
    <section className="card stack" aria-label="What changes">
      <h2>What changes</h2>
      <Notice error={(preview.error as ApiError | null) ?? doing.error} />
      {!data && !preview.error && <Loading lines={4} />}
      {data && (
        <>
          <span>
            {data.changes === 0 ? 'No changes.' : `${plural(data.changes, 'place')} will change`}
            {data.changes > 0 && (stays > 0 ? `, ${stays} ${stays === 1 ? 'stays' : 'stay'} the same.` : '.')}
          </span>
          {data.rows.length > 0 && (
            <ScrollBox label="Changes" short>
              <table className="list">
                <thead>
                  <tr>
                    <th>Client</th>
                    <th>What</th>
                    <th>Now</th>
                    <th>Then</th>
                  </tr>
                </thead>
                <tbody>
                  {data.rows.slice(0, SHOWN).map((r) => (
                    <tr key={r.id}>
                      <td>{r.clientName}</td>
                      <td>{r.title}</td>
                      <td className="muted">{r.before}</td>
                      <td>
                        {r.problem ? (
                          <span className="tone-attention">■ unchanged: {r.problem}</span>
                        ) : r.before === r.after ? (
                          <span className="muted">the same</span>
                        ) : (
                          <b>{r.after}</b>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {data.rows.length > SHOWN && <p className="muted small">And {data.rows.length - SHOWN} more.</p>}
            </ScrollBox>
          )}
          <div className="row">
            <Button
              disabled={data.changes === 0}
              loading={doing.isPending}
              onClick={() =>
                doing.mutate(data.seen, { onSuccess: ({ late, left }) => late.length + left.length === 0 && onDone() })
              }
            >
              {label} {data.changes > 0 && `in ${plural(data.changes, 'place')}`}
            </Button>
            <Button variant="default" onClick={onCancel}>
              Cancel
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
