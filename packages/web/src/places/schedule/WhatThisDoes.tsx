import type { Client, ComingRun, ScheduleInput } from '@chronicon/core/contract';
import { Button, CopyButton } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ApiError, call } from '../../api/call.ts';
import { Notice } from '../../parts/Notice.tsx';
import { RunLine } from './RunLine.tsx';

/** Warnings that stand for every run: said once. */
function shared(runs: readonly ComingRun[]): string[] {
  const [first, ...others] = runs.filter((r) => !r.skipped);
  if (!first || others.length === 0) return [];
  return first.warnings
    .map((w) => w.text)
    .filter((text) => others.every((r) => r.warnings.some((w) => w.text === text)));
}

/** The next runs of a schedule as it stands, saved or not. */
export function WhatThisDoes({
  client,
  input,
  schedule,
  onChange,
}: {
  client: Client;
  input: ScheduleInput;
  /** The saved one that is being changed. */
  schedule?: string | undefined;
  onChange?: ((patch: Partial<ScheduleInput>) => void) | undefined;
}) {
  const { rule, time, zone, firstDate, lastDate, workingDayRule, period, comparison, exceptions } = input;
  const { reportId, readers, archive, groups, signOff } = input;
  const dates = { rule, time, zone, firstDate, lastDate, workingDayRule, period, comparison, exceptions };
  const body = { ...dates, reportId, readers, archive, groups, signOff, schedule };
  const runs = useQuery({
    queryKey: ['look-ahead', client.id, body],
    queryFn: ({ signal }) =>
      call('POST /api/clients/:client/schedules/look-ahead', { params: { client: client.id }, body, signal }),
    placeholderData: keepPreviousData,
    enabled: rule.freq !== 'weekly' || rule.weekdays.length > 0,
  });
  const isIncomplete = rule.freq === 'weekly' && rule.weekdays.length === 0;
  // Runs of what the sentence said before would be taken for those of what it says now.
  const all = isIncomplete || runs.error || (runs.isPlaceholderData && !runs.isFetching) ? [] : (runs.data?.runs ?? []);
  const everywhere = shared(all);
  return (
    <aside className="card" aria-label="Upcoming runs">
      <h2>Upcoming runs</h2>
      {isIncomplete && <span className="tone-wrong">Choose at least one weekday.</span>}
      <Notice error={runs.error as ApiError | null} />
      {everywhere.length > 0 && (
        <ul className="looks">
          {everywhere.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <ul className="runs">
        {all.map((r) => (
          <RunLine
            key={r.nominal}
            run={r}
            exception={exceptions[r.nominal]}
            warnings={r.warnings.map((w) => w.text).filter((text) => !everywhere.includes(text))}
            onChange={
              onChange &&
              ((exception) => {
                const { [r.nominal]: _, ...others } = exceptions;
                onChange({ exceptions: exception ? { ...others, [r.nominal]: exception } : others });
              })
            }
          />
        ))}
      </ul>
      {runs.data && !isIncomplete && !runs.error && all.length === 0 && (
        <span className="tone-attention">{schedule ? 'Ended – no more runs.' : 'No runs between these dates.'}</span>
      )}
      {runs.data && all.length > 0 && (
        <details className="calendar-rule">
          <summary>Calendar rule</summary>
          {runs.data.calendarRule ? (
            <>
              <pre>{runs.data.calendarRule}</pre>
              <CopyButton value={runs.data.calendarRule}>
                {({ copied, copy }) => (
                  <Button size="compact-sm" variant="outline" onClick={copy}>
                    {copied ? 'Copied' : 'Copy'}
                  </Button>
                )}
              </CopyButton>
            </>
          ) : (
            <p className="muted small">These dates can’t be exported as a calendar rule.</p>
          )}
        </details>
      )}
    </aside>
  );
}
