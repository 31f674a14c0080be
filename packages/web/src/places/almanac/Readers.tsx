import type { BulkAct, ScheduleInput, Somebody, WhoGets } from '@chronicon/core/contract';
import { Button, Checkbox } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { SearchField } from '../../parts/SearchField.tsx';
import { plural } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { ruleWords } from '../schedule/ruleWords.ts';
import { ActPreview } from './ActPreview.tsx';
import { AlmanacHead } from './AlmanacHead.tsx';
import { RecentActs } from './RecentActs.tsx';
import { isNamed, NOBODY, SomebodyFields } from './SomebodyFields.tsx';
import { useAddress } from './useAddress.ts';

const LINES = { to: '', cc: 'Cc', bcc: 'Bcc' };

/** What somebody gets, as one line. */
function Receives({ g }: { g: WhoGets['gets'][number] }) {
  const ways = [g.group, g.list && `by the list ${g.list}`, LINES[g.line]].filter((w) => w);
  return (
    <div>
      <Link className="name-link" to={`/schedules/${g.scheduleId}`}>
        {g.title}
      </Link>{' '}
      <span className="muted small">
        {g.clientName}, {ruleWords(g.rule as ScheduleInput['rule'])}
        {ways.length > 0 && ` (${ways.join(', ')})`}
        {!g.active && ' · paused'}
      </span>
    </div>
  );
}

/** One person replaced, or taken out, wherever they read: chosen, seen, done. */
function Replace({ person, onDone }: { person: WhoGets; onDone: () => void }) {
  const [who, setWho] = useState<Somebody>(NOBODY);
  const [left, setLeft] = useState(!person.member);
  const [outside, setOutside] = useState(false);
  const [asked, setAsked] = useState<BulkAct | null>(null);
  const replace: BulkAct = { do: 'replace', from: person.key, who, left: left && !person.member, outside };
  return (
    <div className="card stack">
      <h2>
        {person.name} in {plural(person.gets.length, 'place')}
      </h2>
      <SomebodyFields
        who={who}
        onChange={(next) => {
          setAsked(null);
          setWho(next);
        }}
      />
      {!person.member && (
        <Checkbox
          checked={left}
          onChange={(e) => {
            setAsked(null);
            setLeft(e.currentTarget.checked);
          }}
          label={`Mark ${person.name} as left and stop emailing ${person.email}`}
        />
      )}
      <Checkbox
        checked={outside}
        onChange={(e) => {
          setAsked(null);
          setOutside(e.currentTarget.checked);
        }}
        label="Allow this address even if it’s outside the client’s usual domains"
      />
      <div className="row">
        <Button variant="outline" disabled={!isNamed(who)} onClick={() => setAsked(replace)}>
          Replace everywhere: preview
        </Button>
        <Button variant="subtle" color="red" onClick={() => setAsked({ do: 'drop', from: person.key })}>
          Remove everywhere: preview
        </Button>
        <Button variant="default" onClick={onDone}>
          Cancel
        </Button>
      </div>
      {asked && (
        <ActPreview
          schedules={null}
          act={asked}
          label={asked.do === 'drop' ? 'Remove' : 'Replace'}
          onDone={onDone}
          onCancel={() => setAsked(null)}
        />
      )}
    </div>
  );
}

/** Of one client: people against reports, and against the groups of each. */
function Matrix({ people }: { people: readonly WhoGets[] }) {
  const columns = new Map<string, { title: string; about: string; id: string }>();
  for (const p of people) {
    for (const g of p.gets) {
      const key = `${g.scheduleId} ${g.group ?? ''}`;
      const about = g.group ?? ruleWords(g.rule as ScheduleInput['rule']);
      if (!columns.has(key)) columns.set(key, { title: g.title, about, id: g.scheduleId });
    }
  }
  const inOrder = [...columns].sort(([, a], [, b]) => a.title.localeCompare(b.title) || (a.id < b.id ? -1 : 1));
  if (columns.size === 0 || columns.size > 14) return null;
  return (
    <table className="list matrix">
      <thead>
        <tr>
          <th>Reader</th>
          {inOrder.map(([key, c]) => (
            <th key={key}>
              <Link className="name-link" to={`/schedules/${c.id}`}>
                {c.title}
              </Link>
              <div className="muted small">{c.about}</div>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {people.map((p) => (
          <tr key={p.key}>
            <th scope="row">
              {p.name}
              <div className="muted small">{p.email}</div>
            </th>
            {inOrder.map(([key]) => {
              const g = p.gets.find((x) => `${x.scheduleId} ${x.group ?? ''}` === key);
              return (
                <td key={key}>
                  {g && (
                    <span className={p.stopped ? 'tone-attention' : 'tone-good'}>
                      {p.stopped ? '■ stopped' : `● ${LINES[g.line] || 'receives it'}`}
                      {g.list && <div className="muted small">by {g.list}</div>}
                    </span>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Who gets what; and a person found and replaced wherever they read. */
export function Readers() {
  const { of, set, scope } = useAddress();
  const { member } = useSession();
  const may = member.role === 'owner' || member.role === 'manager';
  const [replacing, setReplacing] = useState<string | null>(of('person') || null);
  const text = of('text') || of('person');
  const page = of('page');
  const found = useGet(
    'GET /api/who-gets-what',
    { query: { ...scope, ...(text && { text }), ...(page && { page }) } as never },
    { live: true, keep: true },
  );
  const { data } = found;
  const person = data?.people.find((p) => p.key === replacing);
  return (
    <main className="place">
      <AlmanacHead title="Who gets what" />
      <div className="row tools">
        <SearchField label="Name or address" value={text} onChange={(t) => set({ text: t, person: '' })} />
        {data && <span className="muted">{plural(data.total, 'person', 'people')}</span>}
      </div>
      <Notice error={found.error} />
      {!data && !found.error && <Loading lines={10} />}
      {data && data.people.length === 0 && <p className="muted">No matching readers.</p>}
      {person && may && <Replace key={person.key} person={person} onDone={() => setReplacing(null)} />}
      {data && scope.client && <Matrix people={data.people} />}
      {data && data.people.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Who</th>
              <th>Receives</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {data.people.map((p) => (
              <tr key={p.key} className={p.key === replacing ? 'open' : undefined}>
                <td>
                  <b>{p.name}</b> {p.member && <span className="muted small">of the agency</span>}
                  <div className="muted small">{p.email}</div>
                  {p.stopped && <div className="tone-attention small">■ {p.stopped}</div>}
                </td>
                <td>
                  {p.gets.map((g, i) => (
                    <Receives key={`${g.scheduleId} ${g.group} ${i}`} g={g} />
                  ))}
                </td>
                <td style={{ textAlign: 'right' }}>
                  {may && (
                    <Button
                      size="compact-sm"
                      variant="subtle"
                      aria-label={`Replace ${p.name}`}
                      onClick={() => setReplacing(p.key)}
                    >
                      Replace
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data && <Pages of={data} page={page} onPage={(p) => set({ page: p })} />}
      <RecentActs />
    </main>
  );
}
