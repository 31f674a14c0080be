import type { Client } from '@chronicon/core/contract';
import { Button, CloseButton, Modal, NativeSelect, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { type Body, call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { Choice } from '../../parts/Choice.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';

type Typed = Body<'POST /api/clients/:client/typed'>;
type Metric = Typed['metrics'][number];

const NEW: Metric = { label: '', unit: 'count', polarity: 'higher', kind: 'sum' };
const UNITS = [
  { value: 'count', label: 'counted' },
  { value: 'money', label: 'money' },
  { value: 'decimal', label: 'a decimal' },
];

function MetricLine({
  metric,
  at,
  error,
  onChange,
  onRemove,
}: {
  metric: Metric;
  at: number;
  error: string | undefined;
  onChange: (patch: Partial<Metric>) => void;
  onRemove: (() => void) | null;
}) {
  const name = metric.label || `figure ${at + 1}`;
  return (
    <div className="row" style={{ alignItems: 'start', flexWrap: 'nowrap', gap: 8 }}>
      <TextInput
        style={{ flex: 1 }}
        aria-label={`Name of figure ${at + 1}`}
        placeholder="In-store sales"
        value={metric.label}
        onChange={(e) => onChange({ label: e.currentTarget.value })}
        error={error}
      />
      <NativeSelect
        aria-label={`Unit of ${name}`}
        data={UNITS}
        value={metric.unit}
        onChange={(e) => onChange({ unit: e.currentTarget.value as Metric['unit'] })}
      />
      <NativeSelect
        aria-label={`How ${name} is totalled`}
        data={[
          { value: 'sum', label: 'sum' },
          { value: 'level', label: 'latest value' },
        ]}
        value={metric.kind}
        onChange={(e) => onChange({ kind: e.currentTarget.value as Metric['kind'] })}
      />
      <CloseButton aria-label={`Remove ${name}`} disabled={onRemove === null} onClick={() => onRemove?.()} />
    </div>
  );
}

/** Says which figures will be typed in, and goes to where they are. */
export function NewTyped({ client }: { client: Client }) {
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const [input, setInput] = useState<Typed>({ name: 'Entered', grain: 'month', metrics: [NEW] });
  const make = useChange(() => call('POST /api/clients/:client/typed', { params: { client: client.id }, body: input }));
  const setMetric = (at: number, patch: Partial<Metric>) =>
    setInput((all) => ({ ...all, metrics: all.metrics.map((m, i) => (i === at ? { ...m, ...patch } : m)) }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    make.mutate(undefined, { onSuccess: ({ feed }) => navigate(`/clients/${client.id}/typed/${feed}`) });
  };
  return (
    <div>
      <Button variant="outline" onClick={() => setOpen(true)}>
        Enter data manually
      </Button>
      <Modal opened={open} onClose={() => setOpen(false)} size="lg" title="Manual data">
        <form className="stack" onSubmit={submit} noValidate>
          <div className="row" style={{ alignItems: 'end' }}>
            <TextInput
              label="Feed name"
              value={input.name}
              onChange={(e) => {
                const name = e.currentTarget.value;
                setInput((all) => ({ ...all, name }));
              }}
              error={fieldError(make.error, 'name')}
            />
            <div>
              <div className="label">One value per</div>
              <Choice
                label="One value per"
                options={[
                  { value: 'month', label: 'month' },
                  { value: 'week', label: 'week' },
                ]}
                value={input.grain}
                onChange={(grain) => setInput((all) => ({ ...all, grain }))}
              />
            </div>
          </div>
          <div className="stack" style={{ gap: 8 }}>
            <div className="label">Which figures</div>
            {input.metrics.map((m, i) => (
              <MetricLine
                key={i}
                at={i}
                metric={m}
                error={fieldError(make.error, `metrics.${i}`)}
                onChange={(patch) => setMetric(i, patch)}
                onRemove={
                  input.metrics.length > 1
                    ? () => setInput((all) => ({ ...all, metrics: all.metrics.filter((_, n) => n !== i) }))
                    : null
                }
              />
            ))}
            <div>
              <Button
                variant="subtle"
                size="compact-sm"
                onClick={() => setInput((all) => ({ ...all, metrics: [...all.metrics, NEW] }))}
              >
                Add metric
              </Button>
            </div>
          </div>
          <FormEnd
            error={make.error}
            fields={['name', ...input.metrics.map((_, i) => `metrics.${i}`)]}
            pending={make.isPending}
            save="Create"
            onCancel={() => setOpen(false)}
          />
        </form>
      </Modal>
    </div>
  );
}
