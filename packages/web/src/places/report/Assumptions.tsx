import { ASSUMPTION_NAME } from '@chronicon/core/bounds';
import type { Draft } from '@chronicon/core/contract/edits';
import type { OwnUnit } from '@chronicon/core/figures';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import { QuantityField } from '../../parts/QuantityField.tsx';
import { quantityText, typedText, typedValue } from '../../parts/quantity.ts';

type Assumption = NonNullable<Draft['document']['assumptions']>[number];

interface Props {
  currency: string;
  assumptions: readonly Assumption[];
  onChange: (assumptions: Assumption[]) => void;
}

const UNITS: readonly { value: OwnUnit; label: string }[] = [
  { value: 'percent', label: '%' },
  { value: 'money', label: 'money' },
  { value: 'count', label: 'whole number' },
  { value: 'decimal', label: 'decimal number' },
];
/** Characters of a key. */
const KEY_LENGTH = 40;

/** A key that formulas can name, from what the assumption is called. */
function keyFor(label: string, taken: readonly string[]): string {
  const words = label
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9 ]/g, '')
    .trim()
    .split(/\s+/);
  const camel = words
    .map((w, i) => (i === 0 ? w.toLowerCase() : w.charAt(0).toUpperCase() + w.slice(1).toLowerCase()))
    .join('')
    .replace(/^\d+/, '')
    .slice(0, KEY_LENGTH);
  const base = camel === '' ? 'assumption' : camel;
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}${n}`;
  return key;
}

function Row({
  of,
  currency,
  onChange,
  onRemove,
}: {
  of: Assumption;
  currency: string;
  onChange: (a: Assumption) => void;
  onRemove: () => void;
}) {
  return (
    <fieldset className="page-choices">
      <legend>{of.label}</legend>
      <div className="row" style={{ alignItems: 'end', flexWrap: 'nowrap' }}>
        <QuantityField
          label="By default"
          aria-label={`${of.label} by default`}
          value={of.value}
          unit={of.unit}
          onChange={(value) => value !== null && onChange({ ...of, value })}
        />
        <NativeSelect
          label="In"
          aria-label={`Unit of ${of.label}`}
          data={[...UNITS]}
          value={of.unit}
          onChange={(e) => {
            const unit = e.currentTarget.value as OwnUnit;
            // What was typed is meant in the other unit: 20 % becomes 20.
            onChange({ ...of, unit, value: typedValue(typedText(of.value, of.unit), unit) ?? of.value });
          }}
        />
      </div>
      <span className="muted small">
        {quantityText(of.value, of.unit, currency)}; in formulas <code>{of.key}</code>
      </span>
      <div>
        <Button variant="subtle" color="red" size="compact-xs" onClick={onRemove} aria-label={`Remove ${of.label}`}>
          Remove
        </Button>
      </div>
    </fieldset>
  );
}

/** The named numbers of a report, which derived metrics and the What-if block read. */
export function Assumptions({ currency, assumptions, onChange }: Props) {
  const [name, setName] = useState('');
  const add = () => {
    const key = keyFor(
      name,
      assumptions.map((a) => a.key),
    );
    onChange([...assumptions, { key, label: name.trim(), unit: 'percent', value: 0.1 }]);
    setName('');
  };
  return (
    <div className="stack">
      <h3>Assumptions</h3>
      <span className="muted small">Named numbers for formulas: an uplift, a margin, a budget.</span>
      {assumptions.map((a) => (
        <Row
          key={a.key}
          of={a}
          currency={currency}
          onChange={(next) => onChange(assumptions.map((x) => (x.key === a.key ? next : x)))}
          onRemove={() => onChange(assumptions.filter((x) => x.key !== a.key))}
        />
      ))}
      <form
        className="row"
        style={{ alignItems: 'end', flexWrap: 'nowrap' }}
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() !== '') add();
        }}
      >
        <TextInput
          label="New assumption"
          placeholder="Margin"
          style={{ flex: 1, minWidth: 0 }}
          maxLength={ASSUMPTION_NAME}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
        />
        <Button type="submit" variant="default" style={{ flexShrink: 0 }} disabled={name.trim() === ''}>
          Add
        </Button>
      </form>
    </div>
  );
}
