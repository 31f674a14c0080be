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

/** What is wrong with a text, which it names; null for one that was read, and for none. */
const faultOf = (text: string, read: string | null, what: string, example: string): string | null =>
  text.trim() === '' || read !== null
    ? null
    : `“${text.trim().slice(0, 40)}” isn’t a ${what}. Enter one like ${example}.`;

/**
 * A date, typed or chosen from a calendar. It looks as dates do everywhere else, `20 Nov 2026`; what is typed may also be in figures,
 * day and month in the order of one's own browser. A click or ↓ opens the calendar. Where what was typed is no date, the field says
 * so and shows the date that it keeps: what is seen is what will be saved.
 */
export function DateField({ value, error, onChange, optional = false, ...rest }: Props) {
  const [fault, setFault] = useState<string | null>(null);
  // The focus alone opens no calendar: in a dialog it would lie over everything else before anybody asked.
  const [opens, setOpens] = useState(false);
  const monthFirst = writesMonthFirst(navigator.language);
  const format: DateInputProps['valueFormat'] = (date) => plainDate(date.slice(0, 10));
  return (
    <DateInput
      {...rest}
      value={value === '' ? null : value}
      valueFormat={format}
      dateParser={(text) => readDate(text, monthFirst)}
      allowDeselect={optional}
      placeholder={EXAMPLE}
      popoverProps={{ withinPortal: false, disabled: !opens || rest.disabled === true }}
      weekendDays={[]}
      previousLabel="Previous"
      nextLabel="Next"
      error={error ?? fault}
      onClick={() => setOpens(true)}
      onKeyDown={(e) => {
        if (e.key === 'ArrowDown') setOpens(true);
        // Escape closes the calendar, and not the dialog about it.
        if (e.key === 'Escape' && opens) e.stopPropagation();
        if (e.key === 'Escape') setOpens(false);
      }}
      onBlur={(e) => {
        setFault(faultOf(e.currentTarget.value, readDate(e.currentTarget.value, monthFirst), 'date', EXAMPLE));
        setOpens(false);
      }}
      onChange={(date) => {
        setFault(null);
        if (date !== null || optional) onChange(date?.slice(0, 10) ?? '');
      }}
    />
  );
}

/** A month of a year, typed: `November 2026`, `Nov 2026`, `11/2026` or `2026-11`. @param value `YYYY-MM`; empty for none */
export function MonthField({ value, error, onChange, optional: _, ...rest }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  return (
    <TextInput
      {...rest}
      placeholder="November 2026"
      value={typed ?? (value === '' ? '' : monthOf(value))}
      error={error ?? fault}
      onChange={(e) => {
        const text = e.currentTarget.value;
        setTyped(text);
        setFault(null);
        const month = readMonth(text);
        if (month !== null || text.trim() === '') onChange(month ?? '');
      }}
      onBlur={() => {
        if (typed !== null) setFault(faultOf(typed, readMonth(typed), 'month', 'November 2026'));
        setTyped(null);
      }}
    />
  );
}
