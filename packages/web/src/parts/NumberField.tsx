import { NumberInput, type NumberInputProps } from '@mantine/core';
import { useEffect, useState } from 'react';

interface Props extends Omit<NumberInputProps, 'value' | 'onChange' | 'min' | 'max' | 'error'> {
  value: number;
  min: number;
  max: number;
  onChange: (value: number) => void;
}

/** A whole number within bounds. What is typed stays as it is typed; only numbers within the bounds are handed on. */
export function NumberField({ value, min, max, onChange, ...props }: Props) {
  const [text, setText] = useState<number | string>(value);
  useEffect(() => setText(value), [value]);
  const isGood = (n: number | string): n is number => typeof n === 'number' && n >= min && n <= max;
  return (
    <NumberInput
      {...props}
      min={min}
      max={max}
      clampBehavior="none"
      allowDecimal={false}
      value={text}
      error={text === '' || isGood(text) ? undefined : `From ${min} to ${max}`}
      onChange={(typed) => {
        setText(typed);
        if (isGood(typed)) onChange(typed);
      }}
      onBlur={() => {
        if (!isGood(text)) setText(value);
      }}
    />
  );
}
