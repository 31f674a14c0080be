import { OWN_NAME } from '@chronicon/core/bounds';
import type { Client } from '@chronicon/core/contract';
import { NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { Notice } from '../../parts/Notice.tsx';

interface RowProps {
  client: string;
  dimension: string;
  label: string;
  name: string;
}

/** One value with the client's own name for it: kept when it is left, or Enter is pressed. */
function Row({ client, dimension, label, name }: RowProps) {
  const [text, setText] = useState(name);
  const save = useChange(() =>
    call('PUT /api/clients/:client/names', { params: { client }, body: { dimension, label, name: text.trim() } }),
  );
  const keep = () => text.trim() !== name && save.mutate();
  return (
    <tr>
      <td>{label}</td>
      <td>
        <TextInput
          aria-label={`Own name for ${label}`}
          placeholder="Use the feed’s name"
          maxLength={OWN_NAME}
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          onBlur={keep}
          onKeyDown={(e) => e.key === 'Enter' && keep()}
        />
        <Notice error={save.error} />
      </td>
    </tr>
  );
}

/** What a client calls the values that its feeds bring: in all its reports. */
export function OwnNames({ client }: { client: Client }) {
  const params = { client: client.id };
  const known = useGet('GET /api/clients/:client/metrics', { params });
  const names = useGet('GET /api/clients/:client/names', { params });
  const [chosen, setChosen] = useState('');
  const [text, setText] = useState('');
  const dimensions = (known.data?.dimensions ?? []).filter((d) =>
    known.data?.metrics.some((m) => m.available && m.dimensions.includes(d.key)),
  );
  const dimension = chosen || dimensions[0]?.key || '';
  const found = useGet(
    'GET /api/clients/:client/labels',
    { params, query: { dimension, text } },
    { keep: true, enabled: dimension !== '' },
  );
  if (!known.data || !names.data) return <Loading lines={2} />;
  if (dimensions.length === 0) return null;
  const own = names.data[dimension] ?? {};
  return (
    <section className="card stack">
      <h2>Names of values</h2>
      <span className="muted small">Rename values such as “Paid search” in this client’s reports.</span>
      <div className="row">
        <NativeSelect
          label="Of"
          data={dimensions.map((d) => ({ value: d.key, label: d.label }))}
          value={dimension}
          onChange={(e) => setChosen(e.currentTarget.value)}
        />
        <TextInput label="Find" value={text} onChange={(e) => setText(e.currentTarget.value)} />
      </div>
      <table className="list">
        <thead>
          <tr>
            <th>Feed’s name</th>
            <th>In reports</th>
          </tr>
        </thead>
        <tbody>
          {(found.data?.labels ?? [])
            .filter((label) => label !== '')
            .map((label) => (
              <Row
                key={`${dimension} ${label}`}
                client={client.id}
                dimension={dimension}
                label={label}
                name={own[label] ?? ''}
              />
            ))}
        </tbody>
      </table>
      {found.data?.more && <span className="muted small">More available – search by name.</span>}
    </section>
  );
}
