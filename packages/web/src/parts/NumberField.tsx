import { readTyped } from '@chronicon/core/contract/display';
import { TextInput, type TextInputProps } from '@mantine/core';
import { type KeyboardEvent, useEffect, useState } from 'react';

interface Props extends Omit<TextInputProps, 'value' | 'onChange' | 'min' | 'max' | 'error'> {
  value: number;
  min: number;
  max: number;
  onChange: (value: number) => void;
}

/**
 * A whole number within bounds. What is typed or pasted stays as it is, and the caret with it; only numbers within the
 * bounds are handed on. The arrow keys count up and down.
 */
export function NumberField({ value, min, max, onChange, ...props }: Props) {
  const [text, setText] = useState(String(value));
  useEffect(() => setText(String(value)), [value]);
  const read = readTyped(text);
  const good = (n: number) => Number.isInteger(n) && n >= min && n <= max;
  const holds = 'value' in read && good(read.value);
  const take = (typed: string) => {
    setText(typed);
    const next = readTyped(typed);
    if ('value' in next && good(next.value)) onChange(next.value);
  };
  const count = (e: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[e.key];
    if (!by) return;
    e.preventDefault();
    take(String(Math.min(max, Math.max(min, value + by))));
  };
  return (
    <TextInput
      {...props}
      inputMode="numeric"
      autoComplete="off"
      value={text}
      error={holds || text === '' ? undefined : `From ${min} to ${max}`}
      onChange={(e) => take(e.currentTarget.value)}
      onKeyDown={count}
      onBlur={() => {
        if (!holds) setText(String(value));
      }}
    />
  );
}
