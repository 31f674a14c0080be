import type { BlockField as Field, MetricOffer } from '@chronicon/core/contract';
import { MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { NumberField } from '../../parts/NumberField.tsx';

interface Props {
  field: Exclude<Field, { kind: 'commentary' | 'picture' }>;
  value: unknown;
  /** Every metric and dimension of the client. */
  metrics: readonly MetricOffer[];
  dimensions: readonly { key: string; label: string }[];
  /** Metrics that the block shows: what they are not known by is not offered. */
  chosen: ReadonlySet<string>;
  onChange: (value: string | number | string[] | undefined) => void;
}

const option = ({ key, label }: { key: string; label: string }) => ({ value: key, label });

/** One choice of a block, drawn from what its kind says of it. */
export function BlockField({ field, value, metrics, dimensions, chosen, onChange }: Props) {
  const { label } = field;
  const hint = field.hint === undefined ? {} : { description: field.hint };
  // What no feed of the client brings is not offered; what is chosen already stays.
  const offered = metrics.filter((m) => m.available || chosen.has(m.key));
  switch (field.kind) {
    case 'text': {
      const text = String(value);
      return (
        <TextInput
          label={label}
          {...hint}
          maxLength={field.most}
          value={text}
          onChange={(e) => onChange(e.currentTarget.value)}
          error={field.required !== undefined && text.trim() === '' ? field.required : undefined}
        />
      );
    }
    case 'metric':
      return (
        <NativeSelect
          label={label}
          {...hint}
          data={offered.filter((m) => (!field.divides || m.divides) && (!field.adds || m.adds)).map(option)}
          value={String(value)}
          onChange={(e) => onChange(e.currentTarget.value)}
        />
      );
    case 'metrics':
      return (
        <MultiSelect
          label={label}
          {...hint}
          data={offered.map(option)}
          maxValues={field.most}
          value={(value ?? []) as string[]}
          onChange={(keys) => keys.length >= field.least && onChange(keys)}
        />
      );
    case 'dimension': {
      const known = new Set(metrics.flatMap((m) => (chosen.has(m.key) ? m.dimensions : [])));
      return (
        <NativeSelect
          label={label}
          {...hint}
          data={[
            ...(field.none === undefined ? [] : [{ value: '', label: field.none }]),
            ...dimensions.filter((d) => known.has(d.key) || d.key === value).map(option),
          ]}
          value={String(value ?? '')}
          onChange={(e) => onChange(e.currentTarget.value || undefined)}
        />
      );
    }
    case 'choice':
      return (
        <NativeSelect
          label={label}
          {...hint}
          data={field.options.map(({ value: v, label: l }) => ({ value: v, label: l }))}
          // What documents of before do not say is the first of them.
          value={String(value ?? field.options[0]!.value)}
          onChange={(e) => onChange(e.currentTarget.value)}
        />
      );
    case 'count':
      return (
        <NumberField
          label={label}
          {...hint}
          min={field.least}
          max={field.most}
          value={Number(value)}
          onChange={onChange}
        />
      );
  }
}
