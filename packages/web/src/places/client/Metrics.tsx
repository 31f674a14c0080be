import type { Client, MetricOffer } from '@chronicon/core/contract';
import { measureName } from '@chronicon/core/contract/display';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { RowActions } from '../../parts/RowActions.tsx';
import { useSession } from '../../shell/sessionContext.ts';
import { OwnMetricForm, POLARITIES } from './OwnMetricForm.tsx';
import { OwnNames } from './OwnNames.tsx';
import { SegmentsPart } from './SegmentsPart.tsx';

/** A standard metric as this client wants it: its name, which way is good, what it reads. */
function StandardForm({
  client,
  metric,
  measures,
  onDone,
}: {
  client: Client;
  metric: MetricOffer;
  measures: readonly string[];
  onDone: () => void;
}) {
  const [label, setLabel] = useState(metric.label === metric.standardLabel ? '' : metric.label);
  const [polarity, setPolarity] = useState(metric.polarity);
  const [reads, setReads] = useState(Object.fromEntries(metric.reads.map((r) => [r.measure, r.from])));
  const params = { client: client.id, metric: metric.key };
  const save = useChange(async () => {
    await call('PUT /api/clients/:client/metrics/:metric', { params, body: { label, polarity, reads } });
    onDone();
  });
  const reset = useChange(async () => {
    await call('DELETE /api/clients/:client/metrics/:metric', { params });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{metric.standardLabel}</h2>
      <span className="muted">{metric.definition}</span>
      <TextInput
        label="Name for this client"
        description={`Empty: “${metric.standardLabel}”, in each report’s language`}
        value={label}
        onChange={(e) => setLabel(e.currentTarget.value)}
        error={fieldError(save.error, 'label')}
      />
      <NativeSelect
        label="Direction"
        data={POLARITIES}
        value={polarity}
        onChange={(e) => setPolarity(e.currentTarget.value as typeof polarity)}
      />
      {metric.reads.map((r) => (
        <NativeSelect
          key={r.measure}
          label={`Source for ${measureName(r.measure)}`}
          data={[...new Set([r.measure, r.from, ...measures])].map((m) => ({ value: m, label: measureName(m) }))}
          value={reads[r.measure] ?? r.measure}
          onChange={(e) => setReads({ ...reads, [r.measure]: e.currentTarget.value })}
          error={fieldError(save.error, 'reads')}
        />
      ))}
      <FormEnd error={save.error ?? reset.error} fields={['label', 'reads']} pending={save.isPending} onCancel={onDone}>
        {metric.changed && (
          <Button variant="default" loading={reset.isPending} onClick={() => reset.mutate()}>
            Reset to standard
          </Button>
        )}
      </FormEnd>
    </form>
  );
}

/** What this client's figures are called and made of, and metrics of its own. */
export function Metrics({ client }: { client: Client }) {
  const { member } = useSession();
  const known = useGet('GET /api/clients/:client/metrics', { params: { client: client.id } });
  const [open, setOpen] = useState<MetricOffer | 'new' | null>(null);
  const [all, setAll] = useState(false);
  const remove = useChange((metric: string) =>
    call('DELETE /api/clients/:client/own-metrics/:metric', { params: { client: client.id, metric } }),
  );
  if (known.error) return <Notice error={known.error} />;
  if (!known.data) return <Loading />;
  const { metrics, measures } = known.data;
  const mayChange = member.role !== 'reviewer';
  const shown = metrics.filter((m) => all || m.available || m.changed || m.field === 'own');
  const fields = [...new Set(shown.map((m) => m.fieldLabel))];
  const own = open !== null && (open === 'new' || open.field === 'own');
  return (
    <div className={open ? 'columns' : ''}>
      <div className="stack">
        <div className="row">
          {mayChange && <Button onClick={() => setOpen('new')}>Add a metric by formula</Button>}
          <Button variant="default" onClick={() => setAll(!all)} aria-pressed={all}>
            {all ? 'With data only' : 'All standard metrics'}
          </Button>
          <Notice error={remove.error} />
        </div>
        <table className="list">
          <thead>
            <tr>
              <th>Metric</th>
              <th>Definition</th>
              <th>
                <span className="reading-only">Actions</span>
              </th>
            </tr>
          </thead>
          {fields.map((field) => (
            <tbody key={field}>
              <tr>
                <th colSpan={3} scope="rowgroup">
                  {field}
                </th>
              </tr>
              {shown
                .filter((m) => m.fieldLabel === field)
                .map((m) => (
                  <tr key={m.key} className={open !== null && open !== 'new' && open.key === m.key ? 'open' : ''}>
                    <td>
                      <b>{m.label}</b>
                      {m.changed && m.label !== m.standardLabel && (
                        <div className="small muted">else {m.standardLabel}</div>
                      )}
                      <div className="small muted">
                        {m.key}
                        {m.shared && ' · for all clients'}
                      </div>
                    </td>
                    <td>
                      {m.definition || <span className="muted">–</span>}
                      {m.formula && <code className="formula small"> {m.formula}</code>}
                      {!m.available && <div className="small muted">◌ no data source</div>}
                    </td>
                    <td>
                      {mayChange && (!m.shared || member.role === 'owner') && (
                        <RowActions
                          name={m.label}
                          onChange={() => setOpen(m)}
                          onRemove={m.field === 'own' ? () => remove.mutate(m.key) : undefined}
                        />
                      )}
                    </td>
                  </tr>
                ))}
            </tbody>
          ))}
        </table>
        <SegmentsPart client={client} />
        {mayChange && <OwnNames client={client} />}
      </div>
      {open !== null && own && (
        <OwnMetricForm
          key={open === 'new' ? 'new' : open.key}
          client={client}
          offers={metrics}
          metric={open === 'new' ? null : open}
          onDone={() => setOpen(null)}
        />
      )}
      {open !== null && open !== 'new' && !own && (
        <StandardForm key={open.key} client={client} metric={open} measures={measures} onDone={() => setOpen(null)} />
      )}
    </div>
  );
}
