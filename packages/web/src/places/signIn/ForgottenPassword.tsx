import { Button, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useAct } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';

/** Asks for a link to set a new password; what is said is the same, whoever asks. */
export function ForgottenPassword({ email: known, onBack }: { email: string; onBack: () => void }) {
  const [email, setEmail] = useState(known);
  const ask = useAct(() => call('POST /api/reset', { body: { email } }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    ask.mutate();
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <TextInput
        label="Email address"
        type="email"
        autoComplete="username"
        value={email}
        onChange={(e) => setEmail(e.currentTarget.value)}
        error={fieldError(ask.error, 'email')}
      />
      <Notice error={formError(ask.error, ['email'])} />
      {ask.isSuccess && (
        <p className="tone-good" role="status">
          If this address has an account, we’ve emailed a link. It expires in 30 minutes.
        </p>
      )}
      <Button type="submit" loading={ask.isPending} variant={ask.isSuccess ? 'default' : 'filled'}>
        {ask.isSuccess ? 'Send again' : 'Email me a link'}
      </Button>
      <Button variant="subtle" onClick={onBack}>
        Back to sign-in
      </Button>
    </form>
  );
}
