// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { QuantityField } from './QuantityField.tsx';

const given: (number | null)[] = [];
beforeEach(() => {
  given.length = 0;
});
afterEach(cleanup);

const at = (value: number | null, optional = false) => (
  <MantineProvider>
    <QuantityField label="Margin" unit="percent" value={value} optional={optional} onChange={(v) => given.push(v)} />
  </MantineProvider>
);
const field = () => screen.getByLabelText<HTMLInputElement>('Margin');
const type = (text: string) => fireEvent.change(field(), { target: { value: text } });

describe('a field for a number of a unit', () => {
  it('keeps what is typed as it is typed, and hands on what it says', () => {
    const { rerender } = render(at(0.2));
    expect(field().value).toBe('20');
    type('12.50');
    expect(given).toEqual([0.125]);
    rerender(at(0.125));
    expect(field().value).toBe('12.50');
  });

  it('says where it is none, hands nothing on, and loses nothing', () => {
    const { rerender } = render(at(0.2));
    type('2 or so');
    rerender(at(0.2));
    expect(field().value).toBe('2 or so');
    expect(screen.getByText('Enter a number.')).toBeTruthy();
    type('');
    expect(screen.getByText('Enter a number.')).toBeTruthy();
    expect(given).toEqual([]);
  });

  it('follows what is taken back, or changed by somebody else', () => {
    const { rerender } = render(at(0.2));
    type('25');
    rerender(at(0.25));
    rerender(at(0.2));
    expect(field().value).toBe('20');
    type('many');
    rerender(at(0.4));
    expect(field().value).toBe('40');
    expect(screen.queryByText('Enter a number.')).toBeNull();
  });

  it('may stand empty where nothing is an answer', () => {
    const { rerender } = render(at(0.2, true));
    type('');
    expect(given).toEqual([null]);
    rerender(at(null, true));
    expect(field().value).toBe('');
    expect(screen.queryByText('Enter a number.')).toBeNull();
    rerender(at(0.3, true));
    expect(field().value).toBe('30');
  });
});
