import type { AlmanacMark } from '@chronicon/core/contract';
import { STATE_LABELS } from '@chronicon/core/contract/stateLabels';
import { useDraggable } from '@dnd-kit/core';
import { Button, Popover, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { DateField } from '../../parts/DateField.tsx';
import { StateMark, StateShape } from '../../parts/StateMark.tsx';
import { longDay } from '../../parts/when.ts';

/** What is done with one run from the calendar. */
export type RunChange = { skipped?: true; moved?: { date: string; time: string } };

interface Props {
  mark: AlmanacMark;
  client: string;
  may: boolean;
  onChange: (mark: AlmanacMark, change: RunChange) => void;
}

const NAMED = 6;
const toWords = (readers: readonly string[]): string => {
  const more = readers.length - NAMED;
  return `to ${readers.slice(0, NAMED).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
};

function Details({ mark, may, onChange, close }: Omit<Props, 'client'> & { close: () => void }) {
  const [moved, setMoved] = useState(mark.clock);
  const act = (change: RunChange) => {
    onChange(mark, change);
    close();
  };
  return (
    <Stack gap={8}>
      <b>{mark.title}</b>
      <span>
        {longDay(mark.date)}, {mark.time} <StateMark state={mark.state} />
      </span>
      {mark.period && <span>covers {mark.period}</span>}
      <span className="muted small">
        {mark.state === 'skipped'
          ? 'skipped: nothing is sent'
          : mark.readers.length === 0
            ? 'to nobody'
            : toWords(mark.readers)}
      </span>
      {mark.warnings.map((w) => (
        <span key={w} className="tone-attention small">
          {w}
        </span>
      ))}
      {may && mark.movable && moved && (
        <div className="row" style={{ alignItems: 'end' }}>
          <DateField
            label="Move it to"
            value={moved.date}
            onChange={(date) => {
              if (date) setMoved({ ...moved, date });
            }}
          />
          <TextInput
            type="time"
            label="at"
            value={moved.time}
            onChange={(e) => {
              const time = e.currentTarget.value;
              if (time) setMoved({ ...moved, time });
            }}
          />
          <Button size="sm" variant="outline" onClick={() => act({ moved })}>
            Move
          </Button>
        </div>
      )}
      <div className="row">
        {mark.editionId && (
          <Link to={`/editions/${mark.editionId}`}>
            {mark.state === 'review' ? 'Review and approve' : 'View edition'}
          </Link>
        )}
        {mark.scheduleId && <Link to={`/schedules/${mark.scheduleId}`}>View schedule</Link>}
        {may && mark.movable && (
          <Button size="compact-sm" variant="subtle" color="red" onClick={() => act({ skipped: true })}>
            Skip this run
          </Button>
        )}
        {may && mark.nominal && (mark.changed || mark.state === 'skipped') && mark.state !== 'sent' && (
          <Button size="compact-sm" variant="subtle" onClick={() => act({})}>
            Reset to schedule
          </Button>
        )}
      </div>
    </Stack>
  );
}

/** One run on its day: its state as a shape; what it covers and whom it reaches when it is opened or pointed at. */
export function Mark({ mark, client, may, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const { setNodeRef, listeners, attributes, isDragging } = useDraggable({
    id: mark.key,
    data: { mark, client },
    disabled: !may || !mark.movable,
  });
  const about = `${mark.title}, ${longDay(mark.date)}, ${mark.time}: ${STATE_LABELS[mark.state]}`;
  const { role: _, 'aria-disabled': __, ...grip } = attributes;
  return (
    <Popover
      trapFocus
      returnFocus
      opened={open}
      onChange={setOpen}
      width={430}
      position="bottom"
      transitionProps={{ duration: 0 }}
    >
      <Popover.Target>
        <button
          ref={setNodeRef}
          type="button"
          {...grip}
          {...listeners}
          className={`mark${isDragging ? ' held' : ''}${mark.warnings.length > 0 ? ' warned' : ''}${mark.changed ? ' changed' : ''}`}
          aria-label={about}
          aria-expanded={open}
          title={[
            about,
            mark.period && `covers ${mark.period}`,
            mark.readers.length > 0 ? toWords(mark.readers) : '',
            ...mark.warnings,
          ]
            .filter((t) => t !== '')
            .join('\n')}
          onClick={() => setOpen(!open)}
        >
          <StateShape state={mark.state} />
        </button>
      </Popover.Target>
      <Popover.Dropdown aria-label={mark.title}>
        <Details mark={mark} may={may} onChange={onChange} close={() => setOpen(false)} />
      </Popover.Dropdown>
    </Popover>
  );
}
