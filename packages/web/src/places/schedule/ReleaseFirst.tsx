import type { Report } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';

/** Offers to release a report that never was: a schedule sends what is released, and nothing else. */
export function ReleaseFirst({
  report,
}: {
  report: Pick<Report, 'id' | 'title' | 'version' | 'released'> | undefined;
}) {
  const release = useChange((of: { id: string; version: number }) =>
    call('POST /api/reports/:report/release', { params: { report: of.id }, body: { version: of.version } }),
  );
  if (!report || report.released !== null) return null;
  return (
    <Notice>
      <b>“{report.title}” has never been released.</b> Editions use a released version, so unfinished work is never
      sent. <Link to={`/reports/${report.id}`}>Review it first</Link>
      <div className="row" style={{ marginTop: 6 }}>
        <Button size="compact-sm" loading={release.isPending} onClick={() => release.mutate(report)}>
          Release now
        </Button>
      </div>
      <Notice error={release.error} />
    </Notice>
  );
}
