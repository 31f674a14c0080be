import type { ScheduleInput, ScheduleRow } from '@chronicon/core/contract';
import { Button, Checkbox, NativeSelect } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { periodWords } from '../../parts/periods.ts';
import { SearchField } from '../../parts/SearchField.tsx';
import { StateShape } from '../../parts/StateMark.tsx';
import { momentOf, plainDate, plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { SIGN_OFF_WORDS } from '../schedule/partWords.ts';
import { ruleWords } from '../schedule/ruleWords.ts';
import { AlmanacHead } from './AlmanacHead.tsx';
import { ManyActs } from './ManyActs.tsx';
import { RecentActs } from './RecentActs.tsx';
import { useAddress } from './useAddress.ts';

const RHYTHMS = [
  { value: '', label: 'any rhythm' },
  { value: 'daily', label: 'every day' },
  { value: 'workdays', label: 'working days' },
  { value: 'weekly', label: 'weekly' },
  { value: 'monthly', label: 'monthly' },
  { value: 'quarterly', label: 'quarterly' },
  { value: 'yearly', label: 'yearly' },
  { value: 'once', label: 'once' },
];
const STATES = [
  { value: '', label: 'any state' },
  { value: 'runs', label: 'that run' },
  { value: 'paused', label: 'paused' },
  { value: 'over', label: 'over' },
];

function readersOf(s: ScheduleRow): string {
  if (s.groups > 0) return `${plural(s.groups, 'group')}, ${plural(s.readers.length, 'reader')}`;
  if (s.readers.length === 0) return s.archive ? 'nobody: archive' : 'nobody yet';
  const more = s.readers.length - 2;
  return `${s.readers.slice(0, 2).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}

function Row({ s, chosen, onChoose }: { s: ScheduleRow; chosen: boolean; onChoose: (() => void) | null }) {
  return (
    <tr className={chosen ? 'open' : undefined}>
      <td>
        {onChoose && (
          <Checkbox
            size="xs"
            aria-label={`Choose ${s.title} of ${s.clientName}`}
            checked={chosen}
            onChange={onChoose}
          />
        )}
      </td>
      <td>
        <span className="swatch" style={{ background: s.colour }} />
        <Link className="name-link" to={`/schedules/${s.id}`}>
          {s.clientName}
        </Link>
        <div className="small">{s.title}</div>
      </td>
      <td>
        {ruleWords(s.rule as ScheduleInput['rule'])}, {s.time}
        <div className="muted small">
          covers {periodWords(s.period as ScheduleInput['period'])}; {SIGN_OFF_WORDS[s.signOff.rule]}
        </div>
      </td>
      <td>{readersOf(s)}</td>
      <td style={{ whiteSpace: 'nowrap' }}>
        {s.last ? (
          <Link to={`/editions/${s.last.editionId}`} className="name-link">
            <StateShape state={s.last.state} /> {momentOf(s.last.at)}
          </Link>
        ) : (
          <span className="muted">none yet</span>
        )}
        <div className="muted small">{plural(s.editions, 'edition')}</div>
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        {s.next ? momentOf(s.next) : <span className="muted">none</span>}
        {s.state === 'paused' && <div className="tone-attention small">■ paused {s.why}</div>}
        {s.state === 'over' && <div className="muted small">▬ ended {s.why}</div>}
        {s.endsSoon && <div className="tone-attention small">▲ ends {plainDate(s.lastDate!)}</div>}
      </td>
    </tr>
  );
}

/** All schedules, for finding some and doing one thing with all of them. */
export function AllSchedules() {
  const { of, set, scope } = useAddress();
  const { member } = useSession();
  const may = member.role === 'owner' || member.role === 'manager';
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const colleagues = useGet('GET /api/colleagues').data ?? [];
  const page = of('page');
  const keys = ['text', 'reader', 'rhythm', 'manager', 'state'] as const;
  const query = {
    ...scope,
    ...Object.fromEntries(keys.flatMap((k) => (of(k) ? [[k, of(k)]] : []))),
    ...(of('ending') && { ending: 'true' }),
    ...(page && { page }),
  };
  const found = useGet('GET /api/schedules', { query: query as never }, { live: true, keep: true });
  const { data } = found;
  // What is not in sight any more is not done anything with.
  const inReach = new Set(data ? [...data.all, ...data.schedules.map((s) => s.id)] : []);
  const inSight = [...inReach].filter((id) => chosen.has(id));
  const choose = (ids: readonly string[], on: boolean) =>
    setChosen((before) => {
      const next = new Set(before);
      for (const id of ids) {
        if (on) next.add(id);
        else next.delete(id);
      }
      return next;
    });
  const shown = data?.schedules.map((s) => s.id) ?? [];
  const allShown = shown.length > 0 && shown.every((id) => chosen.has(id));
  return (
    <main className="place">
      <AlmanacHead title="All schedules" />
      <div className="row tools">
        <SearchField label="Client or report" value={of('text')} onChange={(text) => set({ text })} />
        <SearchField label="Reader" value={of('reader')} onChange={(reader) => set({ reader })} />
        <NativeSelect
          aria-label="Rhythm"
          data={RHYTHMS}
          value={of('rhythm')}
          onChange={(e) => set({ rhythm: e.currentTarget.value })}
        />
        <NativeSelect
          aria-label="State"
          data={STATES}
          value={of('state')}
          onChange={(e) => set({ state: e.currentTarget.value })}
        />
        <NativeSelect
          aria-label="Manager"
          data={[{ value: '', label: 'any manager' }, ...colleagues.map((m) => ({ value: m.id, label: m.name }))]}
          value={of('manager')}
          onChange={(e) => set({ manager: e.currentTarget.value })}
        />
        <Checkbox
          label="Ending soon"
          checked={of('ending') !== ''}
          onChange={(e) => set({ ending: e.currentTarget.checked ? 'yes' : '' })}
        />
      </div>
      <Notice error={found.error} />
      {!data && !found.error && <Loading lines={10} />}
      {data && (
        <>
          <div className="row found">
            <span className="muted">{plural(data.total, 'schedule')}</span>
            {may && inSight.length > 0 && (
              <>
                <b>{inSight.length} chosen</b>
                {inSight.length < data.all.length && (
                  <Button size="compact-sm" variant="subtle" onClick={() => choose(data.all, true)}>
                    {data.all.length < data.total
                      ? `Choose the first ${data.all.length.toLocaleString('en-GB')}`
                      : `Choose all ${data.total}`}
                  </Button>
                )}
                <Button size="compact-sm" variant="subtle" onClick={() => setChosen(new Set())}>
                  Clear selection
                </Button>
              </>
            )}
          </div>
          {may && inSight.length > 0 && <ManyActs chosen={inSight} onDone={() => setChosen(new Set())} />}
          {data.schedules.length > 0 ? (
            <table className="list schedules">
              <thead>
                <tr>
                  <th>
                    {may && (
                      <Checkbox
                        size="xs"
                        aria-label="Choose all on this page"
                        checked={allShown}
                        onChange={() => choose(shown, !allShown)}
                      />
                    )}
                  </th>
                  <th>Client</th>
                  <th>When and period</th>
                  <th>To</th>
                  <th>Last run</th>
                  <th>Next run</th>
                </tr>
              </thead>
              <tbody>
                {data.schedules.map((s) => (
                  <Row
                    key={s.id}
                    s={s}
                    chosen={chosen.has(s.id)}
                    onChoose={may ? () => choose([s.id], !chosen.has(s.id)) : null}
                  />
                ))}
              </tbody>
            </table>
          ) : (
            <p className="muted">No matching schedules.</p>
          )}
          <Pages of={data} page={page} onPage={(p) => set({ page: p })} />
        </>
      )}
      <RecentActs />
    </main>
  );
}
