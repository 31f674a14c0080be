import type { Client, ReaderList } from '@chronicon/core/contract';
import { Button, Checkbox, Stack, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

function ListForm({ client, list, onDone }: { client: Client; list: ReaderList | null; onDone: () => void }) {
  const [name, setName] = useState(list?.name ?? '');
  const [contacts, setContacts] = useState(list?.contacts ?? []);
  const save = useChange(() => {
    const body = { name, contacts };
    return list
      ? call('PUT /api/clients/:client/lists/:list', { params: { client: client.id, list: list.id }, body })
      : call('POST /api/clients/:client/lists', { params: { client: client.id }, body });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  const before = list?.contacts ?? [];
  const changed =
    name !== (list?.name ?? '') || contacts.length !== before.length || contacts.some((id) => !before.includes(id));
  return (
    <form className="card stack" onSubmit={submit} style={{ maxWidth: 560 }} noValidate>
      <Unsaved when={changed && !save.isPending && !save.isSuccess} what="your changes to this list" />
      <h2>{list ? `Change ${list.name}` : 'New list'}</h2>
      <TextInput
        label="List name"
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <Checkbox.Group
        label="Who is on it"
        value={contacts}
        onChange={setContacts}
        error={fieldError(save.error, 'contacts')}
      >
        <Stack gap={7} mt={6}>
          {client.contacts.map((c) => (
            <Checkbox
              key={c.id}
              value={c.id}
              label={`${c.firstName} ${c.lastName}`.trim()}
              description={c.stopped ?? c.email}
            />
          ))}
        </Stack>
      </Checkbox.Group>
      <Notice error={formError(save.error, ['name', 'contacts'])} />
      <div className="row">
        <Button type="submit" loading={save.isPending}>
          {list ? 'Save list' : 'Add list'}
        </Button>
        <Button variant="default" onClick={onDone}>
          Discard changes
        </Button>
      </div>
    </form>
  );
}

/** Named sets of a client's contacts, which schedules address as one. */
export function Lists({ client }: { client: Client }) {
  const [editing, setEditing] = useState<ReaderList | 'new' | null>(null);
  const remove = useChange((l: ReaderList) =>
    call('DELETE /api/clients/:client/lists/:list', { params: { client: client.id, list: l.id } }),
  );
  const nameOf = (id: string) => {
    const c = client.contacts.find((x) => x.id === id);
    return c ? `${c.firstName} ${c.lastName}`.trim() : 'a removed contact';
  };
  return (
    <section className="stack" aria-label="Lists">
      <h2>Lists</h2>
      <Notice error={remove.error} />
      {client.lists.length > 0 && (
        <table className="list">
          <thead>
            <tr>
              <th>Name</th>
              <th>Who is on it</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {client.lists.map((l) => (
              <tr key={l.id}>
                <td>
                  <b>{l.name}</b>
                </td>
                <td>{l.contacts.map(nameOf).join(', ') || <span className="tone-attention">nobody</span>}</td>
                <td style={{ textAlign: 'right' }}>
                  <Button
                    variant="subtle"
                    size="compact-sm"
                    aria-label={`Change the list ${l.name}`}
                    onClick={() => setEditing(l)}
                  >
                    Change
                  </Button>
                  <Button
                    variant="subtle"
                    color="red"
                    size="compact-sm"
                    aria-label={`Remove the list ${l.name}`}
                    onClick={() => remove.mutate(l)}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {editing ? (
        <ListForm
          key={editing === 'new' ? 'new' : editing.id}
          client={client}
          list={editing === 'new' ? null : editing}
          onDone={() => setEditing(null)}
        />
      ) : (
        <div>
          <Button variant="outline" disabled={client.contacts.length === 0} onClick={() => setEditing('new')}>
            New list
          </Button>
          {client.lists.length === 0 && (
            <span className="muted small"> A list groups contacts so you can schedule to all of them at once.</span>
          )}
        </div>
      )}
    </section>
  );
}
