import type { Schedule } from '@chronicon/core/contract';
import { Button, Popover, Stack } from '@mantine/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { plainDate } from '../../parts/when.ts';

/** A year after a date, in the same month; the last of it where that is shorter. */
function yearAfter(date: string): string {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  const last = new Date(Date.UTC(year + 1, month, 0)).getUTCDate();
  return `${year + 1}-${String(month).padStart(2, '0')}-${String(Math.min(day, last)).padStart(2, '0')}`;
}

/** Whether a schedule runs, until when, and what can be done about that at once. */
export function Standing({ schedule }: { schedule: Schedule }) {
  const { id, active, resumesOn, endsSoon, ended, stopped, input } = schedule;
  const navigate = useNavigate();
  const [day, setDay] = useState('');
  const [open, setOpen] = useState(false);
  const params = { schedule: id };
  const set = useChange((body: { active: boolean; resumesOn?: string | null }) =>
    call('PUT /api/schedules/:schedule/active', { params, body }),
  );
  const extend = useChange((lastDate: string | null) =>
    call('PUT /api/schedules/:schedule', { params, body: { ...input, lastDate } }),
  );
  const make = useChange((of: 'next' | 'last') => call('POST /api/schedules/:schedule/make', { params, body: { of } }));
  const over = schedule.ended === 'It was ended.';
  if (over) return null;
  const pause = (on: string | null) =>
    set.mutate({ active: false, resumesOn: on }, { onSuccess: () => setOpen(false) });
  return (
    <div className="stack standing">
      {!active && (
        <span className="tone-attention">
          ■ {stopped ?? (resumesOn ? `Paused. Resumes on ${plainDate(resumesOn)}.` : 'Paused.')}
        </span>
      )}
      {endsSoon && !ended && (
        <span className="tone-attention">▲ Ends on {plainDate(endsSoon)}. Nothing is sent after that.</span>
      )}
      <div className="row">
        {input.lastDate && (endsSoon || ended) && (
          <Button
            variant="outline"
            loading={extend.isPending}
            onClick={() => extend.mutate(yearAfter(input.lastDate!))}
          >
            Extend by a year, to {plainDate(yearAfter(input.lastDate))}
          </Button>
        )}
        {active ? (
          <Popover trapFocus returnFocus opened={open} onChange={setOpen} width={280} transitionProps={{ duration: 0 }}>
            <Popover.Target>
              <Button variant="default" aria-expanded={open} onClick={() => setOpen(!open)}>
                Pause
              </Button>
            </Popover.Target>
            <Popover.Dropdown aria-label="Pause">
              <Stack gap={10}>
                <DateField
                  label="Resume automatically on"
                  description="Leave empty to pause indefinitely"
                  value={day}
                  error={fieldError(set.error, 'resumesOn')}
                  onChange={(date) => setDay(date)}
                  optional
                />
                <Button loading={set.isPending} onClick={() => pause(day || null)}>
                  {day ? `Pause until ${plainDate(day)}` : 'Pause'}
                </Button>
              </Stack>
            </Popover.Dropdown>
          </Popover>
        ) : (
          <Button variant="default" loading={set.isPending} onClick={() => set.mutate({ active: true })}>
            Resume
          </Button>
        )}
        <Button
          variant="subtle"
          loading={make.isPending}
          onClick={() => make.mutate('last', { onSuccess: ({ editionId }) => navigate(`/editions/${editionId}`) })}
        >
          Create one for the last period
        </Button>
      </div>
      <Notice error={formError(set.error, ['resumesOn']) ?? extend.error ?? make.error} />
    </div>
  );
}
