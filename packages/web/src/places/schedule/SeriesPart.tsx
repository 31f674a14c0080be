import type { Schedule } from '@chronicon/core/contract';
import { Button, Checkbox, NativeSelect, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link, useLocation } from 'react-router';
import { call, type Reply } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { ScrollBox } from '../../parts/ScrollBox.tsx';
import { plural } from '../../parts/when.ts';

type Client = Reply<'GET /api/schedules/:schedule/series'>['clients'][number];
interface Chosen {
  readers: string[];
  greeting: string;
}

/** One client of the tag: what would go, to whom. */
function Row({ client, chosen, onChange }: { client: Client; chosen: Chosen; onChange: (chosen: Chosen) => void }) {
  const free = client.report !== null && client.schedule === null;
  return (
    <tr>
      <th scope="row">
        {client.name}
        <div className="muted small">{client.report?.title ?? 'no matching report'}</div>
      </th>
      <td>
        {client.schedule && <Link to={`/schedules/${client.schedule}`}>is scheduled</Link>}
        {free && (
          <Stack gap={5}>
            {client.contacts.map((c) => (
              <Checkbox
                key={c.id}
                size="xs"
                label={c.name}
                description={c.stopped}
                disabled={c.stopped !== null}
                checked={chosen.readers.includes(c.id)}
                onChange={() =>
                  onChange({
                    ...chosen,
                    readers: chosen.readers.includes(c.id)
                      ? chosen.readers.filter((id) => id !== c.id)
                      : [...chosen.readers, c.id],
                  })
                }
              />
            ))}
            {client.contacts.length === 0 && <Link to={`/clients/${client.id}/contacts`}>Add a contact first</Link>}
          </Stack>
        )}
      </td>
      <td>
        {free && (
          <TextInput
            size="xs"
            aria-label={`Greeting for ${client.name}`}
            placeholder="same as the others"
            value={chosen.greeting}
            onChange={(e) => onChange({ ...chosen, greeting: e.currentTarget.value })}
          />
        )}
      </td>
    </tr>
  );
}

const NONE: Chosen = { readers: [], greeting: '' };

/** Repeat for all clients with a tag, with its own report and readers. */
export function SeriesPart({ schedule }: { schedule: Schedule }) {
  const { hash } = useLocation();
  const [open, setOpen] = useState(hash === '#series');
  const [tag, setTag] = useState('');
  const [chosen, setChosen] = useState<Record<string, Chosen>>({});
  const params = { schedule: schedule.id };
  const series = useGet(
    'GET /api/schedules/:schedule/series',
    { params, query: { tag } },
    { enabled: open, keep: true },
  );
  const { data } = series;
  // Those of the tag that is shown alone: what was chosen of another is out of sight.
  const clients = (data?.clients ?? []).flatMap(({ id: client }) => {
    const { readers, greeting } = chosen[client] ?? NONE;
    return readers.length > 0 ? [{ client, readers: readers.map((contact) => ({ contact })), greeting }] : [];
  });
  const make = useChange(() =>
    call('POST /api/schedules/:schedule/series', { params, body: { tag: data?.tag ?? '', clients } }),
  );
  return (
    <details className="history" id="series" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Repeat for all clients with a tag</summary>
      <Stack gap={10} mt={8}>
        <Notice error={series.error ?? formError(make.error, ['tag'])} />
        {data && data.tags.length === 0 && <span className="muted">No client has a tag yet.</span>}
        {data && data.tags.length > 0 && (
          <NativeSelect
            label="Clients with the tag"
            data={['', ...data.tags].map((t) => ({ value: t, label: t || 'choose a tag' }))}
            value={data.tag}
            error={fieldError(make.error, 'tag')}
            onChange={(e) => setTag(e.currentTarget.value)}
            style={{ maxWidth: 320 }}
          />
        )}
        {data && data.tag !== '' && data.clients.length === 0 && (
          <span className="muted">No other client has this tag.</span>
        )}
        {data && data.clients.length > 0 && (
          <>
            <ScrollBox label="Clients with the tag, and their readers">
              <table className="list matrix">
                <thead>
                  <tr>
                    <th>Client</th>
                    <th>Readers</th>
                    <th>Greeting</th>
                  </tr>
                </thead>
                <tbody>
                  {data.clients.map((c) => (
                    <Row
                      key={c.id}
                      client={c}
                      chosen={chosen[c.id] ?? NONE}
                      onChange={(next) => setChosen((all) => ({ ...all, [c.id]: next }))}
                    />
                  ))}
                </tbody>
              </table>
            </ScrollBox>
            <div className="row">
              <Button
                variant="outline"
                disabled={clients.length === 0}
                loading={make.isPending}
                onClick={() => make.mutate(undefined, { onSuccess: () => setChosen({}) })}
              >
                Schedule it for {plural(clients.length, 'client')}
              </Button>
              <span className="muted small">Same local time for each client. You can undo this in All schedules.</span>
            </div>
          </>
        )}
        {make.data && (
          <div role="status" className="small">
            Scheduled for {plural(make.data.made, 'client')}.
            {make.data.problems.map((p) => (
              <div key={p.client} className="tone-attention">
                {p.client}: {p.text}
              </div>
            ))}
          </div>
        )}
      </Stack>
    </details>
  );
}
