import { NAME } from '@chronicon/core/bounds';
import { TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { type ActProps, settleFirst } from './settleFirst.ts';

/** A name for the draft as it is. */
export function KeepVersion({ report, settle, onDone }: ActProps & { onDone: (said: string) => void }) {
  const [name, setName] = useState('');
  const save = useChange(async () => {
    await settleFirst(settle);
    const { version } = await call('GET /api/reports/:report', { params: { report: report.id } });
    await call('POST /api/reports/:report/versions', { params: { report: report.id }, body: { name, version } });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => onDone(`Saved as “${name.trim()}”.`) });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <span className="muted small">You can compare and restore it later.</span>
      <TextInput
        label="Name"
        data-autofocus
        maxLength={NAME}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} save="Save version" />
    </form>
  );
}
