// @vitest-environment happy-dom
import type { AlmanacMark, ScheduleRow, WhoGets } from '@chronicon/core/contract';
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import type { ReactNode } from 'react';
import { createMemoryRouter, RouterProvider, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { SessionContext } from '../../shell/sessionContext.ts';
import { Ahead } from './Ahead.tsx';
import { AllSchedules } from './AllSchedules.tsx';
import { Almanac } from './Almanac.tsx';
import { dayOfMonth, daysAfter, daysBetween, weekdayLetter } from './days.ts';
import { Readers } from './Readers.tsx';
import { ZoneMoves } from './ZoneMoves.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const session = {
  member: { id: 'me_1', name: 'Ines Tallow', email: 'ines@fernglass.example', role: 'owner' as string },
  agency: 'Fernglass Media',
  zone: 'Europe/London',
  csrf: 'x',
  now: '2026-11-02T08:42:00.000Z',
  scheme: 'light',
  mustSetUpFactor: false,
  demo: null,
};

let answers: Record<string, unknown> = {};
let asked: { name: string; body: unknown }[] = [];
beforeEach(() => {
  session.member.role = 'owner';
  answers = {
    'GET /api/colleagues': [{ id: 'me_2', name: 'Joren Vask', role: 'manager' }],
    'GET /api/schedules/many': [],
  };
  asked = [];
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    const name = `${init.method} ${path}`;
    asked.push({ name, body: init.body ? JSON.parse(String(init.body)) : null });
    const known = Object.keys(answers).find((k) => k === name) ?? Object.keys(answers).find((k) => name.startsWith(k));
    const answer = known ? answers[known] : {};
    const told = typeof answer === 'function' ? answer() : answer;
    return new Response(JSON.stringify(told), { status: 200 });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const askedFor = (name: string) => asked.filter((a) => a.name.startsWith(name));

function Where() {
  const { pathname, search } = useLocation();
  return <output>{pathname + search}</output>;
}
function show(place: ReactNode, at = '/almanac') {
  const element = (
    <>
      {place}
      <Where />
    </>
  );
  const router = createMemoryRouter([{ path: '*', element }], { initialEntries: [at] });
  return render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <SessionContext value={session as never}>
          <RouterProvider router={router} />
        </SessionContext>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

const mark = (date: string, more: Partial<AlmanacMark> = {}): AlmanacMark => ({
  key: `sc_1-${date}`,
  scheduleId: 'sc_1',
  nominal: date,
  editionId: null,
  date,
  time: '08:00',
  at: `${date}T08:00:00.000Z`,
  clock: { date, time: '08:00' },
  title: 'Overview',
  state: 'planned',
  period: 'Oct 2026',
  readers: ['Orla Fenwick', 'Tobin Aske'],
  changed: false,
  movable: true,
  warnings: [],
  ...more,
});
const month = (marks: AlmanacMark[]) => ({
  from: '2026-11-02',
  to: '2026-12-06',
  today: '2026-11-02',
  free: ['2026-11-07', '2026-11-08'],
  clients: [
    { id: 'cl_1', name: 'Mosswick', colour: '#2f6b3a', zone: 'Europe/London', marks },
    { id: 'cl_2', name: 'Bare Hill', colour: '#333333', zone: 'Europe/London', marks: [] },
  ],
  total: 2,
  empty: 1,
  pageSize: 100,
});

describe('days', () => {
  it('are counted without clocks, over months and years', () => {
    expect(daysAfter('2026-12-31', 1)).toBe('2027-01-01');
    expect(daysAfter('2026-03-29', -1)).toBe('2026-03-28');
    expect(daysBetween('2026-10-24', '2026-10-26')).toBe(2);
    expect(daysBetween('2026-10-26', '2026-10-24')).toBe(-2);
    expect([weekdayLetter('2026-11-02'), dayOfMonth('2026-11-02')]).toEqual(['M', '2']);
  });
});

describe('the Almanac', () => {
  it('shows each run on its day, with its state in words, and who has nothing planned', async () => {
    answers['GET /api/almanac'] = month([
      mark('2026-11-03', { state: 'sent', movable: false }),
      mark('2026-12-03', { warnings: ['A holiday.'] }),
    ]);
    show(<Almanac />);
    const sent = await screen.findByRole('button', { name: 'Overview, Tuesday 3 November, 08:00: Sent' });
    expect(sent.title).toContain('covers Oct 2026\nto Orla Fenwick, Tobin Aske');
    expect(screen.getByRole('button', { name: /3 December, 08:00: Planned/ }).title).toContain('A holiday.');
    const bare = screen.getByRole('row', { name: /Bare Hill/ });
    expect(bare.className).toBe('bare');
    expect(within(bare).getByText('nothing planned')).toBeTruthy();
    expect(screen.getByText('Nothing planned: 1 client')).toBeTruthy();
  });

  it('moves a run from what opens on it, says what that does, and takes it back as it was', async () => {
    answers['GET /api/almanac'] = month([mark('2026-12-03')]);
    const covers = { from: '2026-10-01', to: '2026-10-15' };
    answers['GET /api/schedules/sc_1'] = { input: { exceptions: { '2026-12-03': { covers } } } };
    show(<Almanac />);
    fireEvent.click(await screen.findByRole('button', { name: /3 December/ }));
    fireEvent.change(await screen.findByLabelText('Move it to'), { target: { value: '2026-12-07' } });
    fireEvent.click(screen.getByRole('button', { name: 'Move', hidden: true }));
    await screen.findByText(/Overview of 3 Dec 2026 will run on 7 Dec 2026 at 08:00. It still covers Oct 2026./);
    const moved = { date: '2026-12-07', time: '08:00' };
    // What it covers is its own affair.
    expect(askedFor('PUT /api/schedules/sc_1/runs/2026-12-03')[0]!.body).toEqual({ covers, moved });
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(askedFor('PUT /api/schedules/sc_1/runs/2026-12-03')).toHaveLength(2));
    expect(askedFor('PUT /api/schedules/sc_1/runs/2026-12-03')[1]!.body).toEqual({ covers });
  });

  it('leaves a run out, and has one go as its rule says again', async () => {
    answers['GET /api/almanac'] = month([
      mark('2026-11-12', { state: 'skipped', movable: false, changed: true }),
      mark('2026-12-03'),
    ]);
    answers['GET /api/schedules/sc_1'] = { input: { exceptions: { '2026-11-12': { skipped: true } } } };
    show(<Almanac />);
    fireEvent.click(await screen.findByRole('button', { name: /3 December/ }));
    fireEvent.click(await screen.findByRole('button', { name: 'Skip this run', hidden: true }));
    await screen.findByText(/Overview of 3 Dec 2026 is skipped/);
    expect(askedFor('PUT /api/schedules/sc_1/runs/2026-12-03')[0]!.body).toEqual({ skipped: true });
    fireEvent.click(screen.getByRole('button', { name: /12 November/ }));
    fireEvent.click(await screen.findByRole('button', { name: 'Reset to schedule', hidden: true }));
    await screen.findByText(/follows its schedule/);
    expect(askedFor('PUT /api/schedules/sc_1/runs/2026-11-12')[0]!.body).toEqual({});
  });

  it('offers nothing of that to who may not, or for what has gone', async () => {
    session.member.role = 'reviewer';
    answers['GET /api/almanac'] = month([mark('2026-12-03')]);
    show(<Almanac />);
    fireEvent.click(await screen.findByRole('button', { name: /3 December/ }));
    await screen.findByText('View schedule');
    expect(screen.queryByLabelText('Move it to')).toBeNull();
    expect(screen.queryByText(/Drag a run/)).toBeNull();
  });

  it('goes on and back by weeks, by quarters, and to clients of which nothing is planned; all of it in the address', async () => {
    answers['GET /api/almanac'] = month([]);
    show(<Almanac />);
    await screen.findByText('Mosswick');
    const where = () => document.querySelector('output')!.textContent;
    fireEvent.click(screen.getByRole('button', { name: 'Later' }));
    await waitFor(() => expect(where()).toBe('/almanac?from=2026-11-30'));
    fireEvent.click(screen.getByRole('button', { name: 'A quarter' }));
    await waitFor(() => expect(where()).toContain('weeks=13'));
    fireEvent.click(screen.getByRole('checkbox', { name: /Nothing planned/ }));
    await waitFor(() => expect(where()).toContain('empty=yes'));
    await waitFor(() => expect(asked.at(-1)!.name).toMatch(/weeks=13.*empty=true|empty=true.*weeks=13/));
    fireEvent.click(screen.getByRole('button', { name: 'Today' }));
    await waitFor(() => expect(where()).not.toContain('from='));
  });
});

const row = (id: string, more: Partial<ScheduleRow> = {}): ScheduleRow => ({
  id,
  clientId: 'cl_1',
  clientName: 'Mosswick',
  colour: '#2f6b3a',
  reportId: 'rp_1',
  title: 'Overview',
  manager: 'Ines Tallow',
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  time: '08:00',
  zone: 'Europe/London',
  period: { kind: 'unit', unit: 'month', offset: -1 },
  signOff: { rule: 'first', asks: null },
  readers: ['Orla Fenwick', 'Tobin Aske', 'Sunniva Reed'],
  groups: 0,
  archive: false,
  state: 'runs',
  why: '',
  lastDate: null,
  endsSoon: false,
  last: null,
  next: '2026-11-03T08:00:00.000Z',
  editions: 0,
  ...more,
});

describe('all schedules', () => {
  beforeEach(() => {
    answers['GET /api/schedules'] = {
      schedules: [
        row('sc_1'),
        row('sc_2', { state: 'paused', why: 'until 1 December 2026', endsSoon: true, lastDate: '2026-12-01' }),
        row('sc_3', {
          readers: [],
          archive: true,
          last: { at: '2026-10-03T07:00:00.000Z', state: 'sent', editionId: 'ed_1' },
        }),
      ],
      all: ['sc_1', 'sc_2', 'sc_3', 'sc_4'],
      total: 4,
      pageSize: 3,
    };
    answers['GET /api/schedules/many'] = [];
  });

  it('say when, covering what, to whom, and how they stand', async () => {
    show(<AllSchedules />, '/almanac/schedules');
    expect(await screen.findAllByText('the 3rd of each month, 08:00')).toHaveLength(3);
    expect(screen.getAllByText('Orla Fenwick, Tobin Aske and 1 more')).toHaveLength(2);
    expect(screen.getByText('nobody: archive')).toBeTruthy();
    expect(screen.getByText('■ paused until 1 December 2026')).toBeTruthy();
    expect(screen.getByText('▲ ends 1 Dec 2026')).toBeTruthy();
    expect(screen.getAllByText('covers last month; asks first')).toHaveLength(3);
  });

  it('are chosen, on other pages, too; one thing is seen before it is done with all of them', async () => {
    const rows = [
      {
        id: 'sc_1',
        kind: 'schedule',
        clientId: 'cl_1',
        clientName: 'Mosswick',
        title: 'Overview',
        before: 'no end',
        after: '2027-12-31',
        problem: null,
      },
      {
        id: 'sc_2',
        kind: 'schedule',
        clientId: 'cl_1',
        clientName: 'Mosswick',
        title: 'Overview',
        before: '',
        after: '',
        problem: 'It cannot be.',
      },
    ];
    answers['POST /api/schedules/many'] = () => ({ seen: 'h1', done: null, rows, changes: 1, late: [], left: [] });
    show(<AllSchedules />, '/almanac/schedules');
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Choose all on this page' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Choose all 4' }));
    await screen.findByText('4 chosen');
    fireEvent.change(screen.getByLabelText('With 4 schedules'), { target: { value: 'extend' } });
    fireEvent.change(screen.getByLabelText('Last date (empty: no end)'), { target: { value: '2027-12-31' } });
    fireEvent.click(screen.getByRole('button', { name: 'See what changes' }));
    await screen.findByText(/1 place will change, 1 stays the same./);
    expect(screen.getByText('■ unchanged: It cannot be.')).toBeTruthy();
    const body = { schedules: ['sc_1', 'sc_2', 'sc_3', 'sc_4'], act: { do: 'extend', lastDate: '2027-12-31' } };
    expect(askedFor('POST /api/schedules/many').at(-1)!.body).toEqual(body);
    fireEvent.click(screen.getByRole('button', { name: 'Extend in 1 place' }));
    const bodies = () => askedFor('POST /api/schedules/many').map((a) => a.body);
    await waitFor(() => expect(bodies()).toContainEqual({ ...body, seen: 'h1' }));
    await waitFor(() => expect(screen.queryByText('4 chosen')).toBeNull());
  });

  it.each([
    ['pause', {}, { do: 'pause', resumesOn: null }],
    ['retime', { At: '07:30' }, { do: 'retime', time: '07:30', zone: null }],
    ['signOff', {}, { do: 'signOff', signOff: { rule: 'first', asks: null } }],
    ['drop', { 'Current reader: email address': 'a@b.example' }, { do: 'drop', from: 'a@b.example' }],
    ['end', {}, { do: 'end' }],
  ])('%s is asked for as it was typed', async (kind, typed, act) => {
    answers['POST /api/schedules/many'] = { seen: 'h', done: null, rows: [], changes: 0, late: [], left: [] };
    show(<AllSchedules />, '/almanac/schedules');
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Choose all on this page' }));
    fireEvent.change(await screen.findByLabelText('With 3 schedules'), { target: { value: kind } });
    for (const [label, value] of Object.entries(typed)) {
      fireEvent.change(await screen.findByLabelText(label), { target: { value } });
    }
    fireEvent.click(screen.getByRole('button', { name: 'See what changes' }));
    await waitFor(() => expect(askedFor('POST /api/schedules/many').at(-1)!.body).toMatchObject({ act }));
    await screen.findByText('No changes.');
  });

  it('asks for a whole address before somebody is added', async () => {
    show(<AllSchedules />, '/almanac/schedules');
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Choose all on this page' }));
    fireEvent.change(await screen.findByLabelText('With 3 schedules'), { target: { value: 'add' } });
    const press = screen.getByRole('button', { name: 'See what changes' });
    expect(press).toHaveProperty('disabled', true);
    fireEvent.change(screen.getByLabelText('First name'), { target: { value: 'Bram' } });
    fireEvent.change(screen.getByLabelText('Email address'), { target: { value: 'bram@holding.example' } });
    expect(press).toHaveProperty('disabled', false);
    fireEvent.change(screen.getByLabelText('Who'), { target: { value: 'me_2' } });
    expect(screen.queryByLabelText('First name')).toBeNull();
    expect(press).toHaveProperty('disabled', false);
  });

  it('tell what was done lately, and undo it, naming what was left as it is', async () => {
    answers['GET /api/schedules/many'] = [
      {
        id: 'ba_1',
        at: '2026-11-02T08:00:00.000Z',
        who: 'Ines Tallow',
        what: 'Paused in 3 places',
        count: 3,
        undone: false,
      },
      {
        id: 'ba_2',
        at: '2026-11-02T07:00:00.000Z',
        who: 'Ines Tallow',
        what: 'Ended in 1 place',
        count: 1,
        undone: true,
      },
    ];
    answers['POST /api/schedules/many/ba_1/undo'] = { undone: 2, kept: ['“Overview” of Mosswick'] };
    show(<AllSchedules />, '/almanac/schedules');
    fireEvent.click(await screen.findByRole('button', { name: 'Undo: Paused in 3 places' }));
    await screen.findByText(/Undone in 2 places. Not undone because it changed since: “Overview” of Mosswick./);
    expect(screen.queryByRole('button', { name: 'Undo: Ended in 1 place' })).toBeNull();
  });

  it('offer no act to a reviewer', async () => {
    session.member.role = 'reviewer';
    show(<AllSchedules />, '/almanac/schedules');
    await screen.findAllByText('the 3rd of each month, 08:00');
    expect(screen.queryByRole('checkbox', { name: /Choose/ })).toBeNull();
  });
});

