import { useParams } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Composer } from './Composer.tsx';

/** A report with its client, once both are there. */
export function Report() {
  const { report: id = '' } = useParams();
  const report = useGet('GET /api/reports/:report', { params: { report: id } });
  const clientId = report.data?.clientId ?? '';
  const client = useGet('GET /api/clients/:client', { params: { client: clientId } }, { enabled: clientId !== '' });
  if (report.error ?? client.error) {
    return (
      <main className="place">
        <Notice error={report.error ?? client.error} />
      </main>
    );
  }
  if (!report.data || !client.data) return <Loading />;
  return <Composer key={id} report={report.data} client={client.data} />;
}
