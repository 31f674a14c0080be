// @vitest-environment happy-dom
import type { Client, ScheduleInput } from '@chronicon/core/contract';
import { Button, MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError } from '../../api/call.ts';
import { SchedulePlace } from './SchedulePlace.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const client = {
  id: 'cl_1',
  name: 'Mosswick Botanic Garden',
  contacts: [{ id: 'co_1', firstName: 'Orla', lastName: 'Fenwick', email: 'orla@mosswick.example' }],
} as Client;

const initial: ScheduleInput = {
  assumed: {},
  filter: [],
  reportId: 'rp_1',
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  time: '08:00',
  zone: 'Europe/London',
  firstDate: '2026-11-01',
  lastDate: null,
  workingDayRule: 'as is',
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  readers: [],
  subject: '{{report.title}}: {{period.label}}',
  message: 'Hello',
};

const METRICS = { metrics: [], dimensions: [{ key: 'device', label: 'Device' }] };
const SEGMENTS = [{ id: 'sg_1', name: 'Phones', parts: [], shared: false, usedIn: [] }];

const AHEAD = { runs: [], calendarRule: null };

const asked: unknown[] = [];
const saved: ScheduleInput[] = [];

beforeEach(() => {
  asked.length = 0;
  saved.length = 0;
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    if (init.body) asked.push(JSON.parse(String(init.body)));
    const told = url.endsWith('/metrics') ? METRICS : url.endsWith('/segments') ? SEGMENTS : AHEAD;
    return new Response(JSON.stringify(told), { status: 200, headers: { 'content-type': 'application/json' } });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function show(error: ApiError | null = null) {
  return render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter>
          <SchedulePlace
            title="New schedule"
            client={client}
            reports={[{ id: 'rp_1', title: 'Monthly overview', released: null }]}
            initial={initial}
            error={error}
            actions={(input) => <Button onClick={() => saved.push(input)}>Start</Button>}
          />
        </MemoryRouter>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

describe('a schedule as a sentence', () => {
  it('reads as one, in people’s words', () => {
    const { container } = show();
    expect(container.querySelector('.sentence')!.textContent).toBe(
      'Send Monthly overview on the 3rd of each month, whatever day that is, at 08:00 London time, covering the month before, compared with the period before it, counting all the report counts, as a PDF to nobody yet, with “Monthly overview: ‹period›”. Starts 1 Nov 2026, no end.',
    );
  });

  it('changes where its parts are chosen, and asks what that does', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Readers: nobody yet' }));
    fireEvent.click(await screen.findByRole('checkbox', { name: /Orla Fenwick/ }));
    fireEvent.click(screen.getByRole('button', { name: /^Period/ }));
    fireEvent.click(await screen.findByRole('radio', { name: 'the 7 days before' }));
    expect(screen.getByRole('button', { name: 'Readers: Orla Fenwick' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]).toMatchObject({ readers: ['co_1'], period: { kind: 'rolling', days: 7 } });
    await waitFor(() => expect(asked.at(-1)).toMatchObject({ period: { kind: 'rolling', days: 7 } }));
  });

  it('takes any rhythm, keeps the day that was chosen, and says where it goes on a holiday', async () => {
    show();
    const rhythm = (name: RegExp) => fireEvent.click(screen.getByRole('button', { name }));
    const choose = async (label: string, value: string) =>
      fireEvent.change(await screen.findByLabelText(label), { target: { value } });
    rhythm(/^Rhythm/);
    await choose('Every', 'quarterly');
    await choose('In', '2');
    expect(screen.getByRole('button', { name: 'Rhythm: the 3rd of each quarter’s 2nd month' })).toBeTruthy();
    fireEvent.click(screen.getByRole('radio', { name: 'on a working day, counted from the last', hidden: true }));
    expect(
      screen.getByRole('button', { name: 'Rhythm: the last working day of each quarter’s 2nd month' }),
    ).toBeTruthy();
    // What is counted in working days falls on no other.
    expect(screen.queryByRole('button', { name: /^Working days/ })).toBeNull();
    await choose('Every', 'yearly');
    fireEvent.click(screen.getByRole('radio', { name: 'on the last day', hidden: true }));
    await choose('In', '6');
    rhythm(/^Working days/);
    fireEvent.click(await screen.findByRole('radio', { name: 'it goes on the working day before', hidden: true }));
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]).toMatchObject({
      rule: { freq: 'yearly', month: 6, on: { last: true } },
      workingDayRule: 'previous',
    });
    // Every day is every day.
    await choose('Every', 'daily');
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[1]).toMatchObject({ rule: { freq: 'daily' }, workingDayRule: 'as is' });
  });

  it('sends a segment alone, and says which', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Filter of the schedule: all the report counts' }));
    // Nothing is laid out here, so that what floats counts as out of sight.
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Phones', hidden: true }));
    expect(screen.getByRole('button', { name: 'Filter of the schedule: only Phones' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]!.filter).toEqual([{ dimension: 'segment', how: 'only', values: ['sg_1'] }]);
  });

  it('shows a refusal where it belongs and keeps what was typed', () => {
    const { container } = show(
      new ApiError(422, 'Choose at least one reader.', { readers: 'Choose at least one reader.' }),
    );
    expect(screen.getByRole('alert').textContent).toBe('Choose at least one reader.');
    expect(container.querySelectorAll('.part.missing')).toHaveLength(1);
  });
});
