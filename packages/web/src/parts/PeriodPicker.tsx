import type { ComparisonSpec, PeriodSpec } from '@chronicon/core/calendar';
import { Button, Radio, Stack } from '@mantine/core';
import { useState } from 'react';
import { DateField } from './DateField.tsx';
import { COMPARISONS, FISCAL, keyOfComparison, keyOfPeriod, PERIODS } from './periods.ts';

/** Two dates, handed on once both are there and in order. */
export function FixedDates({
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
        <DateField label="First day" value={from} onChange={(date) => setFrom(date)} />
        <DateField
          label="Last day"
          value={to}
          onChange={(date) => setTo(date)}
          error={backwards ? 'The end date is before the start date.' : undefined}
        />
      </div>
      <Button variant="default" disabled={from === '' || to === '' || backwards} onClick={() => onChange({ from, to })}>
        Use these dates
      </Button>
    </Stack>
  );
}

interface Props<T> {
  value: T;
  onChange: (spec: T) => void;
}

/** One of the usual choices, or two dates of one's own. */
function SpecPicker<T extends { kind: string }>({
  about,
  choices,
  chosen,
  dates,
  onChoose,
  onDates,
}: {
  about: string;
  choices: readonly { key: string; label: string; spec: T }[];
  chosen: string;
  dates: { from: string; to: string } | null;
  onChoose: (spec: T) => void;
  onDates: (range: { from: string; to: string }) => void;
}) {
  return (
    <Stack gap={8}>
      <Radio.Group
        aria-label={about}
        value={chosen}
        onChange={(key) => {
          const found = choices.find((c) => c.key === key);
          if (found) onChoose(found.spec);
        }}
      >
        <Stack gap={7}>
          {choices.map((c) => (
            <Radio key={c.key} value={c.key} label={c.label} />
          ))}
        </Stack>
      </Radio.Group>
      <FixedDates spec={dates} onChange={onDates} />
    </Stack>
  );
}

/** @param fiscalStart month in which the client's own year begins: where it is not January, its periods are offered */
export const PeriodPicker = ({ value, onChange, fiscalStart }: Props<PeriodSpec> & { fiscalStart: number }) => (
  <SpecPicker
    about="Period"
    choices={fiscalStart === 1 ? PERIODS : [...PERIODS, ...FISCAL]}
    chosen={keyOfPeriod(value)}
    dates={value.kind === 'fixed' ? value : null}
    onChoose={onChange}
    onDates={(dates) => onChange({ kind: 'fixed', ...dates })}
  />
);

export const ComparisonPicker = ({ value, onChange }: Props<ComparisonSpec>) => (
  <SpecPicker
    about="Comparison"
    choices={COMPARISONS}
    chosen={keyOfComparison(value)}
    dates={value.kind === 'fixed' ? value : null}
    onChoose={onChange}
    onDates={(dates) => onChange({ kind: 'fixed', ...dates })}
  />
);
