import type { Client, MetricOffer, OwnMetricInput } from '@chronicon/core/contract';
import { Checkbox, NativeSelect, Textarea, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useRef, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSession } from '../../shell/sessionContext.ts';

type Tried = Reply<'POST /api/clients/:client/own-metrics/try'>;

const UNITS = [
  { value: 'count', label: 'a count' },
  { value: 'money', label: 'money' },
  { value: 'percent', label: 'percent' },
  { value: 'decimal', label: 'a number with decimals' },
  { value: 'duration', label: 'time, in seconds' },
];
export const POLARITIES = [
  { value: 'higher', label: 'higher is better' },
  { value: 'lower', label: 'lower is better' },
  { value: 'neutral', label: 'neither' },
];

/** "Ticket sales per visit" as a key: `ticketSalesPerVisit`. */
const keyFrom = (label: string): string =>
  label
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9 ]/g, '')
    .trim()
    .split(/\s+/)
    .map((w, i) => (i === 0 ? w.toLowerCase() : w.charAt(0).toUpperCase() + w.slice(1).toLowerCase()))
    .join('')
    .slice(0, 40);

const EMPTY: OwnMetricInput = { key: '', label: '', unit: 'count', polarity: 'higher', formula: '', definition: '' };

/** Asks the server to read the formula as it is being written. */
function useTried(client: string, draft: OwnMetricInput, key: string) {
  const [settled] = useDebouncedValue({ formula: draft.formula, unit: draft.unit, key }, 250);
  return useQuery<Tried, ApiError>({
    queryKey: ['try', client, settled],
    queryFn: ({ signal }) =>
      call('POST /api/clients/:client/own-metrics/try', { params: { client }, body: settled, signal }),
    enabled: settled.formula.trim() !== '',
    placeholderData: (before) => before,
  });
}

/** The formula with its fault marked where it stands. */
function Faulty({ formula, at, message }: { formula: string; at: number; message: string }) {
  const end = Math.max(at + 1, at + (/^\w+/.exec(formula.slice(at))?.[0].length ?? 1));
  return (
    <div className="note wrong small" role="alert">
      <code className="formula">
        {formula.slice(0, at)}
        <mark>{formula.slice(at, end) || '␣'}</mark>
        {formula.slice(end)}
      </code>
      <div>
        At character {at + 1}: {message}
      </div>
    </div>
  );
}

interface Props {
  client: Client;
  offers: readonly MetricOffer[];
  /** The metric to change; null for a new one. */
  metric: MetricOffer | null;
  onDone: () => void;
}

/** A position is a unit of standard metrics alone. */
const ownUnit = ({ unit }: MetricOffer): OwnMetricInput['unit'] => (unit === 'position' ? 'decimal' : unit);

