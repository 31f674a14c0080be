import type { ComingRun, ScheduleInput } from '@chronicon/core/contract';
import { Button, Popover, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { DateField } from '../../parts/DateField.tsx';
import { dayWithYear, plainDate, plural } from '../../parts/when.ts';

type Exception = ScheduleInput['exceptions'][string];

interface Props {
  run: ComingRun;
  exception: Exception | undefined;
  /** Warnings of this run that the others do not share. */
  warnings: readonly string[];
  /** Left out where nothing may be changed. */
  onChange?: ((exception: Exception | null) => void) | undefined;
}

/** What can be done with one run alone: leave it out, move it, give it other dates. */
function Choices({ run, exception = {}, onChange, close }: Props & { close: () => void }) {
  const [moved, setMoved] = useState(exception.moved ?? run.local);
  const [covers, setCovers] = useState(exception.covers ?? { from: run.period.from, to: run.period.to });
  const set = (next: Exception | null) => {
    onChange!(next && Object.values(next).some((v) => v !== undefined) ? next : null);
    close();
  };
  return (
    <Stack gap={10}>
      <b>{dayWithYear(run.local.date)} alone</b>
      <div className="row" style={{ alignItems: 'end' }}>
        <DateField
          label="Send on"
          value={moved.date}
          onChange={(date) => {
            if (date) setMoved((m) => ({ ...m, date }));
          }}
        />
        <TextInput
          type="time"
          label="at"
          value={moved.time}
          onChange={(e) => {
            const time = e.currentTarget.value;
            if (time) setMoved((m) => ({ ...m, time }));
          }}
        />
        <Button size="sm" variant="outline" onClick={() => set({ ...exception, skipped: undefined, moved })}>
          Move it
        </Button>
      </div>
      <div className="row" style={{ alignItems: 'end' }}>
        <DateField
          label="Covers from"
          value={covers.from}
          onChange={(from) => {
            if (from) setCovers((c) => ({ ...c, from }));
          }}
        />
        <DateField
          label="to"
          value={covers.to}
          error={covers.to < covers.from ? 'The end date is before the start date.' : undefined}
          onChange={(to) => {
            if (to) setCovers((c) => ({ ...c, to }));
          }}
        />
        <Button
          size="sm"
          variant="outline"
          disabled={covers.to < covers.from}
          onClick={() => set({ ...exception, skipped: undefined, covers })}
        >
          Cover these
        </Button>
      </div>
      <div className="row">
        {!run.skipped && (
          <Button size="sm" variant="subtle" color="red" onClick={() => set({ skipped: true })}>
            Skip this run
          </Button>
        )}
        {Object.values(exception).some((v) => v !== undefined) && (
          <Button size="sm" variant="subtle" onClick={() => set(null)}>
            Reset to schedule
          </Button>
        )}
      </div>
    </Stack>
  );
}

/** One run to come: when, covering what, to how many, and what one ought to know of it. */
export function RunLine(props: Props) {
  const { run, warnings, onChange } = props;
  const [open, setOpen] = useState(false);
  const day = dayWithYear(run.local.date);
  return (
    <li className={run.skipped ? 'left-out' : undefined}>
      <span>
        <b>{day}</b> {run.local.time}
      </span>
      <span>{run.skipped ? '▬ skipped' : `covers ${run.period.label}`}</span>
      <span className="muted small">{run.skipped ? '' : plural(run.readers, 'reader')}</span>
      <span className="muted small run-acts">
        {run.skipped
          ? `would cover ${run.period.label}`
          : run.compared
            ? `compared with ${run.compared.label}`
            : 'no comparison'}
        {onChange && (
          <Popover
            trapFocus
            returnFocus
            opened={open}
            onChange={setOpen}
            position="bottom-end"
            width={440}
            transitionProps={{ duration: 0 }}
          >
            <Popover.Target>
              <button
                type="button"
                className="text-button"
                aria-label={`Change the run of ${plainDate(run.nominal)}`}
                aria-expanded={open}
                onClick={() => setOpen(!open)}
              >
                Change
              </button>
            </Popover.Target>
            <Popover.Dropdown aria-label={`The run of ${plainDate(run.nominal)}`}>
              <Choices {...props} close={() => setOpen(false)} />
            </Popover.Dropdown>
          </Popover>
        )}
      </span>
      {run.notes.map((n) => (
        <span key={n} className="remark calm">
          {n}
        </span>
      ))}
      {warnings.map((n) => (
        <span key={n} className="remark">
          {n}
        </span>
      ))}
    </li>
  );
}
