import { useMatch, useSearchParams } from 'react-router';

/** The client that the present address is about, or null for all of them. It lives in the URL alone. */
export function useScope(): string | null {
  const [search] = useSearchParams();
  const inPath = useMatch('/clients/:client/*')?.params.client;
  return inPath && inPath !== 'new' ? inPath : search.get('client');
}
