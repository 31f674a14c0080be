import type { Client, DesignNeed } from '@chronicon/core/contract';
import { Button, NativeSelect, Radio, Stack, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { plural } from '../../parts/when.ts';

type Binding = { metrics: Record<string, string>; dimensions: Record<string, string> };
const NOTHING: Binding = { metrics: {}, dimensions: {} };

/** A design by what chooses it: `template tp_1`, `starter shop`. */
const designOf = (chosen: string) => {
  const [kind, key] = chosen.split(' ') as ['template' | 'starter', string];
  return { [kind]: key };
};

/** What a design asks for and the client does not have: each with what is near, to stand in its place. */
function Missing({
  what,
  needs,
  bound,
  isLeft,
  onBind,
}: {
  what: string;
  needs: readonly DesignNeed[];
  bound: Record<string, string>;
  /** What stays lacking is left out, rather than said in its place. */
  isLeft: boolean;
  onBind: (key: string, to: string) => void;
}) {
  const missing = needs.filter((n) => !n.there);
  const otherwise = isLeft ? 'Don’t add it' : 'Keep it; it shows “no data” until a feed has it';
  if (missing.length === 0) return null;
  return (
    <fieldset className="page-choices">
      <legend>{what} that no feed of this client provides</legend>
      {missing.map((n) =>
        n.near.length === 0 ? (
          <span key={n.key} className="small">
            {n.label}{' '}
            <span className="muted">
              · no alternative; {isLeft ? 'the block is not added' : 'the block shows “no data” until a feed has it'}
            </span>
          </span>
        ) : (
          <NativeSelect
            key={n.key}
            label={n.label}
            data={[
              { value: '', label: otherwise },
              ...n.near.map((o) => ({ value: o.key, label: `${o.label} in its place` })),
            ]}
            value={bound[n.key] ?? ''}
            onChange={(e) => onBind(n.key, e.currentTarget.value)}
          />
        ),
      )}
    </fieldset>
  );
}

/** A new report of a client: from a template of the agency, or a design to begin with, and what stands for what it lacks. */
export function NewReport({ client }: { client: Client }) {
  const navigate = useNavigate();
  const templates = useGet('GET /api/templates');
  const [title, setTitle] = useState('Monthly overview');
  const [chosen, setChosen] = useState('starter shop');
  const [binding, setBinding] = useState<Binding>(NOTHING);
  const needs = useQuery<Reply<'POST /api/clients/:client/needs'>, ApiError>({
    queryKey: ['needs', client.id, chosen, binding],
    queryFn: () =>
      call('POST /api/clients/:client/needs', {
        params: { client: client.id },
        body: { ...designOf(chosen), binding },
      }),
    placeholderData: (before, query) => (query?.queryKey[2] === chosen ? before : undefined),
  });
  const create = useChange(() =>
    call('POST /api/clients/:client/reports', {
      params: { client: client.id },
      body: { title, ...designOf(chosen), binding },
    }),
  );
  const bind = (of: keyof Binding) => (key: string, to: string) => {
    const { [key]: _, ...rest } = binding[of];
    setBinding({ ...binding, [of]: to === '' ? rest : { ...rest, [key]: to } });
  };
  // A design to begin with is fitted to the client; a template is somebody's own, and stays whole.
  const isLeft = chosen.startsWith('starter ') && (needs.data?.metrics.some((n) => n.there) ?? false);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    create.mutate(undefined, { onSuccess: (report) => navigate(`/reports/${report.id}`) });
  };
  if (!templates.data) return <Loading lines={4} />;
  const value = (t: (typeof templates.data)[number]) => (t.id === null ? `starter ${t.starter}` : `template ${t.id}`);
  return (
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 680 }} noValidate>
      <h2>New report</h2>
      <TextInput
        label="Title"
        value={title}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={fieldError(create.error, 'title')}
      />
      <Radio.Group
        label="Start from"
        value={chosen}
        onChange={(to) => {
          setChosen(to);
          setBinding(NOTHING);
        }}
        error={fieldError(create.error, 'starter') ?? fieldError(create.error, 'template')}
      >
        <Stack gap={8} mt={6}>
          {templates.data.map((t) => (
            <Radio
              key={value(t)}
              value={value(t)}
              label={t.id === null ? t.name : `${t.name} (a template of yours)`}
              description={t.about}
            />
          ))}
        </Stack>
      </Radio.Group>
      {needs.data && (
        <>
          <Missing
            what="Figures"
            needs={needs.data.metrics}
            bound={binding.metrics}
            isLeft={isLeft}
            onBind={bind('metrics')}
          />
          <Missing
            what="Breakdowns"
            needs={needs.data.dimensions}
            bound={binding.dimensions}
            isLeft={isLeft}
            onBind={bind('dimensions')}
          />
          {needs.data.drops.length > 0 && (
            <Notice>
              <b>The report is created without {plural(needs.data.drops.length, 'block')} that no feed can fill:</b>
              <ul className="plain">
                {needs.data.drops.map((d) => (
                  <li key={`${d.page} ${d.name}`} className="small">
                    {d.name} <span className="muted">on “{d.page}”</span>
                  </li>
                ))}
              </ul>
            </Notice>
          )}
          {[...needs.data.metrics, ...needs.data.dimensions].every((n) => n.there) && (
            <span className="tone-good small">● All required data is available.</span>
          )}
        </>
      )}
      <Notice error={needs.error ?? formError(create.error, ['title', 'starter', 'template'])} />
      <div>
        <Button type="submit" loading={create.isPending}>
          Create report
        </Button>
      </div>
    </form>
  );
}
