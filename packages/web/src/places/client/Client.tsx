import type { Client as ClientData } from '@chronicon/core/contract';
import type { ComponentType } from 'react';
import { Link, NavLink, useParams } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { NoSuchPage } from '../../parts/NoSuchPage.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { Brand } from './Brand.tsx';
import { Contacts } from './Contacts.tsx';
import { Feeds } from './Feeds.tsx';
import { Metrics } from './Metrics.tsx';
import { Overview } from './Overview.tsx';
import { Reports } from './Reports.tsx';
import { Schedules } from './Schedules.tsx';
import { Setup } from './Setup.tsx';
import { Targets } from './Targets.tsx';

const PARTS: Record<string, { label: string; view: ComponentType<{ client: ClientData }> }> = {
  '': { label: 'Overview', view: Overview },
  feeds: { label: 'Feeds', view: Feeds },
  contacts: { label: 'Contacts', view: Contacts },
  reports: { label: 'Reports', view: Reports },
  schedules: { label: 'Schedules', view: Schedules },
  targets: { label: 'Targets', view: Targets },
  metrics: { label: 'Metrics', view: Metrics },
  brand: { label: 'Brand', view: Brand },
  setup: { label: 'Set-up', view: Setup },
};

/** One client: is the data good, what goes to whom when, how are the figures. */
export function Client() {
  const { client: id = '', part = '' } = useParams();
  const client = useGet('GET /api/clients/:client', { params: { client: id } }, { live: true });
  const View = Object.hasOwn(PARTS, part) ? PARTS[part]!.view : null;
  if (View === null) return <NoSuchPage />;
  if (client.error) {
    return (
      <main className="place">
        <Notice error={client.error} />
      </main>
    );
  }
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={[PARTS[part]!.label, client.data?.name]} />
        <h1>{client.data?.name ?? ' '}</h1>
        <div className="beside">
          {client.data && (
            <span className="muted small">
              {client.data.zone} · {client.data.currency} · {client.data.manager}
            </span>
          )}
          {client.data?.tags.map((tag) => (
            <Link key={tag} className="tag" to={`/clients?scope=${encodeURIComponent(`tag:${tag}`)}`}>
              {tag}
            </Link>
          ))}
          {client.data?.inactiveSince && (
            <Link className="tone-attention small" to={`/clients/${id}/setup`}>
              ○ inactive: nothing runs
            </Link>
          )}
        </div>
      </div>
      <nav className="tabs" aria-label="Parts of the client">
        {Object.entries(PARTS).map(([key, { label }]) => (
          <NavLink key={key} to={key === '' ? `/clients/${id}` : `/clients/${id}/${key}`} end>
            {label}
          </NavLink>
        ))}
      </nav>
      {client.data ? <View client={client.data} /> : <Loading />}
    </main>
  );
}
