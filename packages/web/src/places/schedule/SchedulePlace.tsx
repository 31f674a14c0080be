import type { Client, Report, ScheduleInput } from '@chronicon/core/contract';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { ApiError } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { useScopeIs } from '../../shell/scope.ts';
import { Effects } from './Effects.tsx';
import { GroupsPart } from './GroupsPart.tsx';
import { MailRoom } from './MailRoom.tsx';
import { ScheduleSentence } from './ScheduleSentence.tsx';
import { WhatThisDoes } from './WhatThisDoes.tsx';

interface Props {
  title: string;
  client: Client;
  reports: Pick<Report, 'id' | 'title' | 'released'>[];
  initial: ScheduleInput;
  schedule?: string;
  error: ApiError | null;
  actions: (input: ScheduleInput, changed: boolean) => ReactNode;
  /** Below all that. */
  children?: ReactNode;
}

/** A schedule as a sentence, beside what it does. */
export function SchedulePlace({ title, client, reports, initial, schedule, error, actions, children }: Props) {
  const [input, setInput] = useState(initial);
  const known = useRef(initial);
  // What was changed elsewhere meanwhile is taken over, but for what is being changed here.
  useEffect(() => {
    const before = known.current;
    known.current = initial;
    const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
    setInput((now) => {
      const taken = (Object.keys(initial) as (keyof ScheduleInput)[]).filter(
        (part) => same(now[part], before[part]) && !same(before[part], initial[part]),
      );
      return taken.length === 0 ? now : { ...now, ...Object.fromEntries(taken.map((part) => [part, initial[part]])) };
    });
  }, [initial]);
  const patch = (part: Partial<ScheduleInput>) => setInput((i) => ({ ...i, ...part }));
  const changed = JSON.stringify(input) !== JSON.stringify(initial);
  const metrics = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const colleagues = useGet('GET /api/colleagues');
  useScopeIs(client.id);
  return (
    <main className="place columns">
      <section>
        <div className="place-head">
          <h1>{title}</h1>
          <Link to={`/clients/${client.id}/schedules`}>{client.name}</Link>
        </div>
        <ScheduleSentence client={client} reports={reports} input={input} error={error} onChange={patch} />
        <div className="stack">
          <GroupsPart
            client={client}
            colleagues={colleagues.data ?? []}
            dimensions={metrics.data?.dimensions ?? []}
            groups={input.groups}
            error={error}
            onChange={(groups) => patch({ groups })}
          />
          {error && <Notice error={error} />}
          {schedule && changed && <Effects schedule={schedule} input={input} />}
          <div className="row">{actions(input, changed)}</div>
          {children}
        </div>
      </section>
      <WhatThisDoes client={client} input={input} schedule={schedule} onChange={patch} />
      <MailRoom client={client} input={input} error={error} onChange={patch} />
    </main>
  );
}
