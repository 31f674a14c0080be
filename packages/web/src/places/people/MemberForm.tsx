import type { MemberRow } from '@chronicon/core/contract';
import { ROLES, type Role } from '@chronicon/core/contract/display';
import { MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useClientNames } from '../../parts/useClientNames.ts';
import { plural } from '../../parts/when.ts';

const FIELDS = ['name', 'email', 'role', 'clients'];

interface Props {
  /** Null invites somebody. */
  member: MemberRow | null;
  onDone: (said: string | null) => void;
}

/** Somebody's name, role and clients; with an address, an invitation goes there. */
export function MemberForm({ member, onDone }: Props) {
  const home = useGet('GET /api/agency').data?.home;
  const begin = {
    name: member?.name ?? '',
    email: member?.email ?? '',
    role: member?.role ?? ('manager' as Role),
    clients: member?.clients.map((c) => c.id) ?? [],
  };
  const [input, setInput] = useState(begin);
  const names = useClientNames();
  const known = new Map([...(member?.clients ?? []), ...names.clients].map((c) => [c.id, c.name]));
  const [seen, setSeen] = useState<ReadonlyMap<string, string>>(new Map());
  const set = (patch: Partial<typeof begin>) => setInput((i) => ({ ...i, ...patch }));
  const changed = JSON.stringify(input) !== JSON.stringify(begin);
  const save = useChange(async (): Promise<string | null> => {
    const { email, ...rest } = input;
    if (member) {
      await call('PUT /api/members/:member', { params: { member: member.id }, body: rest });
      return null;
    }
    const { sent } = await call('POST /api/members', { body: { ...rest, email } });
    return sent === null
      ? `The mail server rejected the invitation to ${input.name}. Check Settings, Email; then send it again.`
      : `Invitation sent to ${email}. It expires in three days.`;
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="card stack settings-form" onSubmit={submit} noValidate>
      <h2>{member ? `Change ${member.name}` : 'Invite a member'}</h2>
      <Unsaved when={changed && !save.isPending && !save.isSuccess} what="your changes to this member" />
      <div className="field-pairs">
        <TextInput
          label="Name"
          value={input.name}
          onChange={(e) => set({ name: e.currentTarget.value })}
          error={fieldError(save.error, 'name')}
        />
        <TextInput
          label="Email address"
          type="email"
          disabled={member !== null}
          value={input.email}
          onChange={(e) => set({ email: e.currentTarget.value })}
          error={fieldError(save.error, 'email')}
        />
        <NativeSelect
          label="Role"
          data={[...ROLES]}
          value={input.role}
          onChange={(e) => set({ role: e.currentTarget.value as Role })}
          error={fieldError(save.error, 'role')}
        />
      </div>
      {input.role === 'owner' ? (
        <p className="muted small">Owners see every client and can do everything.</p>
      ) : (
        <MultiSelect
          label="Clients"
          description={`Clients they can see${
            member && member.manages.length > 0 ? `; ${plural(member.manages.length, 'client')} of theirs stay` : ''
          }`}
          searchable
          limit={100}
          data={[...new Map([...seen, ...known])].map(([value, label]) => ({ value, label }))}
          searchValue={names.text}
          onSearchChange={names.setText}
          value={input.clients}
          onChange={(chosen) => {
            // What was chosen keeps its name when something else is looked for.
            setSeen(new Map([...seen, ...[...known].filter(([id]) => chosen.includes(id))]));
            set({ clients: chosen });
          }}
          error={fieldError(save.error, 'clients')}
          nothingFoundMessage="No matching clients"
        />
      )}
      {!member && home && !home.set && (
        <p className="note small">
          The link will point to {home.url}, which only works on this machine. Set CHRONICON_URL first.
        </p>
      )}
      <FormEnd
        error={save.error}
        fields={FIELDS}
        pending={save.isPending}
        save={member ? 'Save' : 'Send invitation'}
        disabled={!changed}
        onCancel={() => onDone(null)}
      />
    </form>
  );
}
