import type { BrandInput, Client } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';
import { plural } from '../../parts/when.ts';

/** Reports that are shown, and pages of each. */
const MOST = 6;
const PAGES = 2;

/** The kit that is being chosen: of a client, or of the agency. */
type Chosen = { brand: BrandInput } | { agencyBrand: Omit<BrandInput, 'follows'> };

/** The first sheets of a report as they would be by a kit. */
function Miniature({
  client,
  report,
  title,
  chosen,
  kept,
  pages = PAGES,
}: {
  client: string;
  report: string;
  title: string;
  chosen: Chosen;
  /** What is kept of it: what was drawn before another was is drawn anew. */
  kept: unknown;
  pages?: number;
}) {
  const sheets = useQuery<Reply<'POST /api/reports/:report/preview'>, ApiError>({
    queryKey: ['miniature', report, kept, chosen],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call('POST /api/reports/:report/preview', {
        params: { report },
        body: { have: [], look: { kind: 'own' }, pages, ...chosen },
        signal,
      }),
  });
  const shown = (sheets.data?.pages ?? []).slice(0, pages);
  return (
    <figure className="miniature">
      <div className="two-sheets">
        {shown.map(({ hash, page }) =>
          page ? (
            <ScenePage key={hash} page={page} lang={sheets.data!.lang} pictures={`/api/clients/${client}/pictures`} />
          ) : null,
        )}
        {sheets.isPending && <Loading lines={6} />}
      </div>
      <Notice error={sheets.error} />
      <figcaption>
        <Link to={`/reports/${report}`}>{title}</Link>
      </figcaption>
    </figure>
  );
}

/** The reports that have a brand, as they would be by what is chosen now. */
export function BrandMiniatures({ client, brand }: { client: Client; brand: BrandInput }) {
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: client.id } });
  const [settled] = useDebouncedValue(brand, 250);
  if (!reports.data) return <Loading lines={8} />;
  if (reports.data.length === 0) return <p className="muted">No reports for this client yet.</p>;
  return (
    <section className="miniatures" aria-label="Reports with this brand">
      {reports.data.slice(0, MOST).map((r) => (
        <Miniature
          key={r.id}
          client={client.id}
          report={r.id}
          title={r.title}
          chosen={{ brand: settled }}
          kept={client.brand}
        />
      ))}
    </section>
  );
}

/** Reports of all clients that have any of the agency's kit, as they would be by what is chosen now. */
export function FollowerMiniatures({ brand, kept }: { brand: Omit<BrandInput, 'follows'>; kept: unknown }) {
  const followers = useGet('GET /api/agency/brand/followers');
  const [all, setAll] = useState(false);
  const [settled] = useDebouncedValue(brand, 250);
  if (!followers.data) return <Loading lines={8} />;
  const clients = new Set(followers.data.map((r) => r.client.id)).size;
  if (clients === 0) return <p className="muted">No client uses the agency brand yet.</p>;
  const shown = all ? followers.data : followers.data.slice(0, MOST);
  return (
    <section className="stack" aria-label="Reports with this brand">
      <h2>
        {plural(followers.data.length, 'report')} of {plural(clients, 'client')} with this brand
      </h2>
      <div className="followers">
        {shown.map((r) => (
          <Miniature
            key={r.id}
            client={r.client.id}
            report={r.id}
            title={`${r.client.name}: ${r.title}`}
            chosen={{ agencyBrand: settled }}
            kept={kept}
            pages={1}
          />
        ))}
      </div>
      {shown.length < followers.data.length && (
        <div>
          <Button variant="outline" onClick={() => setAll(true)}>
            Show the other {followers.data.length - shown.length}
          </Button>
        </div>
      )}
    </section>
  );
}
