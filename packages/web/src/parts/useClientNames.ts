import { MOST_NAMES } from '@chronicon/core/bounds';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import { useGet } from '../api/hooks.ts';

/** Milliseconds after the last key until clients are looked for. */
const SETTLED = 150;

/**
 * Names of clients to choose from, found by the server as somebody types: an agency may have ten thousand.
 * @param ids those that are chosen already, whose names are always among them
 */
export function useClientNames({ ids = [], scope = '' }: { ids?: readonly string[]; scope?: string } = {}) {
  const [typed, setText] = useState('');
  const [text] = useDebouncedValue(typed, SETTLED);
  const query = { scope, text: text.trim(), ids: [...ids].sort().join(',') };
  const found = useGet('GET /api/clients/names', { query }, { live: true, keep: true });
  const clients = found.data ?? [];
  return {
    clients,
    isLoading: found.data === undefined,
    /** Whether there may be more than are shown: one has to type. */
    hasMore: clients.length >= MOST_NAMES,
    text: typed,
    setText,
    /**
     * Looks for what stands in a field of choice. The label of what is chosen is no search.
     * @param others labels of choices that are no clients
     */
    search: (said: string, others: readonly string[] = []) =>
      setText(others.includes(said) || clients.some((c) => c.name === said) ? '' : said),
  };
}
