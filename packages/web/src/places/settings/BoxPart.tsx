import { Button, NativeSelect, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { momentOf, plural } from '../../parts/when.ts';
import { TLS } from './MailServerForm.tsx';
import type { PartProps } from './part.ts';

type Box = NonNullable<Reply<'GET /api/agency'>['mailRules']['box']>;

/** How the mailbox stands, in one sentence. */
function standing({ readAt, trouble }: Pick<Box, 'readAt' | 'trouble'>): { tone: string; words: string } {
  if (trouble) return { tone: 'tone-wrong', words: `■ ${trouble.reason} ${trouble.mend}` };
  return { tone: 'tone-good', words: readAt ? `● Read ${momentOf(readAt)}.` : '● First check within a minute.' };
}

const PORTS = { implicit: 993, require: 143, offered: 143, never: 143 } as const;
const FIELDS = ['host', 'port', 'user', 'password', 'folder'];

/** The mailbox that is read for what comes back, where nothing is handed on to this server. */
export function BoxPart({ data, mayChange }: PartProps) {
  const { box } = data.mailRules;
  const [input, setInput] = useState({
    host: box?.host ?? '',
    port: box?.port ?? 993,
    tls: box?.tls ?? ('implicit' as const),
    user: box?.user ?? '',
    folder: box?.folder ?? 'INBOX',
    password: '',
  });
  const set = (patch: Partial<typeof input>) => setInput((i) => ({ ...i, ...patch }));
  const { password, ...plain } = input;
  const save = useChange(() =>
    call('PUT /api/agency/bounce-box', { body: { ...plain, ...(password !== '' && { password }) } }),
  );
  const remove = useChange(() => call('DELETE /api/agency/bounce-box'));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => set({ password: '' }) });
  };
  const unnamed = {
    tone: 'tone-attention',
    words: '▲ Not checked: set the bounce address above.',
  };
  const now = box && (data.mailRules.bounces === '' ? unnamed : standing(box));
  return (
    <section id="box" className="card stack settings-form" aria-label="Bounce mailbox">
      <h2>Bounce mailbox</h2>
      <p className="muted small">
        We check this mailbox every minute (IMAP) for bounces and mark matches as read. Nothing is deleted.
      </p>
      {now && <p className={now.tone}>{now.words}</p>}
      {!box && !mayChange && <p>No mailbox is checked.</p>}
      {mayChange && (
        <form className="stack" onSubmit={submit} noValidate>
          <div className="field-pairs">
            <TextInput
              label="Host of the mailbox"
              placeholder="imap.place.example"
              value={input.host}
              onChange={(e) => set({ host: e.currentTarget.value })}
              error={fieldError(save.error, 'host')}
            />
            <NumberField label="Port" min={1} max={65_535} value={input.port} onChange={(port) => set({ port })} />
            <NativeSelect
              className="wide"
              label="Encryption of the mailbox"
              data={TLS.map(({ value, label }) => ({ value, label: label.replace(/ \(usual.*/, '') }))}
              value={input.tls}
              onChange={(e) => {
                const tls = e.currentTarget.value as keyof typeof PORTS;
                const usual = (Object.values(PORTS) as number[]).includes(input.port);
                set({ tls, ...(usual && { port: PORTS[tls] }) });
              }}
            />
            <TextInput
              label="User of the mailbox"
              autoComplete="off"
              value={input.user}
              onChange={(e) => set({ user: e.currentTarget.value })}
              error={fieldError(save.error, 'user')}
            />
            <PasswordInput
              label="Password of the mailbox"
              description={box ? 'Leave empty to keep the current one' : 'Stored encrypted'}
              autoComplete="new-password"
              value={password}
              onChange={(e) => set({ password: e.currentTarget.value })}
              error={fieldError(save.error, 'password')}
            />
            <TextInput
              label="Folder"
              value={input.folder}
              onChange={(e) => set({ folder: e.currentTarget.value })}
              error={fieldError(save.error, 'folder')}
            />
          </div>
          <Notice error={formError(save.error, FIELDS)} />
          <div className="row">
            <Button type="submit" loading={save.isPending}>
              Test and save
            </Button>
            {box && (
              <Button variant="subtle" color="red" loading={remove.isPending} onClick={() => remove.mutate()}>
                Stop checking
              </Button>
            )}
            {save.data && (
              <span className="tone-good small" role="status">
                Opened: {plural(save.data.mails, 'mail')} found.
              </span>
            )}
          </div>
        </form>
      )}
    </section>
  );
}
