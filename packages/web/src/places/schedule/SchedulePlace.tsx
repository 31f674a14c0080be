import type { Client, Report, ScheduleInput } from '@chronicon/core/contract';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { ApiError } from '../../api/call.ts';
import { Notice } from '../../parts/Notice.tsx';
import { useScopeIs } from '../../shell/scope.ts';
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
}

/** A schedule as a sentence, beside what it does. */
export function SchedulePlace({ title, client, reports, initial, schedule, error, actions }: Props) {
  const [input, setInput] = useState(initial);
  useScopeIs(client.id);
  return (
    <main className="place columns">
      <section>
        <div className="place-head">
          <h1>{title}</h1>
          <Link to={`/clients/${client.id}/schedules`}>{client.name}</Link>
        </div>
        <ScheduleSentence
          client={client}
          reports={reports}
          input={input}
          error={error}
          onChange={(patch) => setInput((i) => ({ ...i, ...patch }))}
        />
        <div className="stack">
          {error && <Notice error={error} />}
          <div className="row">{actions(input, JSON.stringify(input) !== JSON.stringify(initial))}</div>
        </div>
      </section>
      <WhatThisDoes client={client} input={input} schedule={schedule} />
    </main>
  );
}
