import type { Client } from '@chronicon/core/contract';
import { createNumbers } from '@chronicon/core/contract/display';
import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { FeedProgress, FeedState } from '../../parts/feedWords.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { StateMark } from '../../parts/StateMark.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';
import { Outlook, progressWords, TargetBar } from './Targets.tsx';

function Feeds({ client }: { client: Client }) {
  const feeds = useGet('GET /api/clients/:client/feeds', { params: { client: client.id } }, { live: true });
  return (
    <section className="card stack">
      <h2>Data health</h2>
      {feeds.data
        ?.filter((f) => f.state !== 'removed')
        .map((f) => (
          <div key={f.id} className="stack" style={{ gap: 4 }}>
            <div className="row">
              <b>{f.name}</b> <FeedState feed={f} />
            </div>
            <FeedProgress feed={f} />
            {f.trouble && <Notice>{f.trouble}</Notice>}
          </div>
        ))}
      {feeds.data?.length === 0 && (
        <span className="muted">No feed is connected: a report would have nothing to show.</span>
      )}
      <div>
        <Button component={Link} to={`/clients/${client.id}/feeds`} variant="outline">
          {feeds.data?.length === 0 ? 'Connect a feed' : 'View feeds'}
        </Button>
      </div>
    </section>
  );
}

function GoesOut({ client }: { client: Client }) {
  const desk = useGet('GET /api/desk', { query: { client: client.id } });
  const lines = desk.data?.days.flatMap((d) => d.lines.map((l) => ({ ...l, date: d.date }))) ?? [];
  return (
    <section className="card stack">
      <h2>Recent and upcoming editions</h2>
      {lines.map((l) => (
        <div key={l.key} className="row" style={{ justifyContent: 'space-between' }}>
          <span>
            {dayWithYear(l.date)}, {l.local.time} · <b>{l.title}</b>{' '}
            <span className="muted small">
              {l.periodLabel} · {plural(l.readers, 'reader')}
            </span>
          </span>
          <StateMark state={l.state} />
        </div>
      ))}
      {lines.length === 0 && <span className="muted">Nothing in this period.</span>}
      <div>
        <Button component={Link} to={`/clients/${client.id}/schedules`} variant="outline">
          View schedules
        </Button>
      </div>
    </section>
  );
}

/** Where the client's targets stand. */
function Aims({ client }: { client: Client }) {
  const targets = useGet('GET /api/clients/:client/targets', { params: { client: client.id } });
  const numbers = createNumbers('en-GB', client.currency);
  return (
    <section className="card stack">
      <h2>Performance</h2>
      {targets.data?.map((t) => (
        <div key={t.id} className="stack" style={{ gap: 2 }}>
          <div className="row" style={{ justifyContent: 'space-between' }}>
            <span>
              <b>{t.metric.label}</b> {numbers.figure(t.input.value, t.metric.unit)}{' '}
              <span className="muted small">{[t.span.label, ...t.of.map((o) => `only ${o}`)].join(', ')}</span>
            </span>
            <Outlook target={t} />
          </div>
          <TargetBar target={t} />
          <span className="small muted">{progressWords(t, numbers)}</span>
        </div>
      ))}
      {targets.data?.length === 0 && <span className="muted">No target is set.</span>}
      <div className="row">
        <Button component={Link} to={`/figures?client=${client.id}`} variant="outline">
          View figures
        </Button>
        <Button component={Link} to={`/clients/${client.id}/targets`} variant="subtle">
          {targets.data?.length === 0 ? 'Set a target' : 'View targets'}
        </Button>
      </div>
    </section>
  );
}

function Steps({ client }: { client: Client }) {
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: client.id } });
  return (
    <section className="card stack">
      <h2>Reports and readers</h2>
      {reports.data?.map((r) => (
        <Link key={r.id} className="name-link" to={`/reports/${r.id}`}>
          {r.title}
        </Link>
      ))}
      {reports.data?.length === 0 && (
        <span className="muted">
          No report yet. <Link to={`/clients/${client.id}/reports`}>Create one</Link>
        </span>
      )}
      <span className="muted small">
        {client.contacts.length === 0
          ? 'No contacts yet – nobody can receive reports.'
          : `${plural(client.contacts.length, 'contact')}: ${client.contacts.map((c) => `${c.firstName} ${c.lastName}`).join(', ')}`}
      </span>
      <div>
        <Button component={Link} to={`/clients/${client.id}/contacts`} variant="outline">
          View contacts
        </Button>
      </div>
    </section>
  );
}

export function Overview({ client }: { client: Client }) {
  return (
    <div className="columns even">
      <div className="stack">
        <Feeds client={client} />
        <Aims client={client} />
      </div>
      <div className="stack">
        <GoesOut client={client} />
        <Steps client={client} />
      </div>
    </div>
  );
}
