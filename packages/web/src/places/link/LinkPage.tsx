import { Button, PasswordInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useAct } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';

type Link = Reply<'POST /api/links/look'>;

const WORDS: Record<Link['purpose'], { title: string; about: (l: Link) => string; act: string }> = {
  invite: {
    title: 'Welcome',
    about: (l) => `${l.agency} invited you, ${l.name}, to sign in as ${l.email}. Choose a password.`,
    act: 'Accept invitation',
  },
  reset: {
    title: 'New password',
    about: (l) => `For ${l.name}, ${l.email}. You’ll be signed out everywhere.`,
    act: 'Set password',
  },
  'let-in': {
    title: 'New password',
    about: (l) =>
      `For ${l.name}, ${l.email}. You’ll be signed out everywhere, and two-factor authentication is turned off.`,
    act: 'Set password',
  },
};

interface Props {
  secret: string;
  /** Signs in with what was just set; a second factor is asked for there. */
  onSet: (signIn: { email: string; password: string }) => void;
}

/** Where the link of a mail leads: a password is set, once. */
export function LinkPage({ secret, onSet }: Props) {
  const link = useQuery<Link, ApiError>({
    queryKey: ['link', secret],
    queryFn: () => call('POST /api/links/look', { body: { secret } }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [typed, setTyped] = useState({ next: '', again: '' });
  const use = useAct(async () => {
    const { email } = await call('POST /api/links/use', { body: { secret, password: typed.next } });
    onSet({ email, password: typed.next });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (typed.next === typed.again) use.mutate();
  };
  const unlike = typed.again !== '' && typed.again !== typed.next;
  if (link.error) {
    return (
      <main className="sign-in">
        <div className="card stack">
          <PageTitle of={['Invalid link']} />
          <h1 style={{ fontSize: 24 }}>This link isn’t valid</h1>
          <Notice error={link.error} />
          <div>
            <Button component="a" href="/" variant="default">
              Go to sign-in
            </Button>
          </div>
        </div>
      </main>
    );
  }
  if (!link.data) return <Loading />;
  const { title, about, act } = WORDS[link.data.purpose];
  return (
    <main className="sign-in">
      <form className="card stack" onSubmit={submit} noValidate>
        <PageTitle of={[title]} />
        <h1 style={{ fontSize: 24 }}>{title}</h1>
        <span>{about(link.data)}</span>
        {/* For keepers of passwords: whose it is. */}
        <input type="hidden" name="username" autoComplete="username" value={link.data.email} />
        <PasswordInput
          label="Password"
          description={`At least ${link.data.least} characters. Tip: use a few unrelated words`}
          autoComplete="new-password"
          data-autofocus
          value={typed.next}
          onChange={(e) => {
            const { value } = e.currentTarget;
            setTyped((t) => ({ ...t, next: value }));
          }}
          error={fieldError(use.error, 'password')}
        />
        <PasswordInput
          label="Confirm password"
          autoComplete="new-password"
          value={typed.again}
          onChange={(e) => {
            const { value } = e.currentTarget;
            setTyped((t) => ({ ...t, again: value }));
          }}
          error={unlike ? 'Passwords don’t match.' : undefined}
        />
        <Notice error={formError(use.error, ['password'])} />
        <Button
          type="submit"
          loading={use.isPending || use.isSuccess}
          disabled={typed.next === '' || typed.next !== typed.again}
        >
          {act}
        </Button>
      </form>
    </main>
  );
}
