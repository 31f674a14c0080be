import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button, CopyButton } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type ApiError, call } from '../../api/call.ts';
import { Notice } from '../../parts/Notice.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';

/** The next runs of a schedule as it stands, saved or not. */
export function WhatThisDoes({
  client,
  input,
  schedule,
}: {
  client: Client;
  input: ScheduleInput;
  /** The saved one that is being changed. */
  schedule?: string | undefined;
}) {
  const { rule, time, zone, firstDate, lastDate, workingDayRule, period, comparison } = input;
  const body = { rule, time, zone, firstDate, lastDate, workingDayRule, period, comparison, schedule };
  const runs = useQuery({
    queryKey: ['look-ahead', client.id, body],
    queryFn: ({ signal }) =>
      call('POST /api/clients/:client/schedules/look-ahead', { params: { client: client.id }, body, signal }),
    placeholderData: keepPreviousData,
    enabled: rule.freq !== 'weekly' || rule.weekdays.length > 0,
  });
  return (
    <aside className="card" aria-label="What this does">
      <h2>What this does</h2>
      {rule.freq === 'weekly' && rule.weekdays.length === 0 && (
        <span className="tone-wrong">Choose at least one weekday.</span>
      )}
      <Notice error={runs.error as ApiError | null} />
      <ul className="runs">
        {runs.data?.runs.map((r) => (
          <li key={r.nominal}>
            <span>
              <b>{dayWithYear(r.local.date)}</b> {r.local.time}
            </span>
            <span>covers {r.period.label}</span>
            <span className="muted small">{plural(input.readers.length, 'reader')}</span>
            <span className="muted small">{r.compared ? `against ${r.compared.label}` : 'no comparison'}</span>
            {r.notes.map((n) => (
              <span key={n} className="remark">
                {n}
              </span>
            ))}
          </li>
        ))}
      </ul>
      {runs.data?.runs.length === 0 && (
        <span className="tone-attention">
          {schedule
            ? 'It has ended: no run is to come between these dates.'
            : 'It never comes round between these dates.'}
        </span>
      )}
      {runs.data && runs.data.runs.length > 0 && (
        <details className="calendar-rule">
          <summary>For a calendar</summary>
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
            <p className="muted small">
              No rule of calendars says these dates: they hang on working days, or are one alone.
            </p>
          )}
        </details>
      )}
    </aside>
  );
}
