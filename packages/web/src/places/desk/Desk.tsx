import type { Need, SheetLine } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { longDay, momentOf, plural, shortDay, zoneWords } from '../../parts/when.ts';
import { useGroupScope, useScope } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { WriteHere } from './WriteHere.tsx';

type DeskData = Reply<'GET /api/desk'>;

function Line({ line }: { line: SheetLine }) {
  const to = line.editionId ? `/editions/${line.editionId}` : `/schedules/${line.scheduleId}`;
  return (
    <Link className="sheet-line" to={to}>
      <span>
        {line.local.time}
        {line.there && <span className="muted small there">{line.there}</span>}
      </span>
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
        {day.more > 0 && (
          <Link className="muted small" to="/archive">
            and {day.more} more
          </Link>
        )}
        {day.lines.length === 0 && !isToday && <span className="muted small">Nothing scheduled.</span>}
      </div>
    </section>
  );
}

const SHOWN = 3;

/** What a cause holds up, and by when. */
function Holds({ need }: { need: Need }) {
  const { editions, deadline } = need;
  const others = editions.filter((e) => !need.title.startsWith(e.label));
  if (others.length === 0) return deadline ? <span className="small deadline">due {momentOf(deadline)}</span> : null;
  const rest = others.length - SHOWN;
  return (
    <span className="small deadline">
      {need.missed ? '' : 'Blocking '}
      {others
        .slice(0, SHOWN)
        .map((e) => `${e.label} (${momentOf(e.at)})`)
        .join('; ')}
      {rest > 0 && ` and ${rest} more`}
    </span>
  );
}

/** Runs that were missed: made for their dates, or put away, all at once. */
function Missed({ need, onDone }: { need: Need; onDone: () => void }) {
  const editions = need.editions.map((e) => e.id).slice(0, 200);
  const make = useChange(() => call('POST /api/editions/take-up', { body: { editions } }));
  const away = useChange(() => call('POST /api/editions/put-away', { body: { editions } }));
  return (
    <>
      <Button variant="subtle" loading={make.isPending} onClick={() => make.mutate(undefined, { onSuccess: onDone })}>
        {editions.length === 1 ? 'Create it' : 'Create all'}
      </Button>
      <Button variant="subtle" loading={away.isPending} onClick={() => away.mutate(undefined, { onSuccess: onDone })}>
        Dismiss
      </Button>
      <Notice error={make.error ?? away.error} />
    </>
  );
}

function Needs({ needs }: { needs: Need[] }) {
  const navigate = useNavigate();
  const { member } = useSession();
  const mayRelease = member.role === 'owner' || member.role === 'manager';
  const [chosen, setChosen] = useState(-1);
  const [writing, setWriting] = useState<string | null>(null);
  const list = useRef<HTMLUListElement>(null);
  const move = (by: number) => setChosen((n) => Math.max(0, Math.min(needs.length - 1, n + by)));
  const open = (need: Need | undefined) => {
    if (need?.write) setWriting(need.key);
    else if (need) navigate(need.action.to);
  };
  useHotkeys([
    ['J', () => move(1)],
    ['K', () => move(-1)],
    ['Enter', () => open(needs[chosen])],
  ]);
  // Of what is done the next one is at hand: its first button has the focus, or its words are open.
  const keys = needs.map((n) => n.key).join(' ');
  const done = useRef<{ at: number; opens: boolean } | null>(null);
  const finish = (at: number, opens: boolean) => {
    done.current = { at, opens };
    setWriting(null);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once the list is another one
  useEffect(() => {
    const last = done.current;
    if (!last) return;
    done.current = null;
    const at = Math.min(last.at, needs.length - 1);
    setChosen(at);
    const next = needs[at];
    if (last.opens && next?.write) setWriting(next.key);
    else list.current?.querySelectorAll('li')[at]?.querySelector<HTMLElement>('a, button')?.focus();
  }, [keys]);
  if (needs.length === 0) {
    return <p className="card muted">You’re all caught up. Upcoming editions are on the left.</p>;
  }
  return (
    <ul className="needs" ref={list}>
      {needs.map((need, i) => (
        <li
          key={need.key}
          className={`need ${need.tone}${need.missed || writing === need.key ? ' wide' : ''}${i === chosen ? ' chosen' : ''}`}
        >
          <p>
            <b>{need.title}</b>
            <span className="muted small">{need.reason}</span>
            <Holds need={need} />
          </p>
          {need.write && writing === need.key ? (
            <WriteHere need={need} write={need.write} mayRelease={mayRelease} onDone={() => finish(i, true)} />
          ) : (
            <div className="row">
              {need.write && member.role !== 'reviewer' ? (
                <Button variant="outline" onClick={() => setWriting(need.key)}>
                  {need.action.label}
                </Button>
              ) : (
                <Button component={Link} to={need.action.to} variant={need.tone === 'wrong' ? 'filled' : 'outline'}>
                  {need.action.label}
                </Button>
              )}
              {need.missed && <Missed need={need} onDone={() => finish(i, false)} />}
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}

function summary(data: DeskData): string {
  const today = data.days.find((d) => d.date === data.today)?.lines ?? [];
  const held = today.filter((l) => l.state === 'held').length;
  const sent = today.filter((l) => l.state === 'sent' || l.state === 'part-sent').length;
  const total = today.length + (data.days.find((d) => d.date === data.today)?.more ?? 0);
  return [`${plural(total, 'edition')} today`, `${sent} sent`, ...(held > 0 ? [`${held} on hold`] : [])].join(' · ');
}

/** What needs me now, and what goes out. */
export function Desk() {
  const [client, scope] = [useScope(), useGroupScope()];
  const desk = useGet('GET /api/desk', { query: { client: client ?? undefined, scope } }, { live: true });
  if (desk.error) return <Notice error={desk.error} />;
  return (
    <main className="place columns">
      <section>
        <div className="place-head">
          <PageTitle of={['Desk']} />
          <h1>{desk.data ? longDay(desk.data.today) : 'Desk'}</h1>
          {desk.data && <span className="muted small">{`${summary(desk.data)} · ${zoneWords(desk.data.zone)}`}</span>}
        </div>
        {desk.data ? desk.data.days.map((d) => <Day key={d.date} day={d} data={desk.data} />) : <Loading />}
      </section>
      <section aria-label="Needs attention">
        <div className="place-head">
          <h1>Needs attention</h1>
          {desk.data && (
            <span className="muted small">
              {desk.data.needs.length + desk.data.moreNeeds} · <kbd>J</kbd> <kbd>K</kbd> move · <kbd>Enter</kbd> opens
            </span>
          )}
        </div>
        {desk.data ? <Needs needs={desk.data.needs} /> : <Loading lines={4} />}
      </section>
    </main>
  );
}
