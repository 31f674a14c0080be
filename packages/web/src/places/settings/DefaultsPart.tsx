import { BRAND_ADDRESS, FILE, MOST_READERS } from '@chronicon/core/bounds';
import { brandWords } from '@chronicon/core/contract/brandWords';
import { ColorInput, NativeSelect, Textarea } from '@mantine/core';
import { type FormEvent, type ReactNode, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { FormEnd } from '../../parts/FormEnd.tsx';
import { MailLookSelect } from '../../parts/MailLookSelect.tsx';
import { fieldError } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { TypefaceSelect } from '../../parts/TypefaceSelect.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { FollowerMiniatures } from '../client/BrandMiniatures.tsx';
import { AgencyPictures } from '../client/BrandPictures.tsx';
import type { PartProps } from './part.ts';
import { Saved } from './Saved.tsx';

interface CardProps<T extends object> {
  title: string;
  about: string;
  /** What it is called where it is saved, or would be lost. */
  what: string;
  kept: T;
  mayChange: boolean;
  send: (value: T) => Promise<unknown>;
  /** Told of each change, saved or not. */
  onChange?: (value: T) => void;
  /** Fields that say themselves what is wrong with them. */
  fields?: string[];
  children: (value: T, set: (patch: Partial<T>) => void, error: Error | null) => ReactNode;
}

/** A card of defaults that is saved by itself. */
function Card<T extends object>(props: CardProps<T>) {
  const { title, about, what, kept, mayChange, send, onChange, fields = [], children } = props;
  const [value, setAlone] = useState(kept);
  const setValue = (next: T) => {
    setAlone(next);
    onChange?.(next);
  };
  const changed = JSON.stringify(value) !== JSON.stringify(kept);
  const save = useChange(() => send(value));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className="card stack" onSubmit={submit} noValidate>
      <h2>{title}</h2>
      <p className="muted small">{about}</p>
      <Unsaved when={changed && !save.isPending} what={`the changed ${what}`} />
      <fieldset className="stack bare" disabled={!mayChange}>
        {children(value, (patch) => setValue({ ...value, ...patch }), save.error)}
      </fieldset>
      {mayChange && (
        <FormEnd
          error={save.error}
          fields={fields}
          pending={save.isPending}
          save={`Save the ${what}`}
          disabled={!changed}
          onCancel={changed ? () => setValue(kept) : undefined}
        />
      )}
      <Saved when={save.isSuccess && !changed} />
    </form>
  );
}

/** A colour that is still being typed counts for nothing. */
const isColour = (text: string): boolean => /^#[0-9a-fA-F]{6}$/.test(text);

const SIZES = [
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
];
const LIES = [
  { value: 'portrait', label: 'Portrait' },
  { value: 'landscape', label: 'Landscape' },
];

/** What of the kit is typed and chosen here; its pictures are brought beside it. */
const saidOf = ({ main, second, typefaces, footer, address, mailLook }: PartProps['data']['settings']['brand']) => ({
  main,
  second,
  typefaces,
  footer,
  address: address ?? '',
  mailLook: mailLook ?? ('letter' as const),
});

/** What new clients begin with, on which paper, and how much is taken. */
export function DefaultsPart({ data, mayChange }: PartProps) {
  const { brand, paper, limits } = data.settings;
  const kept = saidOf(brand);
  const [chosen, setChosen] = useState(kept);
  return (
    <div className="columns even">
      <div className="stack">
        <Card
          title="The agency’s brand"
          about="Default look for clients without their own brand. Changes apply to all of them."
          what="brand"
          kept={kept}
          mayChange={mayChange}
          onChange={setChosen}
          send={(body) => call('PUT /api/agency/brand', { body })}
          fields={['main', 'second', 'typefaces', 'footer', 'address']}
        >
          {(value, set, error) => (
            <>
              <div className="field-pairs">
                <ColorInput
                  withEyeDropper={false}
                  label="Main colour"
                  value={value.main}
                  onChange={(main) => set({ main })}
                  error={fieldError(error, 'main')}
                />
                <ColorInput
                  withEyeDropper={false}
                  label="Second colour"
                  value={value.second}
                  onChange={(second) => set({ second })}
                  error={fieldError(error, 'second')}
                />
              </div>
              <TypefaceSelect
                value={value.typefaces}
                onChange={(typefaces) => set({ typefaces })}
                error={fieldError(error, 'typefaces')}
              />
              <Textarea
                label="Footer"
                autosize
                minRows={1}
                value={value.footer}
                onChange={(e) => set({ footer: e.currentTarget.value })}
                error={fieldError(error, 'footer')}
              />
              <Textarea
                label="Postal address"
                description="On the first page of reports"
                autosize
                minRows={1}
                maxLength={BRAND_ADDRESS}
                value={value.address ?? ''}
                onChange={(e) => set({ address: e.currentTarget.value })}
                error={fieldError(error, 'address')}
              />
              <MailLookSelect value={value.mailLook} onChange={(mailLook) => set({ mailLook })} />
              <div role="status">
                <ul className="plain small">
                  {isColour(value.main) &&
                    isColour(value.second) &&
                    brandWords({ ...value, logo: brand.logo ?? null, logoDark: brand.logoDark }).map((said) => (
                      <li key={said} className="tone-attention">
                        {said}
                      </li>
                    ))}
                </ul>
              </div>
            </>
          )}
        </Card>
        {mayChange && <AgencyPictures name={data.agency.name} brand={brand} />}
      </div>
      <div className="stack">
        {mayChange && (
          <FollowerMiniatures brand={isColour(chosen.main) && isColour(chosen.second) ? chosen : kept} kept={brand} />
        )}
        <Card
          title="Paper"
          about="Default for all reports. Pending editions are regenerated."
          what="paper"
          kept={paper}
          mayChange={mayChange}
          send={(body) => call('PUT /api/agency/paper', { body })}
        >
          {(value, set) => (
            <div className="field-pairs">
              <NativeSelect
                label="Size"
                data={SIZES}
                value={value.size}
                onChange={(e) => set({ size: e.currentTarget.value as typeof value.size })}
              />
              <NativeSelect
                label="Orientation"
                data={LIES}
                value={value.orientation}
                onChange={(e) => set({ orientation: e.currentTarget.value as typeof value.orientation })}
              />
            </div>
          )}
        </Card>
        <Card
          title="Limits"
          about="Stricter limits than the defaults. Existing items aren’t affected."
          what="limits"
          kept={limits}
          mayChange={mayChange}
          send={(body) => call('PUT /api/agency/limits', { body })}
        >
          {(value, set) => (
            <>
              <NumberField
                label="Most readers per schedule"
                min={1}
                max={MOST_READERS}
                value={value.readers}
                onChange={(readers) => set({ readers })}
              />
              <NumberField
                label="Most megabytes per data file"
                min={1}
                max={FILE.bytes / 1024 ** 2}
                value={value.fileMegabytes}
                onChange={(fileMegabytes) => set({ fileMegabytes })}
              />
            </>
          )}
        </Card>
      </div>
    </div>
  );
}
