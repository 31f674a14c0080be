import type { Report } from '@chronicon/core/contract';
import { Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { quantityText, typedText, typedValue } from '../../parts/quantity.ts';

type Assumption = NonNullable<Report['released']>['assumptions'][number];
type Assumed = Record<string, number>;

interface Props {
  currency: string;
  assumptions: readonly Assumption[];
  assumed: Assumed;
  onChange: (assumed: Assumed) => void;
}

/** What a schedule assumes, as a part of its sentence. */
export function assumedWords({ currency, assumptions, assumed }: Omit<Props, 'onChange'>): string {
  const set = assumptions.filter((a) => Object.hasOwn(assumed, a.key));
  if (set.length === 0) return 'what the report assumes';
  return set.map((a) => `${a.label} ${quantityText(assumed[a.key]!, a.unit, currency)}`).join(', ');
}

function Field({
  of,
  set,
  currency,
  onSet,
}: {
  of: Assumption;
  set: number | undefined;
  currency: string;
  onSet: (value: number | null) => void;
}) {
  const [text, setText] = useState(set === undefined ? '' : typedText(set, of.unit));
  const isWrong = text.trim() !== '' && typedValue(text, of.unit) === null;
  return (
    <TextInput
      label={`${of.label}${of.unit === 'percent' ? ' (%)' : ''}`}
      description={`Empty: ${quantityText(of.value, of.unit, currency)}, as the report assumes`}
      inputMode="decimal"
      value={text}
      error={isWrong ? 'Give a number.' : undefined}
      onChange={(e) => {
        setText(e.currentTarget.value);
        const typed = typedValue(e.currentTarget.value, of.unit);
        if (typed !== null || e.currentTarget.value.trim() === '') onSet(typed);
      }}
    />
  );
}

/** The report's assumptions, each as it is by default or set anew. */
export function AssumedPicker({ currency, assumptions, assumed, onChange }: Props) {
  return (
    <Stack gap={8}>
      {assumptions.map((a) => (
        <Field
          key={a.key}
          of={a}
          set={assumed[a.key]}
          currency={currency}
          onSet={(value) => {
            const { [a.key]: _, ...rest } = assumed;
            onChange(value === null ? rest : { ...rest, [a.key]: value });
          }}
        />
      ))}
    </Stack>
  );
}
