import type { Holiday } from '@chronicon/core/contract';
import { Button, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { RowActions } from '../../parts/RowActions.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { plural } from '../../parts/when.ts';
import { DaysEditor } from './DaysEditor.tsx';
import type { PartProps } from './part.ts';
import { Saved } from './Saved.tsx';

type Calendar = Reply<'GET /api/calendars'>[number];

function CalendarForm({ calendar, onDone }: { calendar: Calendar | null; onDone: () => void }) {
  const begin = { name: calendar?.name ?? '', days: calendar?.days ?? [] };
  const [input, setInput] = useState(begin);
  const save = useChange(() =>
    calendar
      ? call('PUT /api/calendars/:calendar', { params: { calendar: calendar.id }, body: input })
      : call('POST /api/calendars', { body: input }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{calendar ? `Change ${calendar.name}` : 'New calendar'}</h2>
      <Unsaved
        when={JSON.stringify(input) !== JSON.stringify(begin) && !save.isPending && !save.isSuccess}
        what="your changes to the calendar"
      />
      <TextInput
        label="Name"
        placeholder="Place"
        value={input.name}
        onChange={(e) => {
          const { value } = e.currentTarget;
          setInput((i) => ({ ...i, name: value }));
        }}
        error={fieldError(save.error, 'name')}
      />
      <DaysEditor days={input.days} onChange={(days) => setInput((i) => ({ ...i, days }))} />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} onCancel={onDone} />
    </form>
  );
}

/** The days on which the agency does not work, and calendars for clients that keep others. */
export function HolidaysPart({ data, mayChange }: PartProps) {
  const [days, setDays] = useState<Holiday[]>(data.holidays);
  const changed = JSON.stringify(days) !== JSON.stringify(data.holidays);
  const calendars = useGet('GET /api/calendars');
  const [editing, setEditing] = useState<string | null>(null);
  const save = useChange(() => call('PUT /api/agency/holidays', { body: { holidays: days } }));
  const remove = useChange((calendar: string) => call('DELETE /api/calendars/:calendar', { params: { calendar } }));
  const edited = calendars.data?.find((c) => c.id === editing) ?? null;
  return (
    <div className="columns even">
      <section className="card stack" aria-label="Holidays of the agency">
        <h2>Holidays of the agency</h2>
        <p className="muted small">Working-day schedules skip these days, and they’re never flagged as unusual.</p>
        <Unsaved when={changed && !save.isPending} what="the changed holidays" />
        <DaysEditor days={days} disabled={!mayChange} onChange={setDays} />
        <Notice error={save.error} />
        {mayChange && (
          <div className="row">
            <Button disabled={!changed} loading={save.isPending} onClick={() => save.mutate()}>
              Save holidays
            </Button>
            {changed && (
              <Button variant="subtle" onClick={() => setDays(data.holidays)}>
                Discard changes
              </Button>
            )}
            <Saved when={save.isSuccess && !changed}>Saved. Schedules use them now.</Saved>
          </div>
        )}
      </section>
      <section className="stack" aria-label="Calendars of other places">
        <div className="card stack">
          <h2>Calendars of other places</h2>
          <p className="muted small">Choose one in a client’s setup if it doesn’t follow the agency’s holidays.</p>
          <Notice error={remove.error} />
          {calendars.data && calendars.data.length > 0 && (
            <table className="list">
              <thead>
                <tr>
                  <th>Calendar</th>
                  <th>Days</th>
                  <th>Used by</th>
                  <th>
                    <span className="reading-only">Actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {calendars.data.map((c) => (
                  <tr key={c.id}>
                    <td>
                      <b>{c.name}</b>
                    </td>
                    <td>{c.days.length}</td>
                    <td>{c.clients.length + c.others === 0 ? '–' : plural(c.clients.length + c.others, 'client')}</td>
                    <td style={{ textAlign: 'right' }}>
                      <RowActions
                        name={c.name}
                        onChange={() => setEditing(c.id)}
                        onRemove={c.clients.length + c.others === 0 ? () => remove.mutate(c.id) : undefined}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {editing === null && (
            <div>
              <Button variant="outline" onClick={() => setEditing('new')}>
                New calendar
              </Button>
            </div>
          )}
        </div>
        {editing !== null && <CalendarForm key={editing} calendar={edited} onDone={() => setEditing(null)} />}
      </section>
    </div>
  );
}
