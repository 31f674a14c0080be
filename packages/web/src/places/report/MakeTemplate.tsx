import { NAME, TEXT } from '@chronicon/core/bounds';
import { TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { type ActProps, settleFirst } from './settleFirst.ts';
import { TypedTexts } from './TypedTexts.tsx';

/** A template of the draft. */
export function MakeTemplate({ report, client, settle, onDone }: ActProps & { onDone: (said: string) => void }) {
  const [name, setName] = useState(report.title);
  const [about, setAbout] = useState('');
  const [texts, setTexts] = useState<string[]>([]);
  const save = useChange(async () => {
    await settleFirst(settle);
    await call('POST /api/templates', { body: { name, about, report: report.id, texts } });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(undefined, { onSuccess: () => onDone(`“${name.trim()}” is now a template; this report uses it.`) });
  };
  return (
    <form className="stack" onSubmit={submit} noValidate>
      <span className="muted small">
        Everyone in the agency can see templates. Includes pages and blocks, but not what belongs to {client.name} only.
      </span>
      <TextInput
        label="Name"
        data-autofocus
        maxLength={NAME}
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={fieldError(save.error, 'name')}
      />
      <TextInput
        label="Description"
        maxLength={TEXT.about}
        value={about}
        onChange={(e) => setAbout(e.currentTarget.value)}
      />
      <TypedTexts settle={settle} report={report} clientName={client.name} chosen={texts} onChoose={setTexts} />
      <FormEnd error={save.error} fields={['name']} pending={save.isPending} save="Save template" />
    </form>
  );
}
