import type { Figures, MetricOffer } from '@chronicon/core/contract';
import { Button, Checkbox, TextInput } from '@mantine/core';
import { type FormEvent, memo, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { RowActions } from '../../parts/RowActions.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { dayWithYear, plainDate } from '../../parts/when.ts';
import { ExcludedDays } from './ExcludedDays.tsx';
import { ExcludeForm, type Excluding } from './ExcludeForm.tsx';

interface Note {
  id?: string;
  from: string;
  to: string;
  text: string;
  inReports: boolean;
}

/** A note on days: what happened, and whether readers see it. */
function NoteForm({ client, note, onDone }: { client: string; note: Note; onDone: () => void }) {
  const [from, setFrom] = useState(note.from);
  const [to, setTo] = useState(note.to);
  const [text, setText] = useState(note.text);
  const [inReports, setInReports] = useState(note.inReports);
  const save = useChange(async () => {
    const body = { from, to, text, inReports };
    if (note.id) {
      await call('PUT /api/clients/:client/notes/:note', { params: { client, note: note.id }, body });
    } else await call('POST /api/clients/:client/notes', { params: { client }, body });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="stack note-form" onSubmit={submit} noValidate aria-label="Note on days">
      <Unsaved when={text !== note.text && !save.isPending && !save.isSuccess} what="this note" />
      <TextInput
        label="What happened"
        placeholder="Tracking was down"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        error={fieldError(save.error, 'text')}
        autoFocus
      />
      <div className="row">
        <DateField
          label="First day"
          value={from}
          onChange={(date) => setFrom(date)}
          error={fieldError(save.error, 'from')}
        />
        <DateField label="Last day" value={to} onChange={(date) => setTo(date)} error={fieldError(save.error, 'to')} />
      </div>
      <Checkbox
        label="Show in reports"
        description={
          inReports
            ? 'Shown to readers at the foot of the page, next to the automatic unusual-day note.'
            : 'Only your agency sees it.'
        }
        checked={inReports}
        onChange={(e) => setInReports(e.currentTarget.checked)}
      />
      <FormEnd
        error={save.error}
        fields={['text', 'from', 'to']}
        pending={save.isPending}
        save="Save note"
        onCancel={onDone}
      />
    </form>
  );
}

type Suspect = Figures['suspects'][number];

const KINDS: Record<Suspect['kind'], string> = { zero: 'no activity', jump: 'jump', missing: 'missing' };

/** Days that look wrong, and what was noted of days: each with the way to say what happened. */
export const DayMarks = memo(function DayMarks({
  client,
  figures,
  offers,
  mayNote,
}: {
  client: string;
  figures: Figures;
  offers: readonly MetricOffer[];
  mayNote: boolean;
}) {
  const noted = (day: string) => figures.notes.some((n) => n.from <= day && day <= n.to);
  const days = [...new Set(figures.suspects.map((s) => s.day))].sort();
  const [open, setOpen] = useState<Note | null>(null);
  const [excluding, setExcluding] = useState<Excluding | null>(null);
  const say = (note: Note) => {
    setExcluding(null);
    setOpen(note);
  };
  const exclude = (days: Excluding) => {
    setOpen(null);
    setExcluding(days);
  };
  const remove = useChange((note: string) =>
    call('DELETE /api/clients/:client/notes/:note', { params: { client, note } }),
  );
  return (
    <section className="stack marks" aria-label="Unusual days and notes">
      <div className="row" style={{ justifyContent: 'space-between' }}>
        <h2>Unusual days and notes</h2>
        {mayNote && (
          <span className="row" style={{ gap: 4 }}>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => say({ from: figures.period.to, to: figures.period.to, text: '', inReports: false })}
            >
              Add note
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              onClick={() =>
                exclude({ from: figures.period.to, to: figures.period.to, metrics: [], reason: '', printed: true })
              }
            >
              Exclude days
            </Button>
          </span>
        )}
      </div>
      {days.length === 0 && figures.notes.length === 0 && figures.exclusions.length === 0 && (
        <span className="muted small">No unusual days or notes.</span>
      )}
      {days.slice(0, 12).map((day) => {
        const own = figures.suspects.filter((s) => s.day === day);
        return (
          <div key={day} className="mark-line">
            <span className="tone-wrong">
              ‡ {KINDS[own[0]!.kind]}
              {own.every((s) => s.side === 'compared') && ', compared'}
            </span>
            <span>
              <b>{dayWithYear(day)}</b> <span className="small">{[...new Set(own.map((s) => s.came))].join(', ')}</span>
            </span>
            {mayNote && (
              <span className="row" style={{ gap: 4, flexWrap: 'nowrap' }}>
                {!noted(day) && (
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={`Explain: ${dayWithYear(day)}`}
                    onClick={() => say({ from: day, to: day, text: '', inReports: true })}
                  >
                    Explain
                  </Button>
                )}
                <Button
                  size="compact-xs"
                  variant="subtle"
                  aria-label={`Exclude: ${dayWithYear(day)}`}
                  onClick={() => exclude({ from: day, to: day, metrics: [], reason: '', printed: true })}
                >
                  Exclude
                </Button>
              </span>
            )}
          </div>
        );
      })}
      {days.length > 12 && <span className="small muted">and {days.length - 12} more days</span>}
      {figures.notes.map((n) => (
        <div key={n.id} className="mark-line">
          <span className="tone-attention">◆ note</span>
          <span>
            <b>{n.from === n.to ? dayWithYear(n.from) : `${plainDate(n.from)} – ${plainDate(n.to)}`}</b>{' '}
            <span className="small">
              {n.text} <span className="muted">({n.inReports ? 'in reports' : 'internal'})</span>
            </span>
          </span>
          {mayNote && <RowActions name={n.text} onChange={() => say(n)} onRemove={() => remove.mutate(n.id)} />}
        </div>
      ))}
      <ExcludedDays
        client={client}
        exclusions={figures.exclusions}
        offers={offers}
        mayChange={mayNote}
        onChange={exclude}
      />
      <Notice error={remove.error} />
      {excluding && (
        <ExcludeForm
          key={excluding.id ?? excluding.from}
          client={client}
          days={excluding}
          offers={offers}
          onDone={() => setExcluding(null)}
        />
      )}
      {open && <NoteForm key={open.id ?? open.from} client={client} note={open} onDone={() => setOpen(null)} />}
    </section>
  );
});
