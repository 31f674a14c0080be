import type { ClientInput, SettingOffer } from '@chronicon/core/contract';
import { Button, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import type { ApiError } from '../../api/call.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { SettingInput } from './SettingInput.tsx';

interface Props {
  settings: readonly SettingOffer[];
  initial: ClientInput;
  action: string;
  busy: boolean;
  saved: boolean;
  error: ApiError | null;
  onSubmit: (input: ClientInput) => void;
}

/** What of a client bears on dates, money and words. */
export function ClientForm({ settings, initial, action, busy, saved, error, onSubmit }: Props) {
  const [input, setInput] = useState(initial);
  const set = (patch: Partial<ClientInput>) => setInput((i) => ({ ...i, ...patch }));
  const changed = JSON.stringify(input) !== JSON.stringify(initial);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onSubmit(input);
  };
  return (
    <form className="stack" onSubmit={submit} style={{ maxWidth: 560 }} noValidate>
      <Unsaved when={changed && !busy && !saved} what="what you typed" />
      <div className="field-pairs">
        <TextInput
          className="wide"
          label="Name"
          value={input.name}
          onChange={(e) => set({ name: e.currentTarget.value })}
          error={fieldError(error, 'name')}
        />
        {settings.map((setting) => (
          <SettingInput
            key={setting.key}
            setting={setting}
            value={input[setting.key as keyof ClientInput]}
            error={fieldError(error, setting.key)}
            onChange={(value) => set({ [setting.key]: value })}
          />
        ))}
      </div>
      <Notice error={formError(error, ['name', ...settings.map((s) => s.key)])} />
      <div>
        <Button type="submit" loading={busy}>
          {action}
        </Button>
      </div>
    </form>
  );
}
