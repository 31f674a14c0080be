import type { Report } from '@chronicon/core/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { type ApiError, call } from '../../api/call.ts';

const PAUSE_MS = 700;

interface Draft {
  title: string;
  document: Report['document'];
}

/** Saves a report by itself soon after the last edit, one save at a time, each over the version of the one before. */
export function useAutosave(report: Report, draft: Draft) {
  const client = useQueryClient();
  const [saved, setSaved] = useState({ version: report.version, at: report.updatedAt });
  const [error, setError] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const last = useRef<Draft>({ title: report.title, document: report.document });
  const changed = draft.title !== last.current.title || draft.document !== last.current.document;
  useEffect(() => {
    if (!changed || busy) return;
    const timer = setTimeout(() => {
      setBusy(true);
      call('PUT /api/reports/:report', { params: { report: report.id }, body: { ...draft, version: saved.version } })
        .then(
          (now) => {
            last.current = draft;
            setSaved({ version: now.version, at: now.updatedAt });
            setError(null);
            client.invalidateQueries({ queryKey: ['GET /api/clients/:client/reports'] });
            client.invalidateQueries({ queryKey: ['GET /api/reports/:report/release'] });
          },
          // What was typed stays on the page; the next edit tries again.
          (e: ApiError) => {
            last.current = draft;
            setError(e);
          },
        )
        .finally(() => setBusy(false));
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [client, report.id, draft, changed, busy, saved.version]);
  return { saved, error, pending: changed || busy };
}
