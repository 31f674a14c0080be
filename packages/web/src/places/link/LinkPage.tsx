import { Button, PasswordInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { type ApiError, call, type Reply } from '../../api/call.ts';
import { useAct } from '../../api/hooks.ts';
import { Loading } from '../../parts/Loading.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';

type Link = Reply<'POST /api/links/look'>;

const WORDS: Record<Link['purpose'], { title: string; about: (l: Link) => string; act: string }> = {
  invite: {
    title: 'Welcome',
    about: (l) => `${l.agency} has made a sign-in for you, ${l.name}: ${l.email}. Choose a password.`,
    act: 'Take the invitation',
  },
  reset: {
    title: 'A new password',
    about: (l) => `For ${l.name}, ${l.email}. All your sessions end; sign in with the new one then.`,
    act: 'Set this password',
  },
  'let-in': {
    title: 'A new password',
    about: (l) =>
      `For ${l.name}, ${l.email}. All your sessions end, and your second factor, if you have one, is taken away.`,
    act: 'Set this password',
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
          <h1 style={{ fontSize: 24 }}>This link opens nothing</h1>
          <Notice error={link.error} />
          <div>
            <Button component="a" href="/" variant="default">
              Go to the sign-in
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
        <h1 style={{ fontSize: 24 }}>{title}</h1>
        <span>{about(link.data)}</span>
        {/* For keepers of passwords: whose it is. */}
        <input type="hidden" name="username" autoComplete="username" value={link.data.email} />
        <PasswordInput
          label="Password"
          description={`At least ${link.data.least} characters: a few words that only you would put together`}
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
          label="Password, again"
          autoComplete="new-password"
          value={typed.again}
          onChange={(e) => {
            const { value } = e.currentTarget;
            setTyped((t) => ({ ...t, again: value }));
          }}
          error={unlike ? 'These two are not the same.' : undefined}
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
