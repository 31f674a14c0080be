// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, expect, it } from 'vitest';
import { DateField, MonthField } from './DateField.tsx';

afterEach(cleanup);

function Typed({ as: Field, optional, begin }: { as: typeof DateField; optional?: boolean; begin: string }) {
  const [value, setValue] = useState(begin);
  return (
    <MantineProvider>
      <Field label="On" value={value} onChange={setValue} optional={optional === true} />
      <output>{value}</output>
    </MantineProvider>
  );
}
const box = () => screen.getByLabelText('On') as HTMLInputElement;
const kept = () => screen.getByRole('status').textContent;
function type(text: string) {
  fireEvent.focus(box());
  fireEvent.input(box(), { target: { value: text } });
  fireEvent.blur(box());
}

it('a date looks as dates do elsewhere, and is typed in any usual form', () => {
  render(<Typed as={DateField} begin="2026-11-20" />);
  expect(box().value).toBe('20 Nov 2026');
  type('2026-12-03');
  expect([box().value, kept()]).toEqual(['3 Dec 2026', '2026-12-03']);
});

it('what is no date is named, and the field shows what it keeps: nothing else is saved than what is seen', async () => {
  render(<Typed as={DateField} begin="2026-11-20" />);
  type('31 Feb 2026');
  expect([box().value, kept()]).toEqual(['20 Nov 2026', '2026-11-20']);
  expect(screen.getByText('“31 Feb 2026” isn’t a date. Enter one like 20 Nov 2026.')).toBeTruthy();
  type('1 Mar 2026');
  expect([box().value, kept()]).toEqual(['1 Mar 2026', '2026-03-01']);
  expect(screen.queryByText(/isn’t a date/)).toBeNull();
  // One from the calendar mends it, too.
  type('nonsense');
  fireEvent.click(box());
  fireEvent.click(await screen.findByLabelText('25 March 2026'));
  expect([box().value, kept()]).toEqual(['25 Mar 2026', '2026-03-25']);
  expect(screen.queryByText(/isn’t a date/)).toBeNull();
});

it('a date may be taken out only where it may be missing', () => {
  render(<Typed as={DateField} begin="2026-11-20" optional />);
  type('');
  expect(kept()).toBe('');
  cleanup();
  render(<Typed as={DateField} begin="2026-11-20" />);
  type('');
  expect([box().value, kept()]).toEqual(['20 Nov 2026', '2026-11-20']);
});

it('a month is typed by its name', () => {
  render(<Typed as={MonthField} begin="2026-11" />);
  expect(box().value).toBe('November 2026');
  type('dec 2026');
  expect([box().value, kept()]).toEqual(['December 2026', '2026-12']);
  type('winter');
  expect([box().value, kept()]).toEqual(['December 2026', '2026-12']);
  expect(screen.getByText('“winter” isn’t a month. Enter one like November 2026.')).toBeTruthy();
});

it('the calendar opens where somebody asks for it, and not with the focus alone', async () => {
  render(<Typed as={DateField} begin="2026-11-20" />);
  fireEvent.focus(box());
  expect(screen.queryByText('November 2026')).toBeNull();
  fireEvent.click(box());
  fireEvent.click(await screen.findByLabelText('25 November 2026'));
  expect([box().value, kept()]).toEqual(['25 Nov 2026', '2026-11-25']);
});
