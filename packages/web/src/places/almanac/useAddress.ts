import { useSearchParams } from 'react-router';

/** What a place shows, as its address says it: filter, page, span. Whatever else is set begins at the first page. */
export function useAddress(): {
  of: (key: string) => string;
  set: (values: Record<string, string>) => void;
  scope: { client?: string; scope?: string };
} {
  const [search, setSearch] = useSearchParams();
  const of = (key: string) => search.get(key) ?? '';
  const client = of('client');
  const scope = of('scope');
  return {
    of,
    set: (values) =>
      setSearch((before) => {
        const next = new URLSearchParams(before);
        if (!('page' in values)) next.delete('page');
        for (const [key, value] of Object.entries(values)) {
          if (value === '') next.delete(key);
          else next.set(key, value);
        }
        return next;
      }),
    scope: { ...(client && { client }), ...(scope && { scope }) },
  };
}
