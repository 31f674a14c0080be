import type { AgencyInput } from '@chronicon/core/contract';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { AGENCY_FIELDS, AgencyFields } from './AgencyFields.tsx';
import type { PartProps } from './part.ts';
import { Saved } from './Saved.tsx';

/** What the agency says of itself, and its working days. */
export function AgencyPart({ data, mayChange }: PartProps) {
  const [input, setInput] = useState<AgencyInput>(data.agency);
  const changed = JSON.stringify(input) !== JSON.stringify(data.agency);
  const save = useChange(() => call('PUT /api/agency', { body: input }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack settings-form" onSubmit={submit} noValidate>
      <h2>The agency</h2>
      <Unsaved when={changed && !save.isPending} what="your changes to the agency" />
      <fieldset className="stack bare" disabled={!mayChange}>
        <AgencyFields
          input={input}
          languages={data.languages}
          error={save.error}
          onChange={(patch) => setInput((i) => ({ ...i, ...patch }))}
        />
      </fieldset>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={AGENCY_FIELDS}
          pending={save.isPending}
          disabled={!changed}
          onCancel={changed ? () => setInput(data.agency) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}
