import { TextInput, type TextInputProps } from '@mantine/core';
import { useState } from 'react';
import { typedText, typedValue, type Unit } from './quantity.ts';

interface Props extends Omit<TextInputProps, 'value' | 'onChange' | 'error'> {
  value: number | null;
  unit: Unit;
  /** Whether it may stand empty, for nothing. */
  optional?: boolean;
  onChange: (value: number | null) => void;
}

/**
 * A number of a unit. What is typed stays as it is for as long as it says the value, or none; where the value changes
 * otherwise (taken back, changed by somebody else) the field follows.
 */
export function QuantityField({ value, unit, optional = false, onChange, ...props }: Props) {
  const shown = value === null ? '' : typedText(value, unit);
  const [typed, setTyped] = useState({ text: shown, for: value });
  const read = typedValue(typed.text, unit);
  const isEmpty = optional && typed.text.trim() === '';
  const says = isEmpty ? value === null : read === null ? typed.for === value : read === value;
  const text = says ? typed.text : shown;
  return (
    <TextInput
      {...props}
      inputMode="decimal"
      value={text}
      error={says && read === null && !isEmpty ? 'Enter a number.' : undefined}
      onChange={(e) => {
        const next = e.currentTarget.value;
        setTyped({ text: next, for: value });
        const now = typedValue(next, unit);
        if (now !== null || (optional && next.trim() === '')) onChange(now);
      }}
    />
  );
}
