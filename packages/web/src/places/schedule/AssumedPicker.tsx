import type { Report } from '@chronicon/core/contract';
import { Stack } from '@mantine/core';
import { QuantityField } from '../../parts/QuantityField.tsx';
import { quantityText } from '../../parts/quantity.ts';

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
  if (set.length === 0) return 'the report’s assumptions';
  return set.map((a) => `${a.label} ${quantityText(assumed[a.key]!, a.unit, currency)}`).join(', ');
}

/** The report's assumptions, each as it is by default or set anew. */
export function AssumedPicker({ currency, assumptions, assumed, onChange }: Props) {
  return (
    <Stack gap={8}>
      {assumptions.map((a) => (
        <QuantityField
          key={a.key}
          label={`${a.label}${a.unit === 'percent' ? ' (%)' : ''}`}
          description={`Empty: ${quantityText(a.value, a.unit, currency)}, as the report assumes`}
          value={assumed[a.key] ?? null}
          unit={a.unit}
          optional
          onChange={(value) => {
            const { [a.key]: _, ...rest } = assumed;
            onChange(value === null ? rest : { ...rest, [a.key]: value });
          }}
        />
      ))}
    </Stack>
  );
}
