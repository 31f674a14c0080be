import type { ClientInput } from '@chronicon/core/contract';
import { LOCALES } from '@chronicon/core/contract/locales';
import { Button, NativeSelect, Select, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import type { ApiError } from '../../api/call.ts';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';

const ZONES = Intl.supportedValuesOf('timeZone');
const CURRENCIES = Intl.supportedValuesOf('currency');
const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
const FIELDS = ['name', 'site', 'zone', 'currency', 'language', 'startDate', 'weekStart', 'fiscalStart'];

interface Props {
  initial: ClientInput;
  action: string;
  busy: boolean;
  saved: boolean;
  error: ApiError | null;
  onSubmit: (input: ClientInput) => void;
}

/** What of a client bears on dates, money and words. */
export function ClientForm({ initial, action, busy, saved, error, onSubmit }: Props) {
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
      <TextInput
        label="Name"
        value={input.name}
        onChange={(e) => set({ name: e.currentTarget.value })}
        error={fieldError(error, 'name')}
      />
      <TextInput
        label="Website"
        description="Accounts of services are matched with the client by it"
        placeholder="place.example"
        value={input.site}
        onChange={(e) => set({ site: e.currentTarget.value })}
        error={fieldError(error, 'site')}
      />
      <div className="row" style={{ alignItems: 'start' }}>
        <Select
          label="Time zone"
          description="A day of the figures is a day there"
          searchable
          data={ZONES}
          value={input.zone}
          onChange={(zone) => zone && set({ zone })}
          error={fieldError(error, 'zone')}
        />
        <Select
          label="Currency"
          description="All its money is in this currency"
          searchable
          data={CURRENCIES}
          value={input.currency}
          onChange={(currency) => currency && set({ currency })}
          error={fieldError(error, 'currency')}
        />
      </div>
      <div className="row" style={{ alignItems: 'start' }}>
        <NativeSelect
          label="Language of its reports"
          data={LOCALES}
          value={input.language}
          onChange={(e) => set({ language: e.currentTarget.value })}
          error={fieldError(error, 'language')}
        />
        <TextInput
          type="date"
          label="Client since"
          value={input.startDate}
          onChange={(e) => set({ startDate: e.currentTarget.value })}
          error={fieldError(error, 'startDate')}
        />
      </div>
      <div className="row">
        <NativeSelect
          label="First day of its week"
          data={WEEKDAYS.map((label, i) => ({ value: String(i + 1), label }))}
          value={String(input.weekStart)}
          onChange={(e) => set({ weekStart: Number(e.currentTarget.value) })}
        />
        <NativeSelect
          label="Its fiscal year starts in"
          data={MONTHS.map((label, i) => ({ value: String(i + 1), label }))}
          value={String(input.fiscalStart)}
          onChange={(e) => set({ fiscalStart: Number(e.currentTarget.value) })}
        />
      </div>
      <Notice error={formError(error, FIELDS)} />
      <div>
        <Button type="submit" loading={busy}>
          {action}
        </Button>
      </div>
    </form>
  );
}