const person = (key: string, name: string, more: Partial<WhoGets> = {}): WhoGets => ({
  key,
  name,
  email: key,
  member: false,
  stopped: null,
  gets: [
    {
      scheduleId: 'sc_1',
      clientId: 'cl_1',
      clientName: 'Mosswick',
      title: 'Overview',
      rule: { freq: 'monthly', every: 1, on: { day: 3 } },
      active: true,
      group: null,
      list: null,
      line: 'to',
    },
  ],
  ...more,
});

describe('who gets what', () => {
  beforeEach(() => {
    const orla = person('orla@mosswick.example', 'Orla Fenwick');
    const way = { ...orla.gets[0]!, group: 'Riverside', list: 'Board', line: 'cc' as const, active: false };
    answers['GET /api/who-gets-what'] = {
      people: [orla, person('tobin@mosswick.example', 'Tobin Aske', { stopped: 'left.', gets: [way] })],
      total: 2,
      pageSize: 50,
    };
  });

  it('says by which way; as a matrix where it is of one client', async () => {
    show(<Readers />, '/almanac/readers?client=cl_1');
    await screen.findByText(/Mosswick, the 3rd of each month \(Riverside, by the list Board, Cc\) · paused/);
    const cells = [...document.querySelectorAll('table.matrix tbody tr')].map((r) => r.textContent);
    expect(cells).toEqual([
      'Orla Fenwickorla@mosswick.example● receives it',
      'Tobin Asketobin@mosswick.example■ stoppedby Board',
    ]);
  });

  it('replaces a person everywhere: seen first, marked as having left, in one act', async () => {
    answers['POST /api/schedules/many'] = { seen: 'h', done: null, rows: [], changes: 2, late: [], left: [] };
    show(<Readers />, '/almanac/readers');
    fireEvent.click(await screen.findByRole('button', { name: 'Replace Orla Fenwick' }));
    await screen.findByText('Orla Fenwick in 1 place');
    fireEvent.change(screen.getByLabelText('First name'), { target: { value: 'Bram' } });
    fireEvent.change(screen.getByLabelText('Email address'), { target: { value: 'bram@mosswick.example' } });
    fireEvent.click(screen.getByRole('button', { name: /Replace everywhere/ }));
    fireEvent.click(await screen.findByRole('button', { name: 'Replace in 2 places' }));
    const who = { email: 'bram@mosswick.example', firstName: 'Bram', lastName: '' };
    const act = { do: 'replace', from: 'orla@mosswick.example', who, left: true, outside: false };
    const bodies = () => askedFor('POST /api/schedules/many').map((a) => a.body);
    await waitFor(() => expect(bodies()).toContainEqual({ schedules: null, act, seen: 'h' }));
  });
});

