import type { BrandInput, Client } from '@chronicon/core/contract';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ScenePage } from '../../parts/ScenePage.tsx';

/** Reports that are shown, and pages of each. */
const MOST = 6;
const PAGES = 2;

/** The first sheets of a report as they would be by a brand. */
function Miniature({
  client,
  report,
  title,
  brand,
}: {
  client: Client;
  report: string;
  title: string;
  brand: BrandInput;
}) {
  const sheets = useQuery<Reply<'POST /api/reports/:report/preview'>, ApiError>({
    queryKey: ['miniature', report, client.brand, brand],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call('POST /api/reports/:report/preview', {
        params: { report },
        body: { have: [], look: { kind: 'own' }, pages: PAGES, brand },
        signal,
      }),
  });
  const shown = (sheets.data?.pages ?? []).slice(0, PAGES);
  return (
    <figure className="miniature">
      <div className="two-sheets">
        {shown.map(({ hash, page }) =>
          page ? (
            <ScenePage
              key={hash}
              page={page}
              lang={sheets.data!.lang}
              pictures={`/api/clients/${client.id}/pictures`}
            />
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
  if (reports.data.length === 0) return <p className="muted">There is no report of this client yet.</p>;
  return (
    <section className="miniatures" aria-label="Its reports by this brand">
      {reports.data.slice(0, MOST).map((r) => (
        <Miniature key={r.id} client={client} report={r.id} title={r.title} brand={settled} />
      ))}
    </section>
  );
}
