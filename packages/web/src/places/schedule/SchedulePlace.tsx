import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button } from '@mantine/core';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { ApiError, Reply } from '../../api/call.ts';
import { useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { periodWords } from '../../parts/periods.ts';
import { useScopeIs } from '../../shell/scope.ts';
import { Effects } from './Effects.tsx';
import { FilterGaps } from './FilterGaps.tsx';
import { proposedPeriod } from './fittingPeriod.ts';
import { GroupsPart } from './GroupsPart.tsx';
import { MailLanguage } from './MailLanguage.tsx';
import { MailRoom } from './MailRoom.tsx';
import { ReleaseFirst } from './ReleaseFirst.tsx';
import { ruleWords } from './ruleWords.ts';
import { ScheduleSentence } from './ScheduleSentence.tsx';
import { useFilterGaps } from './useFilterGaps.ts';
import { WhatThisDoes } from './WhatThisDoes.tsx';

interface Props {
  title: string;
  client: Client;
  reports: Reply<'GET /api/clients/:client/reports'>;
  initial: ScheduleInput;
  schedule?: string;
  /** Where it comes from, in words. */
  about?: ReactNode;
  /** Is told of every change. */
  onInput?: (input: ScheduleInput) => void;
  error: ApiError | null;
  /** What can be done with it, without the blocks that its filter cannot apply to: so many of them were not left out yet. */
  actions: (input: ScheduleInput, changed: boolean, without: number) => ReactNode;
  /** Below all that. */
  children?: ReactNode;
}

/** A schedule as a sentence, beside what it does. */
export function SchedulePlace(props: Props) {
  const { title, client, reports, initial, schedule, error, about, onInput, actions, children } = props;
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
  const patch = (part: Partial<ScheduleInput>) => {
    setInput((i) => ({ ...i, ...part }));
    onInput?.({ ...input, ...part });
  };
  const report = reports.find((r) => r.id === input.reportId);
  const proposed = proposedPeriod(input);
  const gaps = useFilterGaps(client, input);
  const wanted = { ...input, leftOut: [...new Set([...input.leftOut, ...gaps.map((g) => g.block)])] };
  const changed = JSON.stringify(input) !== JSON.stringify(initial);
  const metrics = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const colleagues = useGet('GET /api/colleagues');
  useScopeIs(client.id);
  return (
    <main className="place columns">
      <section>
        <div className="place-head">
          <PageTitle of={[title, client.name]} />
          <h1>{title}</h1>
          <Link to={`/clients/${client.id}/schedules`}>{client.name}</Link>
        </div>
        {about}
        <ReleaseFirst report={report} />
        <ScheduleSentence
          client={client}
          reports={reports}
          isNew={schedule === undefined}
          input={input}
          error={error}
          onChange={patch}
        />
        <div className="stack">
          {proposed && (
            <span className="row small">
              <span className="muted">
                It runs {ruleWords(input.rule)}, and covers {periodWords(input.period)}.
              </span>
              <Button size="compact-xs" variant="default" onClick={() => patch({ period: proposed })}>
                Cover {periodWords(proposed)} instead
              </Button>
            </span>
          )}
          <FilterGaps gaps={gaps} input={input} onChange={patch} />
          <MailLanguage client={client} input={input} initial={initial} onChange={patch} />
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
          <div className="row">{actions(wanted, changed, wanted.leftOut.length - input.leftOut.length)}</div>
          {children}
        </div>
      </section>
      <WhatThisDoes client={client} input={input} schedule={schedule} onChange={patch} />
      <MailRoom client={client} input={input} error={error} onChange={patch} />
    </main>
  );
}
