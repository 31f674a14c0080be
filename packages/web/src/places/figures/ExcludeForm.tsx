import type { MetricOffer } from '@chronicon/core/contract';
import { Checkbox, MultiSelect, Radio, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { DateField } from '../../parts/DateField.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

/** Days to be left out, as they are being chosen. */
export interface Excluding {
  id?: string;
  from: string;
  to: string;
  metrics: string[];
  reason: string;
  printed: boolean;
}

interface Props {
  client: string;
  days: Excluding;
  offers: readonly MetricOffer[];
  onDone: () => void;
}

/** Leaves days out of a client's figures, for all metrics or named ones, and says why. */
export function ExcludeForm({ client, days, offers, onDone }: Props) {
  const [from, setFrom] = useState(days.from);
  const [to, setTo] = useState(days.to);
  const [reason, setReason] = useState(days.reason);
  const [printed, setPrinted] = useState(days.printed);
  const [isNamed, setNamed] = useState(days.metrics.length > 0);
  const [metrics, setMetrics] = useState(days.metrics);
  const save = useChange(async () => {
    const body = { from, to, reason, printed, metrics: isNamed ? metrics : [] };
    if (days.id) {
      const params = { client, excluded: days.id };
      await call('PUT /api/clients/:client/excluded-days/:excluded', { params, body });
    } else await call('POST /api/clients/:client/excluded-days', { params: { client }, body });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="stack note-form" onSubmit={submit} noValidate aria-label="Exclude days">
      <Unsaved when={reason !== days.reason && !save.isPending && !save.isSuccess} what="these excluded days" />
      <p className="small" style={{ margin: 0 }}>
        An excluded day counts in neither period: the day it’s compared with is excluded too, and every figure says so.
        Unsent editions are regenerated; sent ones stay the same.
      </p>
      <TextInput
        label="Reason"
        placeholder="Tracking was down"
        value={reason}
        onChange={(e) => setReason(e.currentTarget.value)}
        error={fieldError(save.error, 'reason')}
        autoFocus
      />
      <div className="row">
        <DateField
          label="First day"
          value={from}
          onChange={(date) => setFrom(date)}
          error={fieldError(save.error, 'from')}
        />
        <DateField label="Last day" value={to} onChange={(date) => setTo(date)} error={fieldError(save.error, 'to')} />
      </div>
      <Radio.Group label="Metrics" value={isNamed ? 'named' : 'all'} onChange={(v) => setNamed(v === 'named')}>
        <div className="stack" style={{ gap: 4, marginTop: 4 }}>
          <Radio value="all" label="All metrics" />
          <Radio value="named" label="Some metrics, and metrics calculated from them" />
        </div>
      </Radio.Group>
      {isNamed && (
        <MultiSelect
          label="Metrics"
          data={offers
            .filter((m) => m.available || metrics.includes(m.key))
            .map((m) => ({ value: m.key, label: m.label }))}
          value={metrics}
          onChange={setMetrics}
          searchable
          error={fieldError(save.error, 'metrics')}
        />
      )}
      <Checkbox
        label="Show the reason to readers"
        description={
          printed
            ? 'The reason appears next to the dates at the foot of the page.'
            : 'Readers see which days are excluded, but not why.'
        }
        checked={printed}
        onChange={(e) => setPrinted(e.currentTarget.checked)}
      />
      <FormEnd
        error={save.error}
        fields={['reason', 'from', 'to', 'metrics']}
        pending={save.isPending}
        disabled={isNamed && metrics.length === 0}
        save={days.id ? 'Save' : from === to ? 'Exclude day' : 'Exclude days'}
        onCancel={onDone}
      />
    </form>
  );
}
