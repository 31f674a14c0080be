import type { ComparisonSpec, PeriodSpec } from '@chronicon/core/calendar';
import { Button, Radio, Stack, TextInput } from '@mantine/core';
import { useState } from 'react';
import { COMPARISONS, keyOfComparison, keyOfPeriod, PERIODS } from './periods.ts';

/** Two dates, handed on once both are there and in order. */
function FixedDates({
  spec,
  onChange,
}: {
  spec: { from: string; to: string } | null;
  onChange: (r: { from: string; to: string }) => void;
}) {
  const [from, setFrom] = useState(spec?.from ?? '');
  const [to, setTo] = useState(spec?.to ?? '');
  const backwards = from !== '' && to !== '' && from > to;
  return (
    <Stack gap={8}>
      <div className="row">
        <TextInput type="date" label="First day" value={from} onChange={(e) => setFrom(e.currentTarget.value)} />
        <TextInput
          type="date"
          label="Last day"
          value={to}
          onChange={(e) => setTo(e.currentTarget.value)}
          error={backwards ? 'The last day comes before the first.' : undefined}
        />
      </div>
      <Button variant="default" disabled={from === '' || to === '' || backwards} onClick={() => onChange({ from, to })}>
        Use these dates
      </Button>
    </Stack>
  );
}

export function PeriodPicker({ value, onChange }: { value: PeriodSpec; onChange: (spec: PeriodSpec) => void }) {
  return (
    <Stack gap={8}>
      <Radio.Group
        aria-label="Period"
        value={keyOfPeriod(value)}
        onChange={(key) => {
          const found = PERIODS.find((p) => p.key === key);
          if (found) onChange(found.spec);
        }}
      >
        <Stack gap={7}>
          {PERIODS.map((p) => (
            <Radio key={p.key} value={p.key} label={p.label} />
          ))}
        </Stack>
      </Radio.Group>
      <FixedDates
        spec={value.kind === 'fixed' ? value : null}
        onChange={(dates) => onChange({ kind: 'fixed', ...dates })}
      />
    </Stack>
  );
}

export function ComparisonPicker({
  value,
  onChange,
}: {
  value: ComparisonSpec;
  onChange: (spec: ComparisonSpec) => void;
}) {
  return (
    <Stack gap={8}>
      <Radio.Group
        aria-label="Comparison"
        value={keyOfComparison(value)}
        onChange={(key) => {
          const found = COMPARISONS.find((c) => c.key === key);
          if (found) onChange(found.spec);
        }}
      >
        <Stack gap={7}>
          {COMPARISONS.map((c) => (
            <Radio key={c.key} value={c.key} label={c.label} />
          ))}
        </Stack>
      </Radio.Group>
      <FixedDates
        spec={value.kind === 'fixed' ? value : null}
        onChange={(dates) => onChange({ kind: 'fixed', ...dates })}
      />
    </Stack>
  );
}
