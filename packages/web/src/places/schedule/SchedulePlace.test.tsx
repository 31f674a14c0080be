// @vitest-environment happy-dom
import { type Client, PLAIN_CHOICES, type ScheduleInput } from '@chronicon/core/contract';
import { Button, MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError } from '../../api/call.ts';
import { type Session, SessionContext } from '../../shell/sessionContext.ts';
import { SchedulePlace } from './SchedulePlace.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const client = {
  id: 'cl_1',
  name: 'Mosswick Botanic Garden',
  language: 'en-GB',
  managerId: 'me_1',
  manager: 'Ines Tallow',
  mailTexts: [] as Client['mailTexts'],
  lists: [{ id: 'li_1', name: 'Board', contacts: ['co_1'] }],
  contacts: [
    { id: 'co_1', firstName: 'Orla', lastName: 'Fenwick', email: 'orla@mosswick.example', standing: 'reads' },
    {
      id: 'co_2',
      firstName: 'Tobin',
      lastName: 'Aske',
      email: 'tobin@mosswick.example',
      standing: 'left',
      stopped: 'Tobin Aske is marked as having left.',
    },
  ],
} as Client;

const initial: ScheduleInput = {
  ...PLAIN_CHOICES,
  reportId: 'rp_1',
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  time: '08:00',
  zone: 'Europe/London',
  firstDate: '2026-11-01',
  lastDate: null,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  readers: [],
  subject: '{{report.title}}: {{period.label}}',
  message: 'Hello',
};

const METRICS = { metrics: [], dimensions: [{ key: 'device', label: 'Device' }] };
const SEGMENTS = [{ id: 'sg_1', name: 'Phones', parts: [], shared: false, usedIn: [] }];

const COLLEAGUES = [
  { id: 'me_1', name: 'Ines Tallow', role: 'owner' },
  { id: 'me_2', name: 'Joren Vask', role: 'manager' },
];
const SETTINGS = {
  settings: [
    {
      key: 'language',
      label: '',
      field: { kind: 'choice', many: false, options: [{ value: 'en-GB', label: 'English' }] },
    },
  ],
};
const run = (nominal: string, more: object = {}) => ({
  nominal,
  at: `${nominal}T08:00:00.000Z`,
  local: { date: nominal, time: '08:00' },
  period: { from: '2026-10-01', to: '2026-10-31', label: 'October 2026' },
  compared: null,
  readers: 1,
  skipped: false,
  notes: [],
  warnings: [{ kind: 'consent', text: 'It is not noted that Orla wants reports.' }],
  ...more,
});
const AHEAD = { runs: [run('2026-11-03'), run('2026-12-03')], calendarRule: null };
const PARTS = [
  { block: 'b1', page: 'Month', as: 'figures', kind: 'KPI row', about: 'Visits, Revenue' },
  { block: 'b2', page: 'Shop', as: 'figures', kind: 'KPI row', about: 'Orders' },
  { block: 'b3', page: 'Month', as: 'chart', kind: 'Trend', about: 'Revenue' },
];
const MAIL = {
  readers: [{ id: 'co_1', name: 'Orla Fenwick', email: 'orla@mosswick.example' }],
  mail: {
    to: { id: 'co_1', name: 'Orla Fenwick', email: 'orla@mosswick.example' },
    from: { name: 'Fernglass Media', address: 'reports@fernglass.example', replyTo: null },
    subject: 'Overview: October 2026',
    preview: 'Revenue rose.',
    html: '<p>Hello Orla</p>',
    text: 'Hello Orla, in plain text',
    files: ['Overview.pdf'],
  },
  period: 'October 2026',
  problem: null,
  lacks: [],
};
const mails: { mail: ScheduleInput['mail']; scheme: string; reader: string | null }[] = [];
const TOLD: [string, unknown][] = [
  ['/metrics', METRICS],
  ['/segments', SEGMENTS],
  ['/colleagues', COLLEAGUES],
  ['/clients/settings', SETTINGS],
  ['/mail-parts', PARTS],
  ['/schedules/mail', MAIL],
];
const SESSION = { member: { id: 'me_1', name: 'Ines Tallow', role: 'owner' } } as Session;

const asked: unknown[] = [];
const saved: ScheduleInput[] = [];

