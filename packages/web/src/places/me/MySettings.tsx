import { NativeSelect, Switch, TextInput, useMantineColorScheme } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { Saved } from '../settings/Saved.tsx';

type Me = Reply<'GET /api/me'>;
type Scheme = Me['settings']['scheme'];

const SCHEMES: { value: Scheme; label: string }[] = [
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
  { value: 'system', label: 'System' },
];

/** What one is called, is told, and how the screens look. */
export function MySettings({ me }: { me: Me }) {
  const begin = { name: me.name, ...me.settings };
  const [input, setInput] = useState(begin);
  const { setColorScheme } = useMantineColorScheme();
  const changed = JSON.stringify(input) !== JSON.stringify(begin);
  const save = useChange(() => call('PUT /api/me', { body: input }));
  const set = (patch: Partial<typeof begin>) => setInput((i) => ({ ...i, ...patch }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => setColorScheme(input.scheme === 'system' ? 'auto' : input.scheme) });
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>You</h2>
      <Unsaved when={changed && !save.isPending} what="your changes" />
      <TextInput
        label="Name"
        description="Readers’ replies go here"
        value={input.name}
        onChange={(e) => set({ name: e.currentTarget.value })}
        error={fieldError(save.error, 'name')}
      />
      <NativeSelect
        label="Screens"
        data={SCHEMES}
        value={input.scheme}
        onChange={(e) => set({ scheme: e.currentTarget.value as Scheme })}
      />
      <Switch
        label="Email me about held, late or stopped editions"
        description="Security emails are always sent"
        checked={input.notices}
        onChange={(e) => set({ notices: e.currentTarget.checked })}
      />
      <FormEnd
        error={save.error}
        fields={['name']}
        pending={save.isPending}
        disabled={!changed}
        onCancel={changed ? () => setInput(begin) : undefined}
      />
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}
