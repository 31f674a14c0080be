import { createContext, useContext, useEffect } from 'react';
import { useMatch, useSearchParams } from 'react-router';

/** What a place says that it is about, where its address does not: a report's or a schedule's client. */
export const PlaceScope = createContext<{ client: string | null; say: (client: string | null) => void }>({
  client: null,
  say: () => undefined,
});

/** The client that the present place is about, or null for all of them: by its address, else as the place says. */
export function useScope(): string | null {
  const [search] = useSearchParams();
  const { client } = useContext(PlaceScope);
  const inPath = useMatch('/clients/:client/*')?.params.client;
  return inPath && !['new', 'import'].includes(inPath) ? inPath : (search.get('client') ?? client);
}

/** Which clients the present place is about, where it is about several: `mine`, `tag:` with a name, or all (empty). */
export function useGroupScope(): string {
  const [search] = useSearchParams();
  return search.get('scope') ?? '';
}

/** Says whose place this is, as long as it is shown. */
export function useScopeIs(client: string | null): void {
  const { say } = useContext(PlaceScope);
  useEffect(() => {
    say(client);
    return () => say(null);
  }, [client, say]);
}
