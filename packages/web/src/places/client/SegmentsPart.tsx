import { SEGMENT_NAME } from '@chronicon/core/bounds';
import type { Client, SegmentRow } from '@chronicon/core/contract';
import type { FilterPart } from '@chronicon/core/contract/figuresText';
import { Button, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FilterPicker } from '../../parts/FilterPicker.tsx';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { filterWords } from '../../parts/filterWords.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, Notice } from '../../parts/Notice.tsx';
import { RowActions } from '../../parts/RowActions.tsx';
import { useSession } from '../../shell/sessionContext.ts';

type Dimensions = readonly { key: string; label: string }[];

function SegmentForm({
  client,
  segment,
  dimensions,
  onDone,
}: {
  client: Client;
  segment: SegmentRow | null;
  dimensions: Dimensions;
  onDone: () => void;
}) {
  const [name, setName] = useState(segment?.name ?? '');
  const [parts, setParts] = useState<FilterPart[]>(segment?.parts ?? []);
  const save = useChange(async () => {
    const params = { client: client.id };
    const body = { name, parts };
    if (segment)
      await call('PUT /api/clients/:client/segments/:segment', { params: { ...params, segment: segment.id }, body });
    else await call('POST /api/clients/:client/segments', { params, body });
    onDone();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{segment ? segment.name : 'A new segment'}</h2>
      <TextInput
        label="Name"
        description="Shown to readers under the filtered block’s title"
        maxLength={SEGMENT_NAME}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <FilterPicker client={client.id} dimensions={dimensions} parts={parts} onChange={setParts} plain />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} onCancel={onDone} />
    </form>
  );
}

/** The named filters by which a client's figures and reports are narrowed. */
export function SegmentsPart({ client }: { client: Client }) {
  const { member } = useSession();
  const params = { client: client.id };
  const known = useGet('GET /api/clients/:client/metrics', { params });
  const segments = useGet('GET /api/clients/:client/segments', { params });
  const [open, setOpen] = useState<SegmentRow | 'new' | null>(null);
  const remove = useChange((segment: string) =>
    call('DELETE /api/clients/:client/segments/:segment', { params: { ...params, segment } }),
  );
  if (!known.data || !segments.data) return <Loading lines={2} />;
  const { dimensions } = known.data;
  const mayChange = (s: SegmentRow) => member.role === 'owner' || (member.role !== 'reviewer' && !s.shared);
  return (
    <section className="card stack">
      <h2>Segments</h2>
      <span className="muted small">Saved filters you can use in Figures, reports, blocks and schedules.</span>
      {segments.data.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Segment</th>
              <th>Filter</th>
              <th>
                <span className="reading-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {segments.data.map((s) => (
              <tr key={s.id}>
                <td>
                  <b>{s.name}</b>
                  {s.shared && <div className="small muted">of all clients</div>}
                </td>
                <td>
                  {filterWords(s.parts, { dimensions, segments: [] })}
                  {s.usedIn.length > 0 && <div className="small muted">in {s.usedIn.join(', ')}</div>}
                </td>
                <td>
                  {mayChange(s) && (
                    <RowActions
                      name={s.name}
                      onChange={() => setOpen(s)}
                      // What a report is narrowed by is changed there first.
                      onRemove={s.usedIn.length === 0 ? () => remove.mutate(s.id) : undefined}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Notice error={remove.error} />
      {member.role !== 'reviewer' && open === null && (
        <div>
          <Button variant="default" onClick={() => setOpen('new')}>
            Add a segment
          </Button>
        </div>
      )}
      {open !== null && (
        <SegmentForm
          key={open === 'new' ? 'new' : open.id}
          client={client}
          segment={open === 'new' ? null : open}
          dimensions={dimensions}
          onDone={() => setOpen(null)}
        />
      )}
    </section>
  );
}
