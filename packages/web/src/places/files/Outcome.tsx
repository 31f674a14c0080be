import type { Client, ImportDetail } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link, useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { ProgressBar } from '../../parts/feedWords.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { plainDate, plural } from '../../parts/when.ts';
import { Rejects } from './Imports.tsx';

const count = (n: number) => n.toLocaleString('en-GB');

const FEW = 5;

/** Days in words, the first few of them: `3 Oct 2026 and 7 Oct 2026 are`. */
function daysWords(ranges: readonly { from: string; to: string }[]): string {
  const said = ranges
    .slice(0, FEW)
    .map((r) => (r.from === r.to ? plainDate(r.from) : `${plainDate(r.from)} to ${plainDate(r.to)}`));
  const more = ranges.length > FEW ? [`${ranges.length - FEW} more`] : [];
  const all = [...said, ...more];
  const one = ranges.length === 1 && ranges[0]!.from === ranges[0]!.to;
  return `${all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : all[0]} ${one ? 'is' : 'are'}`;
}

/** How an import goes, and what came of it. */
export function Outcome({ client, file }: { client: Client; file: ImportDetail }) {
  const navigate = useNavigate();
  const params = { client: client.id, import: file.id };
  const cancel = useChange(() => call('POST /api/clients/:client/imports/:import/cancel', { params }));
  const undo = useChange(() => call('POST /api/clients/:client/imports/:import/undo', { params }));
  const aside = useChange(() => call('POST /api/clients/:client/imports/:import/aside', { params }));
  const again = useChange(() => call('POST /api/clients/:client/imports/:import/look', { params, body: file.reading }));
  const away = useChange(() => call('DELETE /api/clients/:client/imports/:import', { params }));
  return (
    <section className="card stack">
      {file.state === 'importing' && (
        <>
          <ProgressBar label="Import progress" done={Math.round(file.progress * 100)} of={100} />
          <span>
            {count(file.good)} rows read{file.bad > 0 && `, ${count(file.bad)} skipped`}. Data appears once the import
            finishes.
          </span>
          <div>
            <Button variant="outline" loading={cancel.isPending} onClick={() => cancel.mutate()}>
              Stop
            </Button>
          </div>
        </>
      )}
      {file.state === 'done' && file.range && (
        <>
          <span>
            <b>{plural(file.good, 'row').replace(/^\d+/, count(file.good))}</b> of {plainDate(file.range.from)} to{' '}
            {plainDate(file.range.to)} {file.good === 1 ? 'counts' : 'count'} now.
          </span>
          {file.hasRejects && (
            <span>
              <Rejects client={client} of={file} />: unreadable rows, each with the reason.
            </span>
          )}
          {file.unknown.length > 0 && (
            <>
              <Notice>
                {file.unknown.length === 1 &&
                file.unknown[0]!.from === file.range.from &&
                file.unknown[0]!.to === file.range.to
                  ? 'A row with an unreadable date was skipped, so all these days are marked incomplete.'
                  : `Because of these rows, ${daysWords(file.unknown)} incomplete: totals that include them are marked incomplete.`}{' '}
                Upload corrected rows, or ignore them (e.g. a totals row).
              </Notice>
              {file.canUndo && (
                <div>
                  <Button variant="outline" loading={aside.isPending} onClick={() => aside.mutate()}>
                    Ignore these rows
                  </Button>
                </div>
              )}
            </>
          )}
          <div className="row">
            <Button component={Link} to={`/figures?client=${client.id}`}>
              View figures
            </Button>
            <Button component={Link} to={`/clients/${client.id}/feeds`} variant="outline">
              View feeds
            </Button>
            {file.canUndo && (
              <Button variant="subtle" loading={undo.isPending} onClick={() => undo.mutate()}>
                Undo import
              </Button>
            )}
          </div>
        </>
      )}
      {file.state === 'undone' && <span>Import undone. Previous data restored.</span>}
      {(file.state === 'refused' || file.state === 'cancelled') && (
        <>
          <Notice>{file.problem}</Notice>
          {file.hasRejects && <Rejects client={client} of={file} />}
          <div className="row">
            <Button variant="outline" loading={again.isPending} onClick={() => again.mutate()}>
              Review again
            </Button>
            <Button
              variant="subtle"
              loading={away.isPending}
              onClick={() => away.mutate(undefined, { onSuccess: () => navigate(`/clients/${client.id}/feeds`) })}
            >
              Dismiss
            </Button>
          </div>
        </>
      )}
      <Notice error={aside.error ?? cancel.error ?? undo.error ?? again.error ?? away.error} />
    </section>
  );
}
