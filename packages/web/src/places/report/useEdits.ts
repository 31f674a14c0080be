import type { Report } from '@chronicon/core/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { call } from '../../api/call.ts';
import { EditStore } from './editStore.ts';

/** A report while it is edited, saved by itself. */
export function useEdits(report: Report) {
  const client = useQueryClient();
  const [store] = useState(() => {
    const params = { report: report.id };
    return new EditStore(report, {
      async save(edits, version) {
        const saved = await call('POST /api/reports/:report/edits', { params, body: { edits, version } });
        client.invalidateQueries({ queryKey: ['GET /api/clients/:client/reports'] });
        client.invalidateQueries({ queryKey: ['GET /api/reports/:report/release'] });
        return saved;
      },
      load: () => call('GET /api/reports/:report', { params }),
      now: () => performance.now(),
      later(work, ms) {
        const timer = setTimeout(work, ms);
        return () => clearTimeout(timer);
      },
    });
  });
  useEffect(() => () => store.stop(), [store]);
  const seen = useSyncExternalStore(store.subscribe, store.snapshot);
  return useMemo(() => ({ store, ...seen }), [store, seen]);
}
