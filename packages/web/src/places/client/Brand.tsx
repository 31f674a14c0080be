import { BRAND_ADDRESS } from '@chronicon/core/bounds';
import type { BrandInput, Client } from '@chronicon/core/contract';
import { brandWords, type KitPart } from '@chronicon/core/contract/brandWords';
import { Button, Checkbox, ColorInput, Textarea, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { call } from '../../api/call.ts';
import { useChange } from '../../api/hooks.ts';
import { MailLookSelect } from '../../parts/MailLookSelect.tsx';
import { fieldError, formError, Notice } from '../../parts/Notice.tsx';
import { TypefaceSelect } from '../../parts/TypefaceSelect.tsx';
import { Unsaved } from '../../parts/Unsaved.tsx';
import { BrandMiniatures } from './BrandMiniatures.tsx';
import { BrandPictures } from './BrandPictures.tsx';
import { BroughtTypefaces } from './BroughtTypefaces.tsx';

/** A colour that is still being typed counts for nothing. */
const isColour = (text: string): boolean => /^#[0-9a-fA-F]{6}$/.test(text);

const inputOf = ({ main, second, typefaces, footer, address, mailLook, follows }: Client['brand']): BrandInput => ({
  main,
  second,
  typefaces,
  footer,
  address: address ?? '',
  mailLook: mailLook ?? 'letter',
  follows: follows ?? [],
});

/** How a client's reports look: colours, foot and pictures, its own or the agency's, with its reports as they would be. */
export function Brand({ client }: { client: Client }) {
  const kept = inputOf(client.brand);
  const [brand, setBrand] = useState(kept);
  const set = (patch: Partial<BrandInput>) => setBrand((b) => ({ ...b, ...patch }));
  const save = useChange(() => call('PUT /api/clients/:client/brand', { params: { client: client.id }, body: brand }));
  const changed = JSON.stringify(brand) !== JSON.stringify(kept);
  const follows = brand.follows ?? [];
  const followsIt = (part: KitPart) => ({
    label: 'Use agency default',
    checked: follows.includes(part),
    onChange: (e: React.ChangeEvent<HTMLInputElement>) =>
      set({ follows: e.currentTarget.checked ? [...follows, part] : follows.filter((f) => f !== part) }),
  });
  const drawn = client.drawn;
  const colours = follows.includes('colours') && kept.follows?.includes('colours') ? drawn : brand;
  const whole = isColour(brand.main) && isColour(brand.second);
  const said = whole
    ? brandWords({
        main: colours.main,
        second: colours.second,
        logo: client.brand.logo,
        logoDark: client.brand.logoDark,
      })
    : [];
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <div className="columns brand">
      <div className="stack">
        <form className="card stack" onSubmit={submit} noValidate>
          <h2>Colours, fonts and footer</h2>
          <Unsaved when={changed && !save.isPending} what="this brand" />
          <fieldset className="page-choices">
            <legend>Colours</legend>
            <Checkbox {...followsIt('colours')} />
            {!follows.includes('colours') && (
              <>
                <ColorInput
                  withEyeDropper={false}
                  label="Main colour"
                  description="Lines, bars and the current period"
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
              </>
            )}
            <div role="status">
              <ul className="plain small">
                {said.map((s) => (
                  <li key={s} className="tone-attention">
                    {s}
                  </li>
                ))}
                {whole && said.length === 0 && <li className="tone-good">● Both have enough contrast on white.</li>}
              </ul>
            </div>
          </fieldset>
          <fieldset className="page-choices">
            <legend>Fonts</legend>
            <Checkbox {...followsIt('typefaces')} />
            {!follows.includes('typefaces') && (
              <TypefaceSelect
                value={brand.typefaces}
                onChange={(typefaces) => set({ typefaces })}
                error={fieldError(save.error, 'typefaces')}
              />
            )}
          </fieldset>
          <fieldset className="page-choices">
            <legend>Footer</legend>
            <Checkbox {...followsIt('footer')} />
            {!follows.includes('footer') && (
              <TextInput
                label="Footer"
                description="Leave empty for “Prepared by” with the agency’s and the client’s name"
                value={brand.footer}
                onChange={(e) => set({ footer: e.currentTarget.value })}
                error={fieldError(save.error, 'footer')}
              />
            )}
          </fieldset>
          <fieldset className="page-choices">
            <legend>Postal address</legend>
            <Checkbox {...followsIt('address')} />
            {!follows.includes('address') && (
              <Textarea
                label="Postal address"
                description="Shown on the first page with your contact details. Optional"
                autosize
                minRows={1}
                maxLength={BRAND_ADDRESS}
                value={brand.address ?? ''}
                onChange={(e) => set({ address: e.currentTarget.value })}
                error={fieldError(save.error, 'address')}
              />
            )}
          </fieldset>
          <fieldset className="page-choices">
            <legend>Emails</legend>
            <Checkbox {...followsIt('mail')} label="Use the agency’s email style and header" />
            {!follows.includes('mail') && (
              <MailLookSelect value={brand.mailLook} onChange={(mailLook) => set({ mailLook })} />
            )}
          </fieldset>
          <fieldset className="page-choices">
            <legend>Pictures</legend>
            <Checkbox {...followsIt('logo')} label="Use the agency’s logo" />
            <Checkbox {...followsIt('cover')} label="Use the agency’s cover picture" />
          </fieldset>
          <Notice error={formError(save.error, ['main', 'second', 'typefaces', 'footer', 'address'])} />
          <div className="row">
            <Button type="submit" loading={save.isPending} disabled={!changed}>
              Save
            </Button>
            {save.isSuccess && !changed && <span className="tone-good">Saved</span>}
          </div>
        </form>
        <BrandPictures client={client} />
        <BroughtTypefaces />
      </div>
      <BrandMiniatures client={client} brand={whole ? brand : kept} />
    </div>
  );
}
