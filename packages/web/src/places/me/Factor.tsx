import { Button, PasswordInput, TextInput } from '@mantine/core';
import { QRCodeSVG } from 'qrcode.react';
import { type FormEvent, useState } from 'react';
import { call, type Reply } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { dayWithYear, plural } from '../../parts/when.ts';

type Begun = Reply<'POST /api/session/factor/begin'>;

/** What is done with one's factor: each asks for the password once more. */
const ACTS = {
  begin: { label: 'Set up two-factor authentication', act: 'Continue' },
  codes: { label: 'New recovery codes', act: 'Create new codes' },
  remove: { label: 'Turn off', act: 'Turn off now' },
} as const;
type Act = keyof typeof ACTS;

function Codes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }) {
  return (
    <div className="stack">
      <p>
        <b>Save these recovery codes.</b> Each works once, without your phone. They won’t be shown again.
      </p>
      <pre className="codes">{codes.join('\n')}</pre>
      <div className="row">
        <Button onClick={onDone}>I’ve saved them</Button>
        <Button variant="default" onClick={() => navigator.clipboard.writeText(codes.join('\n'))}>
          Copy them
        </Button>
      </div>
    </div>
  );
}

function AskPassword({
  act,
  onDone,
  onCancel,
}: {
  act: Act;
  onDone: (r: Begun | string[] | null) => void;
  onCancel: () => void;
}) {
  const [password, setPassword] = useState('');
  const go = useChange(async (): Promise<Begun | string[] | null> => {
    const body = { password };
    if (act === 'begin') return call('POST /api/session/factor/begin', { body });
    if (act === 'codes') return (await call('POST /api/session/factor/codes', { body })).codes;
    await call('DELETE /api/session/factor', { body });
    return null;
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    go.mutate(undefined, { onSuccess: onDone });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <PasswordInput
        label="Confirm your password"
        autoComplete="current-password"
        value={password}
        onChange={(e) => setPassword(e.currentTarget.value)}
        error={fieldError(go.error, 'password')}
      />
      <Notice error={formError(go.error, ['password'])} />
      <div className="row">
        <Button
          type="submit"
          loading={go.isPending}
          disabled={password === ''}
          color={act === 'remove' ? 'red.9' : 'petrol'}
        >
          {ACTS[act].act}
        </Button>
        <Button variant="subtle" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </form>
  );
}

function Finish({
  begun,
  onDone,
  onCancel,
}: {
  begun: Begun;
  onDone: (codes: string[]) => void;
  onCancel: () => void;
}) {
  const [code, setCode] = useState('');
  const finish = useChange(() => call('POST /api/session/factor', { body: { code } }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    finish.mutate(undefined, { onSuccess: ({ codes }) => onDone(codes) });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <p>Scan this with an authenticator app on your phone, then enter the six digits it shows.</p>
      <div className="row" style={{ alignItems: 'start' }}>
        <span className="qr">
          <QRCodeSVG value={begun.uri} size={168} title="Two-factor secret for an authenticator app" />
        </span>
        <div className="stack">
          <span className="small muted">
            Or enter this secret in the app:
            <br />
            <code className="breaks">{begun.secret.match(/.{1,4}/g)!.join(' ')}</code>
          </span>
          <TextInput
            label="Code"
            inputMode="numeric"
            autoComplete="one-time-code"
            value={code}
            onChange={(e) => setCode(e.currentTarget.value)}
            error={fieldError(finish.error, 'code')}
          />
        </div>
      </div>
      <Notice error={formError(finish.error, ['code'])} />
      <div className="row">
        <Button type="submit" loading={finish.isPending} disabled={code.trim() === ''}>
          Set up
        </Button>
        <Button variant="subtle" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </form>
  );
}

/** One's second factor: set up, its recovery codes, taken away. */
export function Factor({ me, onCodesKept }: { me: Reply<'GET /api/me'>; onCodesKept?: () => void }) {
  const [act, setAct] = useState<Act | null>(null);
  const [begun, setBegun] = useState<Begun | null>(null);
  const [codes, setCodes] = useState<readonly string[] | null>(null);
  const leave = () => {
    setAct(null);
    setBegun(null);
  };
  const done = (result: Begun | string[] | null) => {
    setAct(null);
    if (Array.isArray(result)) setCodes(result);
    else setBegun(result);
  };
  const { factor, factorWanted } = me;
  const button = (key: Act, variant: 'default' | 'outline' | 'subtle') => (
    <Button key={key} variant={variant} onClick={() => setAct(key)}>
      {ACTS[key].label}
    </Button>
  );
  return (
    <section className="card stack" aria-label="Two-factor authentication">
      <h2>Two-factor authentication</h2>
      {codes ? (
        <Codes
          codes={codes}
          onDone={() => {
            setCodes(null);
            onCodesKept?.();
          }}
        />
      ) : begun ? (
        <Finish
          begun={begun}
          onCancel={leave}
          onDone={(made) => {
            setBegun(null);
            setCodes(made);
          }}
        />
      ) : act ? (
        <AskPassword act={act} onDone={done} onCancel={leave} />
      ) : factor ? (
        <>
          <p>
            <span className="tone-good">● Asked for</span> since {dayWithYear(factor.since.slice(0, 10))};{' '}
            {plural(factor.codesLeft, 'recovery code')} left.
          </p>
          <div className="row">
            {button('codes', 'default')}
            {!factorWanted && button('remove', 'subtle')}
          </div>
        </>
      ) : (
        <>
          <p className="muted">
            {factorWanted ? 'Your agency requires it for your role. ' : ''}
            Sign in with your password plus a code from your phone, so a stolen password isn’t enough.
          </p>
          <div>{button('begin', 'outline')}</div>
        </>
      )}
    </section>
  );
}
