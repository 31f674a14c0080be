import { Button, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useEffect, useState } from 'react';
import { call } from '../../api/call.ts';
import { useAct, useGet } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { FirstStart } from '../first/FirstStart.tsx';
import { LINK } from '../link/address.ts';
import { LinkPage } from '../link/LinkPage.tsx';
import { ForgottenPassword } from './ForgottenPassword.tsx';

const FIELDS = ['code'];
const secretOfLink = () => (location.pathname === LINK ? location.hash.slice(1) : '');

/** The sign-in page: address and password, a code where a second factor is asked for; a demo offers its own people. */
export function SignIn({ onSignedIn }: { onSignedIn: () => unknown }) {
  const offer = useGet('GET /api/sign-in');
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const [forgotten, setForgotten] = useState(false);
  // A link of a mail is good once: what it was stays with the page that was opened by it.
  const [link, setLink] = useState(secretOfLink);
  useEffect(() => {
    // Another link in the same tab changes what stands behind `#` alone: the page is not loaded anew for it.
    const follow = () => setLink(secretOfLink());
    addEventListener('hashchange', follow);
    return () => removeEventListener('hashchange', follow);
  }, []);
  const signIn = useAct((body: { email: string; password: string; code?: string }) =>
    call('POST /api/session', { body }).then(onSignedIn),
  );
  const asksCode = fieldError(signIn.error, 'code') !== undefined || code !== '';
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ email, password, code });
  };
  /** What is known already stands in the form, for the code that may be asked for beside it. */
  const comeIn = (known: { email: string; password: string }) => {
    setEmail(known.email);
    setPassword(known.password);
    signIn.mutate({ email: known.email, password: known.password });
  };
  if (link !== '') {
    const onSet = (set: { email: string; password: string }) => {
      // Used up, and a secret still: it leaves the address.
      history.replaceState(null, '', LINK);
      setLink('');
      comeIn(set);
    };
    return <LinkPage key={link} secret={link} onSet={onSet} />;
  }
  const secret = location.pathname === '/first' ? location.hash.slice(1) : '';
  if (offer.data?.first && secret !== '') return <FirstStart secret={secret} languages={offer.data.first.languages} />;
  if (offer.data?.first) {
    return (
      <main className="sign-in">
        <div className="card stack">
          <PageTitle of={['Set-up']} />
          <h1 style={{ fontSize: 24 }}>No agency yet</h1>
          <span>
            Chronicon is ready to set up. Open the setup link from the server log (valid for one hour). Restart the
            server for a new one.
          </span>
        </div>
      </main>
    );
  }
  return (
    <main className="sign-in">
      <div className="card stack">
        <div className="row">
          <img src="/mark.svg" width="34" height="34" alt="" />
          <div>
            <PageTitle of={['Sign in']} />
            <h1 style={{ fontSize: 24 }}>Chronicon</h1>
            <span className="muted small">{offer.data?.agency ?? ' '}</span>
          </div>
        </div>
        {forgotten ? (
          <ForgottenPassword email={email} onBack={() => setForgotten(false)} />
        ) : (
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
            {asksCode && (
              <TextInput
                label="Code"
                description="From your authenticator app, or a recovery code"
                autoComplete="one-time-code"
                autoFocus
                value={code}
                onChange={(e) => setCode(e.currentTarget.value)}
                error={code === '' ? undefined : fieldError(signIn.error, 'code')}
              />
            )}
            <Notice error={formError(signIn.error, FIELDS)} />
            <Button type="submit" loading={signIn.isPending}>
              Sign in
            </Button>
            <Button variant="subtle" size="compact-sm" onClick={() => setForgotten(true)}>
              Forgot password?
            </Button>
          </form>
        )}
        {offer.data?.demo && (
          <section className="stack" aria-label="Demo accounts">
            <span className="muted small">This is a demo. Sign in as:</span>
            {offer.data.demo.map((p) => (
              <Button
                key={p.email}
                variant="default"
                justify="space-between"
                rightSection={<span className="muted small">{p.role}</span>}
                disabled={signIn.isPending}
                onClick={() => comeIn(p)}
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
