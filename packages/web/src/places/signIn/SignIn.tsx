import { Button, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange, useGet } from '../../api/hooks.ts';
import { Notice } from '../../parts/Notice.tsx';
import { FirstStart } from '../first/FirstStart.tsx';

/** The door: address and password; a demo offers its own people. */
export function SignIn({ onSignedIn }: { onSignedIn: () => void }) {
  const door = useGet('GET /api/door');
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const signIn = useChange((body: { email: string; password: string }) =>
    call('POST /api/session', { body }).then(onSignedIn),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ email, password });
  };
  const secret = location.pathname === '/first' ? location.hash.slice(1) : '';
  if (door.data?.first && secret !== '') return <FirstStart secret={secret} languages={door.data.first.languages} />;
  if (door.data?.first) {
    return (
      <main className="door">
        <div className="card stack">
          <h1 style={{ fontSize: 24 }}>No agency yet</h1>
          <span>
            Chronicon is ready for its first owner. Open the address that the server printed when it started; it works
            for an hour. Start the server again for another one.
          </span>
        </div>
      </main>
    );
  }
  return (
    <main className="door">
      <div className="card stack">
        <div className="row">
          <img src="/mark.svg" width="34" height="34" alt="" />
          <div>
            <h1 style={{ fontSize: 24 }}>Chronicon</h1>
            <span className="muted small">{door.data?.agency ?? ' '}</span>
          </div>
        </div>
        <form className="stack" onSubmit={submit}>
          <TextInput
            label="Email address"
            type="email"
            autoComplete="username"
            required
            value={email}
            onChange={(e) => setEmail(e.currentTarget.value)}
          />
          <PasswordInput
            label="Password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(e) => setPassword(e.currentTarget.value)}
          />
          <Notice error={signIn.error} />
          <Button type="submit" loading={signIn.isPending}>
            Sign in
          </Button>
        </form>
        {door.data?.demo && (
          <section className="stack" aria-label="People of the demo">
            <span className="muted small">This is a demonstration. Come in as:</span>
            {door.data.demo.map((p) => (
              <Button
                key={p.email}
                variant="default"
                justify="space-between"
                rightSection={<span className="muted small">{p.role}</span>}
                disabled={signIn.isPending}
                onClick={() => signIn.mutate({ email: p.email, password: p.password })}
              >
                {p.name}
              </Button>
            ))}
          </section>
        )}
      </div>
    </main>
  );
}
