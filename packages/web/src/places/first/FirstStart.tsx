import type { FirstInput } from '@chronicon/core/contract';
import { Button, Chip, Group, Input, NativeSelect, PasswordInput, Select, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const FIELDS = ['name', 'zone', 'language', 'weekStart', 'workingDays', 'mailFrom'];
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
    location.replace('/clients/new');
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    make.mutate();
  };
  return (
    <main className="place">
      <div className="place-head">
        <h1>Make your agency</h1>
        <span className="muted small">Once, and by you alone: this address works for an hour, and not again.</span>
      </div>
      <form className="columns even" onSubmit={submit} noValidate>
        <section className="card stack">
          <h2>The agency</h2>
          <TextInput
            label="Name"
            description="It stands in reports and mails"
            value={input.name}
            onChange={(e) => set({ name: e.currentTarget.value })}
            error={fieldError(make.error, 'name')}
          />
          <TextInput
            label="Reports come from"
            description="An address of yours: readers answer to it"
            type="email"
            value={input.mailFrom}
            onChange={(e) => set({ mailFrom: e.currentTarget.value })}
            error={fieldError(make.error, 'mailFrom')}
          />
          <div className="field-pairs">
            <Select
              label="Time zone"
              searchable
              data={ZONES}
              value={input.zone}
              onChange={(zone) => zone && set({ zone })}
              error={fieldError(make.error, 'zone')}
            />
            <NativeSelect
              label="Language of most reports"
              data={[...languages]}
              value={input.language}
              onChange={(e) => set({ language: e.currentTarget.value })}
              error={fieldError(make.error, 'language')}
            />
          </div>
          <NativeSelect
            label="First day of the week"
            data={DAYS.map((label, i) => ({ value: String(i + 1), label }))}
            value={String(input.weekStart)}
            onChange={(e) => set({ weekStart: Number(e.currentTarget.value) })}
          />
          <Input.Wrapper label="Working days" labelElement="div" error={fieldError(make.error, 'workingDays')}>
            <Chip.Group
              multiple
              value={input.workingDays.map(String)}
              onChange={(days) => set({ workingDays: days.map(Number).sort() })}
            >
              <Group gap={6}>
                {DAYS.map((label, i) => (
                  <Chip key={label} value={String(i + 1)} size="xs">
                    {label}
                  </Chip>
                ))}
              </Group>
            </Chip.Group>
          </Input.Wrapper>
        </section>
        <section className="card stack">
          <h2>You, its first owner</h2>
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
            description="At least 15 characters: a few words that only you would put together"
            autoComplete="new-password"
            value={input.owner.password}
            onChange={(e) => setOwner({ password: e.currentTarget.value })}
            error={fieldError(make.error, 'owner.password')}
          />
          <Notice error={formError(make.error, [...FIELDS, ...OWNER])} />
          <div>
            <Button type="submit" loading={make.isPending}>
              Make the agency
            </Button>
          </div>
        </section>
      </form>
    </main>
  );
}
