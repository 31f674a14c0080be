// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core';
import { act, cleanup, configure, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { createMemoryRouter, Link, RouterProvider } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { NumberField } from './NumberField.tsx';
import { SearchField } from './SearchField.tsx';
import { Unsaved } from './Unsaved.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

describe('a field for a number', () => {
  const given: number[] = [];
  function Day() {
    const [day, setDay] = useState(1);
    return (
      <NumberField
        label="Day"
        min={1}
        max={31}
        value={day}
        onChange={(n) => {
          given.push(n);
          setDay(n);
        }}
      />
    );
  }
  const field = () => screen.getByLabelText<HTMLInputElement>('Day');
  const type = (text: string) => fireEvent.change(field(), { target: { value: text } });

  beforeEach(() => {
    given.length = 0;
    render(
      <MantineProvider>
        <Day />
      </MantineProvider>,
    );
  });

  it('can be cleared and typed anew: 31 stays 31', () => {
    type('');
    expect(field().value).toBe('');
    type('3');
    type('31');
    expect(field().value).toBe('31');
    expect(given).toEqual([3, 31]);
  });

  it('takes what is pasted for what it says, and never for a smaller number', () => {
    type('1,000');
    type('1.5');
    type('30.000');
    expect(given).toEqual([]);
    expect(field().value).toBe('30.000');
    type('30');
    expect(given).toEqual([30]);
  });

  it('counts by the arrow keys as far as its bounds', () => {
    fireEvent.keyDown(field(), { key: 'ArrowDown' });
    fireEvent.keyDown(field(), { key: 'ArrowUp' });
    fireEvent.keyDown(field(), { key: 'ArrowUp' });
    expect(given).toEqual([1, 2, 3]);
    expect(field().value).toBe('3');
  });

  it('hands on nothing that is out of bounds, says so, and goes back to what holds when it is left', () => {
    type('311');
    expect(given).toEqual([]);
    expect(screen.getByText('From 1 to 31')).toBeTruthy();
    fireEvent.blur(field());
    expect(field().value).toBe('1');
  });
});

describe('a field to search by', () => {
  const asked: string[] = [];
  /** An address that is slow to follow, as one in a busy page is. */
  function Slow() {
    const [address, setAddress] = useState('');
    return (
      <>
        <SearchField
          label="Find a client"
          value={address}
          onChange={(text) => {
            asked.push(text);
            setTimeout(() => setAddress(text), 400);
          }}
        />
        <button type="button" onClick={() => setAddress('from a link')}>
          link
        </button>
      </>
    );
  }
  const field = () => screen.getByLabelText<HTMLInputElement>('Find a client');
  const pass = (ms: number) => act(() => vi.advanceTimersByTime(ms));

  beforeEach(() => {
    vi.useFakeTimers();
    asked.length = 0;
    render(
      <MantineProvider>
        <Slow />
      </MantineProvider>,
    );
  });

  it('loses no letter, however fast they come and however late the answer', () => {
    let text = '';
    for (const letter of 'mosswick') {
      text += letter;
      fireEvent.change(field(), { target: { value: text } });
      pass(letter === 's' ? 200 : 30);
      expect(field().value).toBe(text);
    }
    pass(1_000);
    expect(field().value).toBe('mosswick');
    expect(asked.at(-1)).toBe('mosswick');
  });

  it('shows what comes from elsewhere', () => {
    fireEvent.click(screen.getByText('link'));
    expect(field().value).toBe('from a link');
    expect(asked).toEqual([]);
  });
});

describe('what is typed and not saved', () => {
  function Page() {
    const [text, setText] = useState('');
    return (
      <>
        <input aria-label="Figure" value={text} onChange={(e) => setText(e.currentTarget.value)} />
        <Unsaved when={text !== ''} what="1 figure" />
        <Link to="/elsewhere">elsewhere</Link>
      </>
    );
  }
  const open = () =>
    render(
      <MantineProvider>
        <RouterProvider
          router={createMemoryRouter([
            { path: '/', element: <Page /> },
            { path: '/elsewhere', element: <p>another page</p> },
          ])}
        />
      </MantineProvider>,
    );
  const type = () => fireEvent.change(screen.getByLabelText('Figure'), { target: { value: '12' } });

  it('is not lost by leaving the page: whoever stays finds it, whoever leaves has said so', async () => {
    open();
    type();
    fireEvent.click(screen.getByText('elsewhere'));
    expect(await screen.findByText('Leave now and you’ll lose 1 figure.')).toBeTruthy();
    fireEvent.click(screen.getByText('Stay here'));
    expect(screen.getByLabelText<HTMLInputElement>('Figure').value).toBe('12');
    fireEvent.click(screen.getByText('elsewhere'));
    fireEvent.click(await screen.findByText('Leave without saving'));
    expect(await screen.findByText('another page')).toBeTruthy();
  });

  it('holds nobody where there is nothing', async () => {
    open();
    fireEvent.click(screen.getByText('elsewhere'));
    expect(await screen.findByText('another page')).toBeTruthy();
  });
});
