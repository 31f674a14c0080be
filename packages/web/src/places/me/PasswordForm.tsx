import { Button, PasswordInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

const NOTHING = { current: '', next: '', again: '' };

/** Changes one's own password; the new one is typed twice, or shown. */
export function PasswordForm({ least }: { least: number }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState(NOTHING);
  const set = (key: keyof typeof NOTHING) => (value: string) => setTyped((t) => ({ ...t, [key]: value }));
  const unlike = typed.again !== '' && typed.again !== typed.next;
  const save = useChange(async () => {
    await call('PUT /api/session/password', { body: { current: typed.current, next: typed.next } });
    setTyped(NOTHING);
    await client.invalidateQueries();
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (typed.next === typed.again) save.mutate();
  };
  const field = (key: keyof typeof NOTHING, label: string, use: 'current-password' | 'new-password') => ({
    label,
    autoComplete: use,
    value: typed[key],
    onChange: (e: { currentTarget: { value: string } }) => set(key)(e.currentTarget.value),
  });
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>Change password</h2>
      <Unsaved when={typed.next !== '' && !save.isPending} what="the new password" />
      <PasswordInput
        {...field('current', 'Current password', 'current-password')}
        error={fieldError(save.error, 'current')}
      />
      <PasswordInput
        {...field('next', 'New password', 'new-password')}
        description={`At least ${least} characters. Tip: use a few unrelated words`}
        error={fieldError(save.error, 'next')}
      />
      <PasswordInput
        {...field('again', 'Confirm new password', 'new-password')}
        error={unlike ? 'Passwords don’t match.' : undefined}
      />
      <Notice error={formError(save.error, ['current', 'next'])} />
      <div className="row">
        <Button
          type="submit"
          loading={save.isPending}
          disabled={typed.current === '' || typed.next === '' || typed.next !== typed.again}
        >
          Change it
        </Button>
        {save.isSuccess && typed.next === '' && (
          <span className="tone-good" role="status">
            Password changed. You’ve been signed out on other devices.
          </span>
        )}
      </div>
    </form>
  );
}
