import type { BrandInput } from '@chronicon/core/contract';
import { NativeSelect } from '@mantine/core';

type Look = NonNullable<BrandInput['mailLook']>;

const LOOKS: { value: Look; label: string }[] = [
  { value: 'letter', label: 'Plain letter with a line in your main colour' },
  { value: 'sheet', label: 'White card on a tinted background, client name on your main colour' },
];

/** How a kit's mails look. */
export function MailLookSelect({ value, onChange }: { value: Look | undefined; onChange: (value: Look) => void }) {
  return (
    <NativeSelect
      label="Email style"
      description="Use “Send me a test” in the composer to see it"
      data={LOOKS}
      value={value ?? 'letter'}
      onChange={(e) => onChange(e.currentTarget.value as Look)}
    />
  );
}
