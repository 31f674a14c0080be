import type { SettingOffer } from '@chronicon/core/contract';
import { NativeSelect, Select, TextInput } from '@mantine/core';
import { DateField } from '../../parts/DateField.tsx';

interface Props {
  setting: SettingOffer;
  value: string | number;
  error: string | undefined;
  onChange: (value: string | number) => void;
}

/** One setting of a client, asked for as it says. */
export function SettingInput({ setting, value, error, onChange }: Props) {
  const { label, hint, field } = setting;
  const said = { label, error, ...(hint && { description: hint }) };
  if (field.kind === 'date') return <DateField {...said} value={String(value)} onChange={onChange} optional />;
  if (field.kind !== 'choice') {
    return (
      <TextInput
        {...said}
        placeholder={field.placeholder}
        className="wide"
        value={String(value)}
        onChange={(e) => onChange(e.currentTarget.value)}
      />
    );
  }
  // What is set stays among the choices, though nobody would be offered it today.
  const known = field.options.some((o) => o.value === value);
  const all = known ? field.options : [{ value, label: String(value) }, ...field.options];
  const choices = { data: all.map((o) => ({ value: String(o.value), label: o.label })), value: String(value) };
  const choose = (chosen: string) => {
    const option = all.find((o) => String(o.value) === chosen);
    if (option) onChange(option.value);
  };
  return field.many ? (
    <Select {...said} {...choices} searchable onChange={(chosen) => chosen && choose(chosen)} />
  ) : (
    <NativeSelect {...said} {...choices} onChange={(e) => choose(e.currentTarget.value)} />
  );
}
