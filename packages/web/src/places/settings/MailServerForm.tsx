import type { MailServerInput } from '@chronicon/core/contract';
import { Button, NativeSelect, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, type ReactNode, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { useSession } from '../../shell/sessionContext.ts';

type Use = 'main' | 'notices';
type View = Reply<'GET /api/agency'>['mail'][Use];

export const TLS: { value: MailServerInput['tls']; label: string; port: number }[] = [
  { value: 'implicit', label: 'TLS (usual on port 465)', port: 465 },
  { value: 'require', label: 'STARTTLS required (usual on port 587)', port: 587 },
  { value: 'offered', label: 'STARTTLS if available', port: 25 },
  { value: 'never', label: 'Never: a server on this machine', port: 25 },
];

const FIELDS = ['host', 'port', 'user', 'password'];

interface Props {
  use: Use;
  kept: View;
  onDone: (said: Reply<'PUT /api/agency/mail/:use'>) => void;
  /** Further buttons beside the one that tries and saves. */
  children?: ReactNode;
}

/** A mail server, tried by a real mail to whoever sets it before it is saved. */
export function MailServerForm({ use, kept, onDone, children }: Props) {
  const { member } = useSession();
  const [input, setInput] = useState<MailServerInput>({
    host: kept?.host ?? '',
    port: kept?.port ?? 587,
    tls: kept?.tls ?? 'require',
    user: kept?.user ?? '',
  });
  const set = (patch: Partial<MailServerInput>) => setInput((i) => ({ ...i, ...patch }));
  const save = useChange(() => call('PUT /api/agency/mail/:use', { params: { use }, body: input }));
  const choose = (tls: MailServerInput['tls']) => {
    const usual = TLS.some((t) => t.port === input.port);
    set({ tls, ...(usual && { port: TLS.find((t) => t.value === tls)!.port }) });
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <Unsaved when={(input.password ?? '') !== '' && !save.isPending && !save.isSuccess} what="the mail server" />
      <div className="field-pairs">
        <TextInput
          label="Host"
          placeholder="smtp.place.example"
          value={input.host}
          onChange={(e) => set({ host: e.currentTarget.value })}
          error={fieldError(save.error, 'host')}
        />
        <NumberField label="Port" min={1} max={65_535} value={input.port} onChange={(port) => set({ port })} />
        <NativeSelect
          className="wide"
          label="Encryption"
          data={TLS.map(({ value, label }) => ({ value, label }))}
          value={input.tls}
          onChange={(e) => choose(e.currentTarget.value as MailServerInput['tls'])}
        />
        <TextInput
          label="User"
          description="Leave empty if not needed"
          autoComplete="off"
          value={input.user ?? ''}
          onChange={(e) => set({ user: e.currentTarget.value })}
          error={fieldError(save.error, 'user')}
        />
        <PasswordInput
          label="Password"
          description={kept?.hasPassword ? 'Leave empty to keep the current one' : 'Stored encrypted'}
          autoComplete="new-password"
          value={input.password ?? ''}
          onChange={(e) => {
            const { value } = e.currentTarget;
            setInput(({ password: _, ...i }) => (value === '' ? i : { ...i, password: value }));
          }}
          error={fieldError(save.error, 'password')}
        />
      </div>
      <Notice error={formError(save.error, FIELDS)} />
      <div className="row">
        <Button type="submit" loading={save.isPending}>
          Test and save
        </Button>
        {children}
        <span className="muted small">We’ll send a test to {member.email} and save if it works.</span>
      </div>
    </form>
  );
}
