import { ColorInput, NativeSelect, Textarea } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import type { PartProps } from './part.ts';
import { Saved } from './Saved.tsx';

function Brand({ data, mayChange }: PartProps) {
  const kept = data.settings.brand;
  const [brand, setBrand] = useState(kept);
  const changed = JSON.stringify(brand) !== JSON.stringify(kept);
  const save = useChange(() => call('PUT /api/agency/brand', { body: brand }));
  const set = (patch: Partial<typeof brand>) => setBrand((b) => ({ ...b, ...patch }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>Brand of new clients</h2>
      <p className="muted small">What a new client’s pages begin with. Clients that are there keep their own.</p>
      <Unsaved when={changed && !save.isPending} what="the changed brand" />
      <fieldset className="stack bare" disabled={!mayChange}>
        <div className="field-pairs">
          <ColorInput
            withEyeDropper={false}
            label="First colour"
            value={brand.main}
            onChange={(main) => set({ main })}
            error={fieldError(save.error, 'main')}
          />
          <ColorInput
            withEyeDropper={false}
            label="Second colour"
            value={brand.second}
            onChange={(second) => set({ second })}
            error={fieldError(save.error, 'second')}
          />
        </div>
        <Textarea
          label="Footer"
          autosize
          minRows={1}
          value={brand.footer}
          onChange={(e) => set({ footer: e.currentTarget.value })}
          error={fieldError(save.error, 'footer')}
        />
      </fieldset>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={['main', 'second', 'footer']}
          pending={save.isPending}
          save="Save the brand"
          disabled={!changed}
          onCancel={changed ? () => setBrand(kept) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}

function PaperForm({ data, mayChange }: PartProps) {
  const kept = data.settings.paper;
  const [paper, setPaper] = useState(kept);
  const changed = JSON.stringify(paper) !== JSON.stringify(kept);
  const save = useChange(() => call('PUT /api/agency/paper', { body: paper }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>Paper</h2>
      <p className="muted small">
        Of every report whose client, or itself, says nothing else. What is waiting to be sent is drawn anew.
      </p>
      <Unsaved when={changed && !save.isPending} what="the changed paper" />
      <fieldset className="stack bare" disabled={!mayChange}>
        <div className="field-pairs">
          <NativeSelect
            label="Size"
            data={[
              { value: 'a4', label: 'A4' },
              { value: 'letter', label: 'Letter' },
            ]}
            value={paper.size}
            onChange={(e) => setPaper({ ...paper, size: e.currentTarget.value as typeof paper.size })}
          />
          <NativeSelect
            label="Sheets lie"
            data={[
              { value: 'portrait', label: 'Upright' },
              { value: 'landscape', label: 'Across' },
            ]}
            value={paper.orientation}
            onChange={(e) => setPaper({ ...paper, orientation: e.currentTarget.value as typeof paper.orientation })}
          />
        </div>
      </fieldset>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={[]}
          pending={save.isPending}
          save="Save the paper"
          disabled={!changed}
          onCancel={changed ? () => setPaper(kept) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}

function Limits({ data, mayChange }: PartProps) {
  const kept = data.settings.limits;
  const [limits, setLimits] = useState(kept);
  const changed = JSON.stringify(limits) !== JSON.stringify(kept);
  const save = useChange(() => call('PUT /api/agency/limits', { body: limits }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>Limits</h2>
      <p className="muted small">Narrower than what the product takes. What is there already stays as it is.</p>
      <Unsaved when={changed && !save.isPending} what="the changed limits" />
      <fieldset className="stack bare" disabled={!mayChange}>
        <NumberField
          label="Readers of one schedule, at most"
          min={1}
          max={200}
          value={limits.readers}
          onChange={(readers) => setLimits((l) => ({ ...l, readers }))}
        />
        <NumberField
          label="Megabytes of one file of figures, at most"
          min={1}
          max={1024}
          value={limits.fileMegabytes}
          onChange={(fileMegabytes) => setLimits((l) => ({ ...l, fileMegabytes }))}
        />
      </fieldset>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={[]}
          pending={save.isPending}
          save="Save the limits"
          disabled={!changed}
          onCancel={changed ? () => setLimits(kept) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}

/** What new clients begin with, and how much is taken. */
export function DefaultsPart(props: PartProps) {
  return (
    <div className="columns even">
      <Brand {...props} />
      <div className="stack">
        <PaperForm {...props} />
        <Limits {...props} />
      </div>
    </div>
  );
}