beforeEach(() => {
  asked.length = 0;
  mails.length = 0;
  saved.length = 0;
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    if (init.body) (url.endsWith('/mail') ? mails : asked).push(JSON.parse(String(init.body)));
    const told = TOLD.find(([end]) => url.endsWith(end))?.[1] ?? AHEAD;
    return new Response(JSON.stringify(told), { status: 200, headers: { 'content-type': 'application/json' } });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const REPORT = {
  id: 'rp_1',
  clientId: 'cl_1',
  title: 'Monthly overview',
  version: 1,
  updatedAt: '2026-11-01T09:00:00Z',
  template: null,
  released: { at: '2026-11-01T09:00:00Z', by: null, current: true, assumptions: [], pages: [] },
  design: {
    period: { kind: 'unit', unit: 'month', offset: -1 } as const,
    comparison: { kind: 'previous' } as const,
    filter: [],
  },
  schedules: 0,
};

function show(error: ApiError | null = null, from = initial) {
  return render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient()}>
        <SessionContext value={SESSION}>
          <MemoryRouter>
            <SchedulePlace
              title="New schedule"
              client={client}
              reports={[REPORT]}
              initial={from}
              error={error}
              actions={(input) => <Button onClick={() => saved.push(input)}>Start</Button>}
            />
          </MemoryRouter>
        </SessionContext>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

describe('a schedule as a sentence', () => {
  it('reads as one, in people’s words', () => {
    const { container } = show();
    expect(container.querySelector('.sentence')!.textContent!.replaceAll('\u2060', '')).toBe(
      'Send Monthly overview on the 3rd of each month, whatever day that is, at 08:00 London time, covering last month, compared with the previous period, counting everything the report counts, in en-GB, as PDF attached, sent automatically, held if data is missing, to nobody yet, with “Monthly overview: ‹period›”. Starts 1 Nov 2026, no end. Notified: nobody.',
    );
  });

  it('changes where its parts are chosen, and asks what that does', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Readers: nobody yet' }));
    fireEvent.click(await screen.findByRole('checkbox', { name: /Orla Fenwick/ }));
    fireEvent.click(screen.getByRole('button', { name: /^Period/ }));
    fireEvent.click(await screen.findByRole('radio', { name: 'the last 7 days' }));
    expect(screen.getByRole('button', { name: 'Readers: Orla Fenwick' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]).toMatchObject({ readers: [{ contact: 'co_1' }], period: { kind: 'rolling', days: 7 } });
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
    fireEvent.click(await screen.findByRole('radio', { name: 'send on the previous working day', hidden: true }));
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
    fireEvent.click(screen.getByRole('button', { name: 'Filter of the schedule: everything the report counts' }));
    // Nothing is laid out here, so that what floats counts as out of sight.
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Phones', hidden: true }));
    expect(screen.getByRole('button', { name: 'Filter of the schedule: only Phones' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]!.filter).toEqual([{ dimension: 'segment', how: 'only', values: ['sg_1'] }]);
  });

  it('waits for late figures as long as is chosen, and says until when; not where a person is asked', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Late figures: held if data is missing' }));
    fireEvent.click(await screen.findByRole('radio', { name: 'wait until 11:00', hidden: true }));
    expect(screen.getByRole('button', { name: 'Late figures: waiting 3 hours for late data' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]!.patience).toBe(3);
    fireEvent.click(screen.getByRole('button', { name: 'Approval: sent automatically' }));
    fireEvent.click(await screen.findByRole('radio', { name: 'require my approval', hidden: true }));
    expect(screen.queryByRole('button', { name: /^Late figures/ })).toBeNull();
  });

  it('asks a person first, or until a time that is not before its own; and nobody where nobody is to read', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Approval: sent automatically' }));
    fireEvent.click(await screen.findByRole('radio', { name: 'require my approval', hidden: true }));
    expect(screen.getByRole('button', { name: 'Approval: once I approve' })).toBeTruthy();
    fireEvent.change(await screen.findByLabelText('Approver'), { target: { value: 'me_2' } });
    fireEvent.click(screen.getByRole('radio', { name: 'ask for approval, then send anyway', hidden: true }));
    fireEvent.change(await screen.findByLabelText('Until'), { target: { value: '10:00' } });
    expect(
      screen.getByRole('button', { name: 'Approval: once Joren Vask approves, or at 10:00 at the latest' }),
    ).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Readers: nobody yet' }));
    fireEvent.click(await screen.findByRole('checkbox', { name: /archive only/, hidden: true }));
    expect(screen.getByRole('button', { name: 'Readers: the archive only' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]).toMatchObject({ signOff: { rule: 'until', until: '10:00', asks: 'me_2' }, archive: true });
  });

  it('reaches contacts, lists and members in their lines, but nobody who has left', async () => {
    show();
    fireEvent.click(screen.getByRole('button', { name: 'Readers: nobody yet' }));
    const tick = async (name: RegExp) => fireEvent.click(await screen.findByRole('checkbox', { name, hidden: true }));
    await tick(/Orla Fenwick/);
    await tick(/Board/);
    await tick(/Joren Vask/);
    const box = (name: RegExp) => screen.getByRole('checkbox', { name, hidden: true });
    expect(box(/Orla Fenwick/)).toHaveProperty('checked', true);
    expect(box(/Tobin Aske/)).toMatchObject({ checked: false, disabled: true });
    fireEvent.click(screen.getByRole('radio', { name: /one for all/, hidden: true }));
    fireEvent.change(await screen.findByLabelText('Line of Joren Vask'), { target: { value: 'bcc' } });
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]).toMatchObject({
      mailing: 'one',
      readers: [{ contact: 'co_1' }, { list: 'li_1' }, { member: 'me_2', as: 'bcc' }],
    });
  });

  it('says once what holds for every run; and leaves one out, moves it, or takes that back', async () => {
    show();
    expect(await screen.findAllByText('It is not noted that Orla wants reports.')).toHaveLength(1);
    const open = async () =>
      fireEvent.click(await screen.findByRole('button', { name: 'Change the run of 3 Nov 2026' }));
    await open();
    fireEvent.click(await screen.findByRole('button', { name: 'Skip this run', hidden: true }));
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[0]!.exceptions).toEqual({ '2026-11-03': { skipped: true } });
    await waitFor(() => expect(asked.at(-1)).toMatchObject({ exceptions: { '2026-11-03': { skipped: true } } }));
    await open();
    fireEvent.change(await screen.findByLabelText('Send on'), { target: { value: '2026-11-05' } });
    fireEvent.click(screen.getByRole('button', { name: 'Move it', hidden: true }));
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[1]!.exceptions).toEqual({ '2026-11-03': { moved: { date: '2026-11-05', time: '08:00' } } });
    await open();
    fireEvent.click(await screen.findByRole('button', { name: 'Reset to schedule', hidden: true }));
    fireEvent.click(screen.getByRole('button', { name: 'Start' }));
    expect(saved[2]!.exceptions).toEqual({});
  });

  it('shows a refusal where it belongs and keeps what was typed', () => {
    const { container } = show(
      new ApiError(422, 'Choose at least one reader.', { readers: 'Choose at least one reader.' }),
    );
    expect(screen.getByRole('alert').textContent).toBe('Choose at least one reader.');
    expect(container.querySelectorAll('.part.missing')).toHaveLength(1);
  });
});

