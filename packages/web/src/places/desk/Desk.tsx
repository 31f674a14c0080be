import type { Need, SheetLine } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { longDay, plural, shortDay } from '../../parts/when.ts';
import { useScope } from '../../shell/scope.ts';

type DeskData = Reply<'GET /api/desk'>;

function Line({ line }: { line: SheetLine }) {
  const to = line.editionId ? `/archive?edition=${line.editionId}` : `/schedules/${line.scheduleId}`;
  return (
    <Link className="sheet-line" to={to}>
      <span>{line.local.time}</span>
      <span className="chip" style={{ background: line.colour }} />
      <span>
        {line.clientName} · <b>{line.title}</b>
      </span>
      <span className="muted small">
        {line.periodLabel} · {plural(line.readers, 'reader')}
      </span>
      <StateMark state={line.state} />
    </Link>
  );
}

const dayName = (date: string, today: string): string => {
  const days = (Date.parse(date) - Date.parse(today)) / 86_400_000;
  if (days === -1) return 'Yesterday';
  if (days === 0) return 'Today';
  return days === 1 ? 'Tomorrow' : longDay(date).split(' ')[0]!.replace(',', '');
};

function NowLine({ time }: { time: string }) {
  return (
    <div className="now-line">
      {time}
      <hr />
    </div>
  );
}

function Day({ day, data }: { day: DeskData['days'][number]; data: DeskData }) {
  const isToday = day.date === data.today;
  const past = day.lines.filter((l) => l.at <= data.now);
  const ahead = day.lines.filter((l) => l.at > data.now);
  return (
    <section className="day" aria-label={longDay(day.date)}>
      <div className="day-name">
        <b>{dayName(day.date, data.today)}</b>
        <span className="muted small">{shortDay(day.date)}</span>
      </div>
      <div>
        {past.map((l) => (
          <Line key={l.key} line={l} />
        ))}
        {isToday && <NowLine time={data.time} />}
        {ahead.map((l) => (
          <Line key={l.key} line={l} />
        ))}
        {day.lines.length === 0 && !isToday && <span className="muted small">Nothing goes out.</span>}
      </div>
    </section>
  );
}

function Needs({ needs }: { needs: Need[] }) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState(-1);
  const move = (by: number) => setChosen((n) => Math.max(0, Math.min(needs.length - 1, n + by)));
  useHotkeys([
    ['J', () => move(1)],
    ['K', () => move(-1)],
    ['Enter', () => needs[chosen] && navigate(needs[chosen].action.to)],
  ]);
  if (needs.length === 0) {
    return <p className="card muted">Nothing waits for you. What goes out is on the left.</p>;
  }
  return (
    <ul className="needs">
      {needs.map((need, i) => (
        <li key={need.key} className={`need ${need.tone}${i === chosen ? ' chosen' : ''}`}>
          <p>
            <b>{need.title}</b>
            <span className="muted small">{need.reason}</span>
          </p>
          <Button
            component={Link}
            to={need.action.to}
            variant={need.tone === 'wrong' ? 'filled' : 'outline'}
            style={{ flex: 'none' }}
          >
            {need.action.label}
          </Button>
        </li>
      ))}
    </ul>
  );
}

function summary(data: DeskData): string {
  const today = data.days.find((d) => d.date === data.today)?.lines ?? [];
  const held = today.filter((l) => l.state === 'held').length;
  const sent = today.filter((l) => l.state === 'sent' || l.state === 'part-sent').length;
  return [`${plural(today.length, 'edition')} today`, `${sent} sent`, ...(held > 0 ? [`${held} held`] : [])].join(
    ' · ',
  );
}

/** What needs me now, and what goes out. */
export function Desk() {
  const scope = useScope();
  const desk = useGet('GET /api/desk', { query: { client: scope ?? undefined } }, { refetchInterval: 15_000 });
  if (desk.error) return <Notice error={desk.error} />;
  return (
    <main className="place columns">
      <section>
        <div className="place-head">
          <h1>{desk.data ? longDay(desk.data.today) : 'Desk'}</h1>
          {desk.data && <span className="muted small">{summary(desk.data)}</span>}
        </div>
        {desk.data ? desk.data.days.map((d) => <Day key={d.date} day={d} data={desk.data} />) : <Loading />}
      </section>
      <section aria-label="Needs you">
        <div className="place-head">
          <h1>Needs you</h1>
          {desk.data && (
            <span className="muted small">
              {desk.data.needs.length} · <kbd>J</kbd> <kbd>K</kbd> move · <kbd>Enter</kbd> opens
            </span>
          )}
        </div>
        {desk.data ? <Needs needs={desk.data.needs} /> : <Loading lines={4} />}
      </section>
    </main>
  );
}
