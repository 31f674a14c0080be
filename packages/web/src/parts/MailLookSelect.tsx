import type { BrandInput } from '@chronicon/core/contract';
import { NativeSelect } from '@mantine/core';

type Look = NonNullable<BrandInput['mailLook']>;

const LOOKS: { value: Look; label: string }[] = [
  { value: 'letter', label: 'a plain letter under a line of the main colour' },
  { value: 'sheet', label: 'a white sheet on a tinted ground, the client’s name on the main colour' },
];

/** How a kit's mails look. */
export function MailLookSelect({ value, onChange }: { value: Look | undefined; onChange: (value: Look) => void }) {
  return (
    <NativeSelect
      label="Mails look like"
      description="“Test to me”, in the composer, sends one as it would come"
      data={LOOKS}
      value={value ?? 'letter'}
      onChange={(e) => onChange(e.currentTarget.value as Look)}
    />
  );
}