describe('the email of a schedule', () => {
  const parts = () => saved.at(-1)!.mail.parts;
  const start = () => fireEvent.click(screen.getByRole('button', { name: 'Start' }));
  const add = async (name: RegExp) => {
    fireEvent.click(screen.getByRole('button', { name: 'Add a part' }));
    fireEvent.click(await screen.findByRole('menuitem', { name, hidden: true }));
  };

  it('gets parts, each with what it shows, in the order that is chosen', async () => {
    show();
    await add(/^Headline figures/);
    await add(/^Button/);
    const what = await screen.findByLabelText(/^What it shows: Headline figures/);
    await waitFor(() => expect(what.textContent).toContain('Month: Visits, Revenue'));
    // Figures are offered, charts are not.
    expect([...what.querySelectorAll('option')].map((o) => o.value)).toEqual(['', 'b1', 'b2']);
    fireEvent.change(what, { target: { value: 'b2' } });
    fireEvent.change(screen.getByLabelText('Label'), { target: { value: 'See it' } });
    fireEvent.change(screen.getByLabelText('Leads to'), { target: { value: 'https://www.example.com/a' } });
    fireEvent.click(screen.getByRole('button', { name: 'Up: Button, part 3 of 3' }));
    fireEvent.click(screen.getByRole('button', { name: 'Up: Button, part 2 of 3' }));
    start();
    expect(parts()).toEqual([
      { kind: 'button', label: 'See it', link: 'https://www.example.com/a' },
      { kind: 'message' },
      { kind: 'figures', block: 'b2' },
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Remove: Button, part 1 of 3' }));
    start();
    expect(parts().map((p) => p.kind)).toEqual(['message', 'figures']);
    // The message is no part that can be missing.
    expect(screen.queryByRole('button', { name: /^Remove: Message/ })).toBeNull();
  });

  it('is shown as a reader gets it: by day, by night, on a phone, in plain text; unfinished parts are left out', async () => {
    show();
    const frame = await screen.findByTitle('Email');
    expect(frame.getAttribute('srcdoc')).toBe('<p>Hello Orla</p>');
    expect(frame.getAttribute('sandbox')).not.toContain('scripts');
    expect(screen.getByText(/With data for October 2026/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Dark mode' }));
    await waitFor(() => expect(mails.at(-1)).toMatchObject({ scheme: 'dark' }));
    await add(/^Button/);
    fireEvent.change(screen.getByLabelText('Preview'), { target: { value: 'Up' } });
    await waitFor(() => expect(mails.at(-1)!.mail).toMatchObject({ preview: 'Up', parts: [{ kind: 'message' }] }));
    fireEvent.click(screen.getByRole('button', { name: 'Phone' }));
    expect(screen.getByTitle('Email').parentElement!.style.maxWidth).toBe('390px');
    fireEvent.click(screen.getByRole('button', { name: 'Plain text' }));
    expect(screen.getByText('Hello Orla, in plain text')).toBeTruthy();
  });

  it('says a refusal at the part that it is about', async () => {
    const fields = { 'mail.parts.0.text': 'There is no field {{x}}.', message: 'Say something.' };
    show(new ApiError(422, 'Not so.', fields), {
      ...initial,
      mail: { preview: '', parts: [{ kind: 'text', text: '{{x}}' }, { kind: 'message' }], files: [] },
    });
    expect(screen.getByText('There is no field {{x}}.')).toBeTruthy();
    expect(screen.getByText('Say something.')).toBeTruthy();
  });
});
