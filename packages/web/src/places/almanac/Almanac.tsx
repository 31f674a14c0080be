import type { AlmanacMark, ScheduleInput } from '@chronicon/core/contract';
import { DndContext, type DragEndEvent, PointerSensor, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import { Button, Checkbox } from '@mantine/core';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { SearchField } from '../../parts/SearchField.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { monthOf, plainDate, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { AlmanacHead } from './AlmanacHead.tsx';
import { dayOfMonth, daysAfter, daysBetween, weekdayLetter } from './days.ts';
import { Mark, type RunChange } from './Mark.tsx';
import { useAddress } from './useAddress.ts';

const ZOOMS = [
  { value: '5', label: 'Five weeks' },
  { value: '13', label: 'A quarter' },
] as const;

/** By the keyboard, a run is opened, and moved from there. */
const SAID = { draggable: 'Press Enter to view, move or skip this run.' };

/** What was done last with a run, and how it was before: to be taken back. */
interface Done {
  text: string;
  schedule: string;
  nominal: string;
  before: ScheduleInput['exceptions'][string];
}

/** A day of a client, onto which its runs can be dropped. */
function Day({ client, date, look, children }: { client: string; date: string; look: string; children: ReactNode }) {
  const { setNodeRef, isOver, active } = useDroppable({ id: `${client} ${date}`, data: { client, date } });
  const fits = active?.data.current?.client === client;
  return (
    <td ref={setNodeRef} className={`${look}${isOver ? (fits ? ' over' : ' never') : ''}`}>
      {children}
    </td>
  );
}

/** Months over their days. */
function months(days: readonly string[]): { label: string; count: number }[] {
  const found: { label: string; count: number }[] = [];
  for (const day of days) {
    const label = monthOf(day);
    if (found.at(-1)?.label === label) found.at(-1)!.count++;
    else found.push({ label, count: 1 });
  }
  return found;
}

/** What goes out on which day, by client; runs are moved by dragging them, or from what opens on them. */
export function Almanac() {
  const { of, set, scope } = useAddress();
  const { member } = useSession();
  const may = member.role === 'owner' || member.role === 'manager';
  const [done, setDone] = useState<Done | null>(null);
  const weeks = of('weeks') === '13' ? '13' : '5';
  const page = of('page');
  const almanac = useGet(
    'GET /api/almanac',
    {
      query: {
        ...scope,
        weeks,
        ...(of('from') && { from: of('from') }),
        ...(of('text') && { text: of('text') }),
        ...(of('empty') && { empty: 'true' }),
        ...(page && { page }),
      } as never,
    },
    { live: true, keep: true },
  );
  const change = useChange(async ({ mark, to }: { mark: AlmanacMark; to: RunChange }) => {
    const params = { schedule: mark.scheduleId!, nominal: mark.nominal! };
    const now = await call('GET /api/schedules/:schedule', { params: { schedule: mark.scheduleId! } });
    const before = now.input.exceptions[mark.nominal!] ?? {};
    // What it covers is its own affair: moving it leaves that as it is.
    const body = to.moved ? { ...before, skipped: undefined, moved: to.moved } : to;
    await call('PUT /api/schedules/:schedule/runs/:nominal', { params, body });
    return { mark, to, before };
  });
  const back = useChange((d: Done) =>
    call('PUT /api/schedules/:schedule/runs/:nominal', {
      params: { schedule: d.schedule, nominal: d.nominal },
      body: d.before,
    }),
  );
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const act = (mark: AlmanacMark, to: RunChange) => {
    setDone(null);
    change.mutate(
      { mark, to },
      {
        onSuccess: ({ before }) => {
          const what = to.skipped
            ? 'is skipped'
            : to.moved
              ? `will run on ${plainDate(to.moved.date)} at ${to.moved.time}`
              : 'follows its schedule';
          const covers = mark.period ? ` It still covers ${mark.period}.` : '';
          setDone({
            text: `${mark.title} of ${plainDate(mark.date)} ${what}.${to.moved ? covers : ''}`,
            schedule: mark.scheduleId!,
            nominal: mark.nominal!,
            before,
          });
        },
      },
    );
  };
  const drop = ({ active, over }: DragEndEvent) => {
    const held = active.data.current as { mark: AlmanacMark; client: string } | undefined;
    const onto = over?.data.current as { client: string; date: string } | undefined;
    if (!held || !onto || held.client !== onto.client || held.mark.date === onto.date || !held.mark.clock) return;
    const { date, time } = held.mark.clock;
    act(held.mark, { moved: { date: daysAfter(date, daysBetween(held.mark.date, onto.date)), time } });
  };
  const { data } = almanac;
  const days = data ? Array.from({ length: Number(weeks) * 7 }, (_, i) => daysAfter(data.from, i)) : [];
  const step = weeks === '5' ? 4 * 7 : 12 * 7;
  const lookOf = (day: string) =>
    [
      'al-day',
      data!.free.includes(day) ? 'free' : '',
      day === data!.today ? 'today' : '',
      daysBetween(data!.from, day) % 7 === 0 ? 'first' : '',
    ]
      .filter((c) => c)
      .join(' ');
  return (
    <main className="place">
      <AlmanacHead title="Almanac" />
      <div className="row tools">
        <Choice label="Span" options={ZOOMS} value={weeks} onChange={(w) => set({ weeks: w === '5' ? '' : w })} />
        <Button variant="default" onClick={() => data && set({ from: daysAfter(data.from, -step) })} disabled={!data}>
          Earlier
        </Button>
        <Button variant="default" onClick={() => set({ from: '' })} disabled={of('from') === ''}>
          Today
        </Button>
        <Button variant="default" onClick={() => data && set({ from: daysAfter(data.from, step) })} disabled={!data}>
          Later
        </Button>
        <SearchField label="Find a client" value={of('text')} onChange={(text) => set({ text })} />
        <Checkbox
          checked={of('empty') !== ''}
          onChange={(e) => set({ empty: e.currentTarget.checked ? 'yes' : '' })}
          label={data && data.empty > 0 ? `Nothing planned: ${plural(data.empty, 'client')}` : 'Nothing planned'}
        />
      </div>
      <Notice error={almanac.error ?? change.error ?? back.error} />
      {done && (
        <div className="note small row" role="status">
          <span>{done.text}</span>
          <Button
            size="compact-sm"
            variant="outline"
            loading={back.isPending}
            onClick={() => back.mutate(done, { onSuccess: () => setDone(null) })}
          >
            Undo
          </Button>
        </div>
      )}
      {!data && !almanac.error && <Loading lines={12} />}
      {data && data.clients.length === 0 && (
        <p className="muted">{of('empty') ? 'Every client has something scheduled.' : 'No matching clients.'}</p>
      )}
      {data && data.clients.length > 0 && (
        <DndContext sensors={sensors} onDragEnd={drop} accessibility={{ screenReaderInstructions: SAID }}>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so the keyboard has to reach it */}
          <section className="almanac-well" aria-label="Runs by client and day" tabIndex={0}>
            <table className={`almanac weeks-${weeks}`}>
              <thead>
                <tr>
                  <th rowSpan={2} scope="col">
                    Client
                  </th>
                  {months(days).map((m) => (
                    <th key={m.label} colSpan={m.count} scope="colgroup" className="month">
                      {m.count > 3 ? m.label : ''}
                    </th>
                  ))}
                </tr>
                <tr>
                  {weeks === '5' &&
                    days.map((day) => (
                      <th key={day} scope="col" className={lookOf(day)} title={plainDate(day)}>
                        <span className="weekday">{weekdayLetter(day)}</span>
                        {dayOfMonth(day)}
                      </th>
                    ))}
                  {weeks === '13' &&
                    days
                      .filter((day) => daysBetween(data.from, day) % 7 === 0)
                      .map((day) => (
                        <th key={day} colSpan={7} scope="colgroup" className="week al-day first">
                          {dayOfMonth(day)}
                        </th>
                      ))}
                </tr>
              </thead>
              <tbody>
                {data.clients.map((c) => (
                  <tr key={c.id} className={c.marks.every((m) => m.state === 'skipped') ? 'bare' : undefined}>
                    <th scope="row">
                      <span className="swatch" style={{ background: c.colour }} />
                      <Link className="name-link" to={`/clients/${c.id}/schedules`}>
                        {c.name}
                      </Link>
                      {c.marks.length === 0 && <div className="tone-attention small">nothing planned</div>}
                    </th>
                    {days.map((day) => (
                      <Day key={day} client={c.id} date={day} look={lookOf(day)}>
                        {c.marks
                          .filter((m) => m.date === day)
                          .map((m) => (
                            <Mark key={m.key} mark={m} client={c.id} may={may} onChange={act} />
                          ))}
                      </Day>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        </DndContext>
      )}
      {data && <Pages of={data} page={page} onPage={(p) => set({ page: p })} />}
      <p className="legend small">
        {(['planned', 'review', 'ready', 'sent', 'held', 'skipped'] as const).map((s) => (
          <StateMark key={s} state={s} />
        ))}
        {may && <span className="muted">Drag a run to another day of its client, or open it.</span>}
      </p>
    </main>
  );
}