describe('the look ahead', () => {
  it('lists a span with what to look at, as CSV, too; and makes a calendar address that is shown once', async () => {
    answers['GET /api/look-ahead'] = {
      rows: [
        {
          at: '2026-11-03T08:00:00.000Z',
          date: '2026-11-03',
          time: '08:00',
          zone: 'Europe/London',
          clientId: 'cl_1',
          clientName: 'Mosswick',
          title: 'Overview',
          period: 'October 2026',
          compared: 'September 2026',
          readers: [],
          warnings: ['Nobody reads it.'],
        },
      ],
      total: 1,
      pageSize: 200,
    };
    answers['GET /api/calendar-link'] = () => ({
      since: askedFor('POST /api/calendar-link').length > 0 ? session.now : null,
    });
    answers['POST /api/calendar-link'] = { url: 'https://chronicon.example/api/calendar/abc.ics' };
    show(<Ahead />, '/almanac/ahead?client=cl_1');
    await screen.findByText('1 run, 1 to check');
    const file = screen.getByRole('link', { name: 'As CSV' }).getAttribute('href');
    expect(file).toBe('/api/look-ahead/table?client=cl_1&from=2026-11-02&to=2026-12-02');
    fireEvent.click(screen.getByRole('button', { name: 'Create link' }));
    expect(await screen.findByDisplayValue('https://chronicon.example/api/calendar/abc.ics')).toBeTruthy();
    expect(await screen.findByRole('button', { name: 'Delete link' })).toBeTruthy();
  });
});

describe('other rules of time zones', () => {
  it('are shown run by run before they count, and agreed to once', async () => {
    answers['GET /api/zone-moves'] = () =>
      askedFor('POST /api/zone-moves/agree').length > 0
        ? { moves: [], total: 0 }
        : {
            moves: [
              {
                scheduleId: 'sc_1',
                clientName: 'Mosswick',
                title: 'Overview',
                zone: 'Europe/London',
                was: { at: 'x', date: '2026-11-03', time: '07:00' },
                becomes: { at: 'y', date: '2026-11-03', time: '08:00' },
              },
            ],
            total: 3,
          };
    answers['POST /api/zone-moves/agree'] = { runs: 1 };
    show(<ZoneMoves />, '/almanac/zones');
    await screen.findByText(/Tue 3 Nov 2026, 07:00/);
    expect(screen.getByText('And 2 more.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Move 3 runs to their scheduled time' }));
    await screen.findByText('No run is moved.');
  });
});
