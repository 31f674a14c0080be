import type { FirstInput } from '@chronicon/core/contract';
import { Button, PasswordInput, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { PageTitle } from '../../parts/PageTitle.tsx';
import { AGENCY_FIELDS, AgencyFields } from '../settings/AgencyFields.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');
const OWNER = ['owner.name', 'owner.email', 'owner.password'];

interface Props {
  secret: string;
  languages: readonly { value: string; label: string }[];
}

/** The first start: the agency and its first owner are made, once. */
export function FirstStart({ secret, languages }: Props) {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const [input, setInput] = useState<FirstInput>({
    secret,
    name: '',
    zone: ZONES.includes(here) ? here : 'Europe/London',
    language: 'en-GB',
    weekStart: 1,
    workingDays: [1, 2, 3, 4, 5],
    mailFrom: '',
    postalAddress: '',
    owner: { name: '', email: '', password: '' },
  });
  const set = (patch: Partial<FirstInput>) => setInput((i) => ({ ...i, ...patch }));
  const setOwner = (patch: Partial<FirstInput['owner']>) =>
    setInput((i) => ({ ...i, owner: { ...i.owner, ...patch } }));
  const make = useChange(async () => {
    await call('POST /api/first', { body: input });
    // The secret leaves the address with the page.
    location.replace('/start/mail');
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    make.mutate();
  };
  return (
    <main className="place">
      <div className="place-head">
        <PageTitle of={['Set up your agency']} />
        <h1>Set up your agency</h1>
        <span className="muted small">One-time setup. This link expires after one hour.</span>
      </div>
      <form className="columns even" onSubmit={submit} noValidate>
        <section className="card stack">
          <h2>The agency</h2>
          <AgencyFields input={input} languages={languages} error={make.error} onChange={set} />
        </section>
        <section className="card stack">
          <h2>You, the first owner</h2>
          <TextInput
            label="Your name"
            autoComplete="name"
            value={input.owner.name}
            onChange={(e) => setOwner({ name: e.currentTarget.value })}
            error={fieldError(make.error, 'owner.name')}
          />
          <TextInput
            label="Your email address"
            type="email"
            autoComplete="username"
            value={input.owner.email}
            onChange={(e) => setOwner({ email: e.currentTarget.value })}
            error={fieldError(make.error, 'owner.email')}
          />
          <PasswordInput
            label="Password"
            description="At least 15 characters. Tip: use a few unrelated words"
            autoComplete="new-password"
            value={input.owner.password}
            onChange={(e) => setOwner({ password: e.currentTarget.value })}
            error={fieldError(make.error, 'owner.password')}
          />
          <Notice error={formError(make.error, [...AGENCY_FIELDS, ...OWNER])} />
          <div>
            <Button type="submit" loading={make.isPending}>
              Create agency
            </Button>
          </div>
        </section>
      </form>
    </main>
  );
}
