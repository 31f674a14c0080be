import { HOLIDAY_NAME } from '@chronicon/core/bounds';
import type { Holiday } from '@chronicon/core/contract';
import { Button, FileButton, TextInput } from '@mantine/core';
import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useAct } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';

/** In order, each day once; of two names the later stands. */
const merged = (days: readonly Holiday[]): Holiday[] =>
  [...new Map(days.map((d) => [d.date, d])).values()].sort((a, b) => (a.date < b.date ? -1 : 1));

interface Props {
  days: readonly Holiday[];
  disabled?: boolean;
  onChange: (days: Holiday[]) => void;
}

/** Days with names: typed in, or out of an iCalendar file; nothing is kept before it is saved. */
export function DaysEditor({ days, disabled = false, onChange }: Props) {
  const [date, setDate] = useState('');
  const [name, setName] = useState('');
  const [read, setRead] = useState<{ days: Holiday[]; leftOut: string[] } | null>(null);
  const bring = useAct(async (file: File) =>
    setRead(await call('POST /api/calendars/read', { body: { text: await file.text() } })),
  );
  const add = () => {
    onChange(merged([...days, { date, name: name.trim() }]));
    setDate('');
    setName('');
  };
  return (
    <div className="stack">
      {days.length === 0 ? (
        <p className="muted">No days yet.</p>
      ) : (
        <ScrollBox label="Holidays" short>
          <table className="list">
            <tbody>
              {days.map((d) => (
                <tr key={d.date}>
                  <td style={{ whiteSpace: 'nowrap' }}>{dayWithYear(d.date)}</td>
                  <td>{d.name}</td>
                  <td style={{ textAlign: 'right' }}>
                    {!disabled && (
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        color="red"
                        aria-label={`Remove ${d.name || dayWithYear(d.date)}`}
                        onClick={() => onChange(days.filter((k) => k.date !== d.date))}
                      >
                        Remove
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </ScrollBox>
      )}
      {!disabled && (
        <div className="row" style={{ alignItems: 'end' }}>
          <DateField label="Day" value={date} onChange={(date) => setDate(date)} optional />
          <TextInput
            label="Holiday"
            maxLength={HOLIDAY_NAME}
            value={name}
            onChange={(e) => setName(e.currentTarget.value)}
          />
          <Button variant="default" disabled={date === ''} onClick={add}>
            Add day
          </Button>
          <FileButton accept=".ics,text/calendar" onChange={(file) => file && bring.mutate(file)}>
            {(props) => (
              <Button {...props} variant="subtle" loading={bring.isPending}>
                Import an iCalendar file
              </Button>
            )}
          </FileButton>
        </div>
      )}
      <Notice error={formError(bring.error, [])}>{fieldError(bring.error, 'text')}</Notice>
      {read && (
        <div className="note stack" role="status">
          <span>
            The file holds {plural(read.days.length, 'day')}
            {read.days.length > 0 &&
              `, from ${dayWithYear(read.days[0]!.date)} to ${dayWithYear(read.days.at(-1)!.date)}`}
            .{read.leftOut.length > 0 && ` Skipped: ${read.leftOut.slice(0, 5).join(' ')}`}
          </span>
          <div className="row">
            <Button
              size="xs"
              disabled={read.days.length === 0}
              onClick={() => {
                onChange(merged([...days, ...read.days]));
                setRead(null);
              }}
            >
              Add {plural(read.days.length, 'day')}
            </Button>
            <Button size="xs" variant="subtle" onClick={() => setRead(null)}>
              Cancel
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}
