import type { Client } from '@chronicon/core/contract';
import { VisuallyHidden } from '@mantine/core';
import { Link } from 'react-router';
import { useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { momentOf } from '../../parts/when.ts';
import { useSession } from '../../shell/sessionContext.ts';
import { NewReport } from './NewReport.tsx';
import { ReportMenu } from './ReportMenu.tsx';

/** The reports of a client, how each goes out, and a new one. */
export function Reports({ client }: { client: Client }) {
  const { member } = useSession();
  const reports = useGet('GET /api/clients/:client/reports', { params: { client: client.id } });
  if (!reports.data) return reports.error ? <Notice error={reports.error} /> : <Loading />;
  return (
    <div className="stack">
      {reports.data.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Report</th>
              <th>Last change</th>
              <th>In use</th>
              <th>
                <VisuallyHidden>Actions</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {reports.data.map((r) => (
              <tr key={r.id}>
                <td>
                  <Link className="name-link" to={`/reports/${r.id}`}>
                    {r.title}
                  </Link>
                  {r.template && (
                    <div className="small muted">
                      follows <Link to={`/templates/${r.template.id}`}>{r.template.name}</Link>
                      {r.template.version < r.template.newest && ', not including the latest change'}
                    </div>
                  )}
                </td>
                <td>{momentOf(r.updatedAt)}</td>
                <td>
                  {r.released === null ? (
                    <span className="tone-attention">■ never released</span>
                  ) : r.released.current ? (
                    <span className="tone-good">● current version</span>
                  ) : (
                    <span className="tone-attention">◆ version of {momentOf(r.released.at)}</span>
                  )}
                </td>
                <td style={{ textAlign: 'right' }}>
                  {member.role !== 'reviewer' && (
                    <ReportMenu report={r} mayDelete={member.role === 'owner' || member.role === 'manager'} />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NewReport client={client} />
    </div>
  );
}
