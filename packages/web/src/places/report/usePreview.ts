import type { Report } from '@chronicon/core/contract';
import type { ScenePage } from '@chronicon/core/page';
import { useEffect, useRef, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';

export interface Shown extends Omit<Reply<'POST /api/reports/:report/preview'>, 'pages'> {
  pages: { hash: string; page: ScenePage }[];
}

/** The pages as they would be drawn now. Asked anew with each edit; only pages that changed are sent again. */
export function usePreview(id: string, title: string, document: Report['document']) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [error, setError] = useState<ApiError | null>(null);
  const known = useRef(new Map<string, ScenePage>());
  useEffect(() => {
    const abort = new AbortController();
    const have = [...known.current.keys()].slice(-60);
    call('POST /api/reports/:report/preview', {
      params: { report: id },
      body: { title: title.trim() === '' ? undefined : title, document, have },
      signal: abort.signal,
    }).then(
      (reply) => {
        for (const { hash, page } of reply.pages) if (page) known.current.set(hash, page);
        setShown({ ...reply, pages: reply.pages.map(({ hash }) => ({ hash, page: known.current.get(hash)! })) });
        setError(null);
      },
      (e: ApiError | DOMException) => {
        if (e.name !== 'AbortError') setError(e as ApiError);
      },
    );
    return () => abort.abort();
  }, [id, title, document]);
  return { shown, error };
}
