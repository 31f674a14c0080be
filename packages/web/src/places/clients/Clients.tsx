import type { ClientRow } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link, useSearchParams } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Pages } from '../../parts/Pages.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { SearchField } from '../../parts/SearchField.tsx';
import { momentOf, plainDate, plural, zoneWords } from '../../parts/when.ts';
import { useGroupScope } from '../../shell/scope.ts';
import { useSession } from '../../shell/sessionContext.ts';

function Data({ feeds }: { feeds: ClientRow['feeds'] }) {
  if (feeds.count === 0) return <span className="tone-attention">■ no feed yet</span>;
  if (feeds.troubled > 0) return <span className="tone-wrong">■ {plural(feeds.troubled, 'feed')} with errors</span>;
  return feeds.coveredThrough ? (
    <span className="tone-good">● up to {plainDate(feeds.coveredThrough)}</span>
  ) : (
    <span className="muted">◌ importing history</span>
  );
}

/** All clients: is the data good, what goes out next, what went out last. */
export function Clients() {
  const [search, setSearch] = useSearchParams();
  const { member, zone } = useSession();
  const text = search.get('text') ?? '';
  const page = search.get('page') ?? '';
  const scope = useGroupScope();
  const clients = useGet('GET /api/clients', { query: { text, page, scope } }, { keep: true, live: true });
  const leaf = (patch: Record<string, string>) =>
    setSearch(Object.fromEntries(Object.entries({ scope, ...patch }).filter(([, v]) => v !== '')), { replace: true });
  const shown = clients.data?.clients;
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Clients']} />
        <h1>Clients</h1>
        <SearchField label="Find a client" value={text} onChange={(found) => leaf({ text: found })} />
        <div className="acts">
          {member.role !== 'reviewer' && (
            <Button component={Link} to="/connect" variant="outline">
              Connect services
            </Button>
          )}
          {(member.role === 'owner' || member.role === 'manager') && (
            <>
              <Button component={Link} to="/clients/import" variant="outline">
                Import clients
              </Button>
              <Button component={Link} to="/clients/new">
                New client
              </Button>
            </>
          )}
        </div>
      </div>
      <Notice error={clients.error} />
      {!shown ? (
        <Loading />
      ) : shown.length === 0 ? (
        <p className="card muted">
          {text
            ? 'No matching clients.'
            : scope
              ? 'No client is in this scope.'
              : 'Add the clients you report for. Start with “New client”.'}
        </p>
      ) : (
        <table className="list">
          <thead>
            <tr>
              <th>Client</th>
              <th>Data</th>
              <th>Next</th>
              <th>Last sent, {zoneWords(zone)}</th>
              <th>Schedules</th>
              <th>Manager</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((c) => (
              <tr key={c.id}>
                <td>
                  <span className="chip" style={{ background: c.colour }} />
                  <Link className="name-link" to={`/clients/${c.id}`}>
                    {c.name}
                  </Link>
                  {c.tags.map((tag) => (
                    <Link key={tag} className="tag" to={`/clients?scope=${encodeURIComponent(`tag:${tag}`)}`}>
                      {tag}
                    </Link>
                  ))}
                </td>
                <td>
                  <Data feeds={c.feeds} />
                </td>
                <td>
                  {c.inactiveSince ? (
                    <span className="muted">○ inactive</span>
                  ) : c.next ? (
                    `${momentOf(c.next.at)} · ${c.next.title}`
                  ) : (
                    <span className="tone-attention">nothing planned</span>
                  )}
                </td>
                <td>{c.lastSent ? momentOf(c.lastSent) : '–'}</td>
                <td>{c.schedules}</td>
                <td>{c.manager}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {clients.data && <Pages of={clients.data} page={page} onPage={(n) => leaf({ text, page: n ?? '' })} />}
    </main>
  );
}
