import { useEffect, useRef, useState } from 'react';
import type { Reply } from '../../api/call.ts';
import { call } from '../../api/call.ts';
import type { EditStore } from './editStore.ts';

type Other = Reply<'PUT /api/reports/:report/here'>['others'][number];

/** Milliseconds between two words to the server; sooner when another block is chosen. */
const BEAT = 3_000;
const SOON = 250;

/** Who else has the report open, and where; what they make of it comes into the store. */
export function useHere(report: string, block: string | null, store: EditStore): readonly Other[] {
  const [others, setOthers] = useState<readonly Other[]>([]);
  const [own] = useState(() => crypto.randomUUID());
  const stands = useRef(block);
  const beat = useRef<(ms: number) => void>(() => undefined);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let gone = false;
    const say = async (leaving = false) => {
      const body = { window: own, block: stands.current, version: store.snapshot().version, leaving };
      return call('PUT /api/reports/:report/here', { params: { report }, body, outlives: leaving });
    };
    const next = (ms: number) => {
      clearTimeout(timer);
      if (!gone) timer = setTimeout(() => void once(), ms);
    };
    const once = async () => {
      try {
        const { others: there, now, version } = await say();
        if (gone) return;
        setOthers(there);
        if (now) store.meet(now, version);
      } catch {
        // What is edited says by itself that the line is broken.
        if (!gone) setOthers([]);
      }
      next(BEAT);
    };
    // A window that is shut says so on its way out.
    const shut = () => void say(true).catch(() => undefined);
    window.addEventListener('pagehide', shut);
    beat.current = next;
    next(0);
    return () => {
      gone = true;
      clearTimeout(timer);
      window.removeEventListener('pagehide', shut);
      shut();
    };
  }, [report, own, store]);
  useEffect(() => {
    if (stands.current === block) return;
    stands.current = block;
    beat.current(SOON);
  }, [block]);
  return others;
}
