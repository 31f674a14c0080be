import type { ScheduleInput } from '@chronicon/core/contract';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';

/** After so many milliseconds of rest what was changed is kept. */
const REST = 500;

type Draft = Reply<'GET /api/clients/:client/schedule-draft'>['draft'];

/** What somebody began of a schedule for a client, as it is when the page is opened. */
export const useScheduleDraft = (client: string) =>
  useQuery<Draft, ApiError>({
    queryKey: ['schedule-draft', client],
    queryFn: async ({ signal }) =>
      (await call('GET /api/clients/:client/schedule-draft', { params: { client }, signal })).draft,
    // What was kept since is in the form already.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

/** What a draft has of a schedule's parts: those that a schedule has today. */
export function fromDraft(initial: ScheduleInput, draft: Record<string, unknown>): ScheduleInput {
  const known = Object.keys(initial).filter((key) => draft[key] !== undefined);
  return { ...initial, ...Object.fromEntries(known.map((key) => [key, draft[key]])) };
}

/** Keeps what is changed of an unfinished schedule, soon after each change and when the page is left. */
export function useKeepDraft(client: string) {
  const waiting = useRef<{ timer: number; input: ScheduleInput } | null>(null);
  const [fault, setFault] = useState<unknown>(null);
  const send = useCallback(() => {
    if (!waiting.current) return;
    const { timer, input } = waiting.current;
    clearTimeout(timer);
    waiting.current = null;
    const body = { input: input as unknown as Record<string, unknown> };
    call('PUT /api/clients/:client/schedule-draft', { params: { client }, body }).then(() => setFault(null), setFault);
  }, [client]);
  useEffect(() => {
    window.addEventListener('pagehide', send);
    return () => {
      window.removeEventListener('pagehide', send);
      send();
    };
  }, [send]);
  const keep = useCallback(
    (input: ScheduleInput) => {
      if (waiting.current) clearTimeout(waiting.current.timer);
      waiting.current = { input, timer: window.setTimeout(send, REST) };
    },
    [send],
  );
  /** Nothing of it is to be kept: it was started, or let go. */
  const forget = useCallback(() => {
    if (waiting.current) clearTimeout(waiting.current.timer);
    waiting.current = null;
  }, []);
  return { keep, forget, fault };
}