/** A metric of the client's own: a formula over others, read and worked out as it is written. */
export function OwnMetricForm({ client, offers, metric, onDone }: Props) {
  const [initial] = useState<OwnMetricInput>(
    metric ? { ...EMPTY, ...metric, unit: ownUnit(metric), formula: metric.formula ?? '' } : EMPTY,
  );
  const [draft, setDraft] = useState(initial);
  const changed = JSON.stringify(draft) !== JSON.stringify(initial);
  const field = useRef<HTMLTextAreaElement>(null);
  const patch = (p: Partial<OwnMetricInput>) => setDraft({ ...draft, ...p });
  const key = metric?.key ?? (draft.key || keyFrom(draft.label));
  const tried = useTried(client.id, draft, key);
  const { member } = useSession();
  const [shared, setShared] = useState(false);
  const save = useChange(async () => {
    const body = { ...draft, key };
    if (metric) {
      await call('PUT /api/clients/:client/own-metrics/:metric', {
        params: { client: client.id, metric: metric.key },
        body,
      });
    } else
      await call('POST /api/clients/:client/own-metrics', { params: { client: client.id }, body: { ...body, shared } });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  const insert = (name: string) => {
    const at = field.current?.selectionStart ?? draft.formula.length;
    patch({ formula: `${draft.formula.slice(0, at)}${name}${draft.formula.slice(at)}` });
    field.current?.focus();
  };
  const fault = draft.formula.trim() === '' ? null : (tried.data?.fault ?? null);
  // One that reads a measure has no formula.
  const reads = metric !== null && metric.formula === null;
  const parts = offers.filter((m) => m.available && m.key !== metric?.key);
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{metric ? `Change ${metric.label}` : 'A metric by formula'}</h2>
      {metric?.shared && (
        <span className="small tone-attention">
          This is an agency metric. Changes apply to every client that uses it.
        </span>
      )}
      <Unsaved when={changed && !save.isPending && !save.isSuccess} what="this metric" />
      <TextInput
        label="Name"
        value={draft.label}
        onChange={(e) => patch({ label: e.currentTarget.value })}
        error={fieldError(save.error, 'label')}
      />
      {!metric && (
        <TextInput
          label="Key"
          description="Used in formulas and emails. Can’t be changed later"
          value={draft.key || keyFrom(draft.label)}
          onChange={(e) => patch({ key: e.currentTarget.value })}
          error={fieldError(save.error, 'key')}
        />
      )}
      {reads ? (
        <span className="muted small">It reads data from a file or entered manually.</span>
      ) : (
        <>
          <Textarea
            label="Formula"
            description="+ − * / ( ), numbers, min max abs round, and metrics by their key"
            autosize
            minRows={2}
            ref={field}
            styles={{ input: { fontFamily: 'ui-monospace, monospace' } }}
            value={draft.formula}
            onChange={(e) => patch({ formula: e.currentTarget.value })}
            error={fault ? true : fieldError(save.error, 'formula')}
          />
          {fault && <Faulty formula={draft.formula} at={fault.at} message={fault.message} />}
          <NativeSelect
            aria-label="Insert metric"
            data={[
              { value: '', label: 'Insert metric…' },
              ...parts.map((m) => ({ value: m.key, label: `${m.label} (${m.key})` })),
            ]}
            value=""
            onChange={(e) => e.currentTarget.value && insert(e.currentTarget.value)}
          />
          {!fault && tried.data?.results && (
            <dl className="facts" aria-label="Result">
              {tried.data.inputs.map((i) => (
                <div key={i.label} style={{ display: 'contents' }}>
                  <dt>{i.label}</dt>
                  <dd>{i.text}</dd>
                </div>
              ))}
              {tried.data.results.map((r) => (
                <div key={r.label} style={{ display: 'contents' }}>
                  <dt>{r.label}</dt>
                  <dd>
                    <b>{r.text}</b>
                  </dd>
                </div>
              ))}
            </dl>
          )}
        </>
      )}
      <div className="row">
        <NativeSelect
          label="It is"
          data={UNITS}
          value={draft.unit}
          onChange={(e) => patch({ unit: e.currentTarget.value as OwnMetricInput['unit'] })}
        />
        <NativeSelect
          label="Direction"
          data={POLARITIES}
          value={draft.polarity}
          onChange={(e) => patch({ polarity: e.currentTarget.value as OwnMetricInput['polarity'] })}
        />
      </div>
      <TextInput
        label="What it means"
        value={draft.definition}
        onChange={(e) => patch({ definition: e.currentTarget.value })}
        error={fieldError(save.error, 'definition')}
      />
      {!metric && member.role === 'owner' && (
        <Checkbox
          label="Available to all clients with the required data"
          description="It can then use only standard metrics and other agency metrics"
          checked={shared}
          onChange={(e) => setShared(e.currentTarget.checked)}
        />
      )}
      <FormEnd
        error={save.error}
        fields={['label', 'key', 'formula', 'definition']}
        pending={save.isPending}
        disabled={fault !== null}
        onCancel={onDone}
      />
    </form>
  );
}
