import type { Client } from '@chronicon/core/contract';
import { Button, NativeSelect, TagsInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { useSession } from '../../shell/sessionContext.ts';

function Tags({ client }: { client: Client }) {
  const known = useGet('GET /api/clients/scopes');
  const save = useChange((tags: string[]) =>
    call('PUT /api/clients/:client/tags', { params: { client: client.id }, body: { tags } }),
  );
  return (
    <>
      <TagsInput
        label="Tags"
        description="Used to filter lists. Saved as you choose"
        data={known.data?.tags ?? []}
        value={save.isPending ? save.variables : client.tags}
        maxTags={20}
        onChange={(tags) => save.mutate(tags)}
      />
      <Notice error={save.error} />
    </>
  );
}

function Manager({ client }: { client: Client }) {
  const { member } = useSession();
  const colleagues = useGet('GET /api/colleagues');
  const [to, setTo] = useState(client.managerId);
  const give = useChange(() =>
    call('POST /api/delegations', { body: { from: client.managerId, to, clients: [client.id], through: null } }),
  );
  const may = member.role === 'owner' || member.id === client.managerId;
  const data = (colleagues.data ?? [])
    .filter((c) => c.role === 'owner' || c.role === 'manager')
    .map((c) => ({ value: c.id, label: c.name }));
  const name = data.find((d) => d.value === to)?.label;
  return (
    <>
      <NativeSelect
        label="Manager"
        description="Gets reader replies and alerts for this client"
        disabled={!may}
        data={
          data.some((d) => d.value === client.managerId)
            ? data
            : [{ value: client.managerId, label: client.manager }, ...data]
        }
        value={to}
        onChange={(e) => setTo(e.currentTarget.value)}
        error={fieldError(give.error, 'to')}
      />
      <Notice error={formError(give.error, ['to'])} />
      {to !== client.managerId && (
        <div className="row">
          <Button loading={give.isPending} onClick={() => give.mutate()}>
            Transfer to {name} permanently
          </Button>
          <Button variant="subtle" onClick={() => setTo(client.managerId)}>
            Cancel
          </Button>
        </div>
      )}
    </>
  );
}

function Duplicate({ client }: { client: Client }) {
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const copy = useChange(() =>
    call('POST /api/clients/:client/duplicate', { params: { client: client.id }, body: { name } }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    copy.mutate(undefined, { onSuccess: (made) => navigate(`/clients/${made.id}/setup`) });
  };
  if (!open) {
    return (
      <Button variant="default" onClick={() => setOpen(true)}>
        Duplicate client
      </Button>
    );
  }
  return (
    <form className="stack" onSubmit={submit} noValidate style={{ flexBasis: '100%' }}>
      <TextInput
        label="Name of the new client"
        description="Copies brand, metrics, tags, reports (as drafts) and schedules (paused). Data and contacts are not copied"
        data-autofocus
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(copy.error, 'name')}
      />
      <FormEnd
        error={copy.error}
        fields={['name']}
        pending={copy.isPending}
        save="Create"
        onCancel={() => setOpen(false)}
      />
    </form>
  );
}

function Inactive({ client }: { client: Client }) {
  const [asking, setAsking] = useState(false);
  const put = useChange((inactive: boolean) =>
    call('PUT /api/clients/:client/inactive', { params: { client: client.id }, body: { inactive } }),
  );
  if (client.inactiveSince) {
    return (
      <Button loading={put.isPending} onClick={() => put.mutate(false)}>
        Reactivate
      </Button>
    );
  }
  return (
    <>
      <Button
        variant={asking ? 'filled' : 'default'}
        {...(asking && { color: 'red.9' })}
        loading={put.isPending}
        onClick={() => (asking ? put.mutate(true, { onSettled: () => setAsking(false) }) : setAsking(true))}
      >
        {asking ? 'Deactivate now' : 'Deactivate client'}
      </Button>
      {asking && (
        <>
          <Button variant="subtle" onClick={() => setAsking(false)}>
            Cancel
          </Button>
          <span className="small muted" style={{ flexBasis: '100%' }}>
            Schedules stop, feeds pause, and pending editions wait for review. Nothing is deleted; you can reactivate it
            any time.
          </span>
        </>
      )}
      <Notice error={put.error} />
    </>
  );
}

/** Who looks after a client, its tags, and what is done with all of it. */
export function Record({ client }: { client: Client }) {
  return (
    <section className="card stack" aria-label="Record">
      <h2>Record</h2>
      {client.inactiveSince && <p className="note">This client is inactive: nothing runs for it.</p>}
      <Manager key={client.managerId} client={client} />
      <Tags client={client} />
      <div className="row">
        <Duplicate client={client} />
        <Inactive client={client} />
      </div>
    </section>
  );
}
