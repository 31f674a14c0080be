import '@mantine/dates/styles.css';
import { TextInput } from '@mantine/core';
import { DateInput, type DateInputProps } from '@mantine/dates';
import { type ReactNode, useState } from 'react';
import { readDate, readMonth, writesMonthFirst } from './typedDate.ts';
import { monthOf, plainDate } from './when.ts';

/** The form that dates have everywhere, and that one may type, beside those of one's own region. */
const EXAMPLE = '20 Nov 2026';

interface Props {
  label: string;
  description?: ReactNode;
  /** `YYYY-MM-DD`; empty for none. */
  value: string;
  error?: ReactNode;
  disabled?: boolean;
  /** Given the empty text where a date is taken out. */
  onChange: (date: string) => void;
  /** Whether it may be left empty; otherwise what was there comes back. */
  optional?: boolean;
}

/**
 * A date, typed or chosen from a calendar. It looks as dates do everywhere else, `20 Nov 2026`; what is typed may also be in figures,
 * day and month in the order of one's own browser. What is no date stays there, and says so. A click or ↓ opens the calendar.
 */
export function DateField({ value, error, onChange, optional = false, ...rest }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [left, setLeft] = useState(false);
  // The focus alone opens no calendar: in a dialog it would lie over everything else before anybody asked.
  const [opens, setOpens] = useState(false);
  const monthFirst = writesMonthFirst(navigator.language);
  const wrong = typed !== null && typed.trim() !== '' && readDate(typed, monthFirst) === null;
  const format: DateInputProps['valueFormat'] = (date) => plainDate(date.slice(0, 10));
  return (
    <DateInput
      {...rest}
      value={value === '' ? null : value}
      valueFormat={format}
      dateParser={(text) => readDate(text, monthFirst)}
      allowDeselect={optional}
      fixOnBlur={!wrong}
      placeholder={EXAMPLE}
      popoverProps={{ withinPortal: false, disabled: !opens || rest.disabled === true }}
      weekendDays={[]}
      previousLabel="Previous"
      nextLabel="Next"
      error={error ?? (left && wrong ? `Enter a date like ${EXAMPLE}.` : undefined)}
      onInput={(e) => {
        setTyped(e.currentTarget.value);
        setLeft(false);
      }}
      onClick={() => setOpens(true)}
      onKeyDown={(e) => {
        if (e.key === 'ArrowDown') setOpens(true);
      }}
      onBlur={() => {
        setLeft(true);
        setOpens(false);
      }}
      onChange={(date) => {
        if (date !== null || optional) onChange(date?.slice(0, 10) ?? '');
      }}
    />
  );
}

/** A month of a year, typed: `November 2026`, `Nov 2026`, `11/2026` or `2026-11`. @param value `YYYY-MM`; empty for none */
export function MonthField({ value, error, onChange, optional: _, ...rest }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [left, setLeft] = useState(false);
  const wrong = typed !== null && typed.trim() !== '' && readMonth(typed) === null;
  return (
    <TextInput
      {...rest}
      placeholder="November 2026"
      value={typed ?? (value === '' ? '' : monthOf(value))}
      error={error ?? (left && wrong ? 'Enter a month like November 2026.' : undefined)}
      onChange={(e) => {
        const text = e.currentTarget.value;
        setTyped(text);
        setLeft(false);
        const month = readMonth(text);
        if (month !== null || text.trim() === '') onChange(month ?? '');
      }}
      onBlur={() => {
        setLeft(true);
        if (!wrong) setTyped(null);
      }}
    />
  );
}
