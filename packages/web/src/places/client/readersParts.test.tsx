// @vitest-environment happy-dom
import type { Client, Schedule } from '@chronicon/core/contract';
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { type ReactNode, useState } from 'react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError } from '../../api/call.ts';
import { GroupsPart } from '../schedule/GroupsPart.tsx';
import { SeriesPart } from '../schedule/SeriesPart.tsx';
import { Standing } from '../schedule/Standing.tsx';
import { Contacts } from './Contacts.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

let answers: Record<string, { status?: number; body: unknown }> = {};
let asked: { name: string; body: unknown }[] = [];
beforeEach(() => {
  // Fields that grow with their text wait for typefaces, which are not loaded here.
  const fonts = { addEventListener: () => {}, removeEventListener: () => {} };
  Object.defineProperty(document, 'fonts', { value: fonts, configurable: true });
  answers = {};
  asked = [];
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    const name = `${init.method} ${path}`;
    const body = init.body ? JSON.parse(String(init.body)) : null;
    asked.push({ name, body });
    const keys = Object.keys(answers).filter((k) => name.startsWith(k));
    // The longest says most.
    const key = keys.sort((a, b) => b.length - a.length)[0];
    const { status = 200, body: told = {} } = (key && answers[key]) || {};
    return new Response(JSON.stringify(told), { status });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const bodies = (name: string) => asked.filter((a) => a.name.startsWith(name)).map((a) => a.body);

function show(place: ReactNode) {
  const router = createMemoryRouter([{ path: '*', element: place }], { initialEntries: ['/'] });
  return render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </MantineProvider>,
  );
}

const noted = { role: '', language: '', phone: '', notes: '', mailLine: 'to', standing: 'reads', approved: '' };
const client = {
  id: 'cl_1',
  name: 'Mosswick',
  contacts: [
    {
      ...noted,
      id: 'co_1',
      firstName: 'Orla',
      lastName: 'Fenwick',
      email: 'orla@mosswick.example',
      consent: { on: '2026-01-05', by: 'By mail' },
      stopped: null,
    },
    {
      ...noted,
      id: 'co_2',
      firstName: 'Tobin',
      lastName: 'Aske',
      email: 'tobin@mosswick.example',
      consent: null,
      standing: 'left',
      stopped: 'Tobin Aske is marked as having left.',
    },
  ],
  lists: [{ id: 'li_1', name: 'Board', contacts: ['co_1'] }],
} as unknown as Client;

describe('contacts', () => {
  it('say who wants reports, who may not be written to, and why', () => {
    show(<Contacts client={client} />);
    expect(screen.getByText(/since 5 Jan 2026/)).toBeTruthy();
    expect(screen.getByText('none')).toBeTruthy();
    expect(screen.getByText('■ Tobin Aske is marked as having left.')).toBeTruthy();
  });

  it('ask about an address elsewhere, and send the answer with what was typed', async () => {
    const fields = { outside: 'nils@elsewhere.example is not at mosswick.example. Is it right?' };
    answers['POST /api/clients/cl_1/contacts'] = { status: 422, body: { message: fields.outside, fields } };
    show(<Contacts client={client} />);
    const fill = (label: string, value: string) =>
      fireEvent.change(screen.getByLabelText(label), { target: { value } });
    fill('First name', 'Nils');
    fill('Email address', 'nils@elsewhere.example');
    fill('Consent given on', '2026-11-01');
    fill('Consent source', 'On the phone');
    fill('In group emails', 'bcc');
    fireEvent.click(screen.getByRole('button', { name: 'Add contact' }));
    await screen.findByText(fields.outside);
    answers['POST /api/clients/cl_1/contacts'] = { body: {} };
    fireEvent.click(screen.getByRole('button', { name: 'Allow everyone at elsewhere.example' }));
    await waitFor(() => expect(bodies('POST /api/clients/cl_1/contacts')).toHaveLength(2));
    expect(bodies('POST /api/clients/cl_1/contacts')[1]).toMatchObject({
      firstName: 'Nils',
      email: 'nils@elsewhere.example',
      consent: { on: '2026-11-01', by: 'On the phone' },
      mailLine: 'bcc',
      outside: 'domain',
    });
  });

  it('stand on lists, which are changed and refused at the field', async () => {
    answers['PUT /api/clients/cl_1/lists/li_1'] = {
      status: 422,
      body: { message: 'Taken.', fields: { name: 'A list with this name already exists.' } },
    };
    show(<Contacts client={client} />);
    fireEvent.click(screen.getByRole('button', { name: 'Change the list Board' }));
    fireEvent.change(screen.getByLabelText('List name'), { target: { value: 'Board and press' } });
    fireEvent.click(screen.getByRole('checkbox', { name: 'Tobin Aske' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save list' }));
    await screen.findByText('A list with this name already exists.');
    expect(bodies('PUT /api/clients/cl_1/lists/li_1')[0]).toEqual({
      name: 'Board and press',
      contacts: ['co_1', 'co_2'],
    });
  });
});

describe('groups of readers', () => {
  const DIMENSIONS = [
    { key: 'channel', label: 'Channel' },
    { key: 'location', label: 'Location' },
  ];
  type Groups = Parameters<typeof GroupsPart>[0]['groups'];
  let now: Groups = null;
  function Place({ start = null, error = null }: { start?: Groups; error?: ApiError | null }) {
    const [groups, setGroups] = useState<Groups>(start);
    now = groups;
    return (
      <GroupsPart
        client={client}
        colleagues={[]}
        dimensions={DIMENSIONS}
        groups={groups}
        error={error}
        onChange={setGroups}
      />
    );
  }
  const group = (id: string, value: string) => ({ id, value, filter: [], readers: [], fileName: '', greeting: '' });

  it('begin with the values of the data, each with readers of its own; who has left is not offered', async () => {
    answers['GET /api/clients/cl_1/labels'] = { body: { labels: ['Riverside', 'Old Mill', ''], more: false } };
    show(<Place />);
    const choice = screen.getByLabelText('Split by value');
    // What people have readers by comes first.
    expect([...choice.querySelectorAll('option')].map((o) => o.textContent)).toEqual([
      'one edition for all readers',
      'one for each location',
      'one for each channel',
    ]);
    fireEvent.change(choice, { target: { value: 'location' } });
    expect(await screen.findAllByText('nobody yet')).toHaveLength(2);
    fireEvent.click(screen.getByRole('checkbox', { name: 'Orla Fenwick gets Riverside' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Board gets Old Mill' }));
    expect(screen.queryByRole('checkbox', { name: /Tobin/ })).toBeNull();
    expect(now).toMatchObject({
      by: 'location',
      groups: [
        { value: 'Riverside', readers: [{ contact: 'co_1' }] },
        { value: 'Old Mill', readers: [{ list: 'li_1' }] },
      ],
    });
    expect(new Set(now!.groups.map((g) => g.id)).size).toBe(2);
  });

  it('say what is new in the data, and take it in or leave it out for good', async () => {
    answers['GET /api/clients/cl_1/labels'] = {
      body: { labels: ['Riverside', 'Old Mill', 'North Yard'], more: false },
    };
    show(<Place start={{ by: 'location', groups: [group('g1', 'Riverside')], without: [] }} />);
    expect(await screen.findByText('Old Mill')).toBeTruthy();
    fireEvent.click(screen.getAllByRole('button', { name: 'Add group' })[0]!);
    fireEvent.click(screen.getByRole('button', { name: 'None' }));
    expect(now!.groups.map((g) => g.value)).toEqual(['Riverside', 'Old Mill']);
    expect(now!.without).toEqual(['North Yard']);
    fireEvent.click(screen.getByRole('button', { name: 'Exclude Riverside' }));
    expect(now!.groups.map((g) => g.value)).toEqual(['Old Mill']);
    fireEvent.click(screen.getByRole('button', { name: 'Riverside' }));
    expect(now!.groups.map((g) => g.value)).toEqual(['Old Mill', 'Riverside']);
  });

  it('have a greeting and a file of their own, and come out of a file', async () => {
    answers['GET /api/clients/cl_1/labels'] = { body: { labels: ['Riverside'], more: false } };
    const taken = { ...group('gx', 'Riverside'), readers: [{ contact: 'co_1' }], greeting: '' };
    answers['GET /api/clients/cl_1/segments'] = { body: [] };
    answers['POST /api/clients/cl_1/groups'] = {
      body: { groups: [taken, group('gy', 'North Yard')], problems: [{ line: 3, text: 'Value missing.' }] },
    };
    show(<Place start={{ by: 'location', groups: [group('g1', 'Riverside')], without: ['North Yard'] }} />);
    fireEvent.click(screen.getByRole('button', { name: 'same as the others: greeting, file and filter of Riverside' }));
    fireEvent.change(await screen.findByLabelText('Greeting'), { target: { value: 'Dear all,' } });
    fireEvent.change(screen.getByLabelText('Rows'), {
      target: { value: 'value,email\nRiverside,orla@mosswick.example' },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Use these rows', hidden: true }));
    await screen.findByText('Row 3: Value missing.');
    // The group that is there stays the one it is.
    expect(now).toMatchObject({
      without: [],
      groups: [
        { id: 'g1', value: 'Riverside', readers: [{ contact: 'co_1' }], greeting: 'Dear all,' },
        { id: 'gy', value: 'North Yard' },
      ],
    });
  });

  it('show a refusal at the group and at the dimension that it is about', () => {
    const error = new ApiError(422, 'No.', {
      'groups.by': 'No feed knows it.',
      'groups.groups.0.readers': 'Too many.',
    });
    show(<Place start={{ by: 'location', groups: [group('g1', 'Riverside')], without: [] }} error={error} />);
    expect(screen.getByText('No feed knows it.')).toBeTruthy();
    expect(screen.getByText('Too many.')).toBeTruthy();
  });
});

const schedule = (more: Partial<Schedule> = {}): Schedule =>
  ({
    id: 'sc_1',
    clientId: 'cl_1',
    reportTitle: 'Overview',
    active: true,
    ended: null,
    stopped: null,
    resumesOn: null,
    endsSoon: null,
    input: { lastDate: null, time: '08:00' },
    ...more,
  }) as Schedule;

describe('how a schedule stands', () => {
  it('is paused until a day, or let go on', async () => {
    answers['PUT /api/schedules/sc_1/active'] = {
      status: 422,
      body: { message: 'No.', fields: { resumesOn: 'Choose a future date.' } },
    };
    show(<Standing schedule={schedule()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Pause' }));
    fireEvent.change(await screen.findByLabelText('Resume automatically on'), { target: { value: '2026-12-01' } });
    fireEvent.click(screen.getByRole('button', { name: 'Pause until 1 Dec 2026', hidden: true }));
    await screen.findByText('Choose a future date.');
    expect(bodies('PUT /api/schedules/sc_1/active')[0]).toEqual({ active: false, resumesOn: '2026-12-01' });
    cleanup();
    show(<Standing schedule={schedule({ active: false, resumesOn: '2026-12-01' })} />);
    expect(screen.getByText('■ Paused. Resumes on 1 Dec 2026.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Resume' }));
    await waitFor(() => expect(bodies('PUT /api/schedules/sc_1/active').at(-1)).toEqual({ active: true }));
  });

  it.each([
    ['2026-12-31', '2027-12-31', '31 Dec 2027'],
    ['2028-02-29', '2029-02-28', '28 Feb 2029'],
  ])('ends soon, on %s, and is extended by a year in one press', async (lastDate, next, said) => {
    const input = { ...schedule().input, lastDate };
    show(<Standing schedule={schedule({ endsSoon: lastDate, input })} />);
    fireEvent.click(screen.getByRole('button', { name: `Extend by a year, to ${said}` }));
    await waitFor(() => expect(bodies('PUT /api/schedules/sc_1')).toEqual([{ ...input, lastDate: next }]));
  });

  it('is made for the last period at a press; one that was ended offers nothing', async () => {
    answers['POST /api/schedules/sc_1/make'] = { body: { editionId: 'ed_1' } };
    show(<Standing schedule={schedule()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Create one for the last period' }));
    await waitFor(() => expect(bodies('POST /api/schedules/sc_1/make')).toEqual([{ of: 'last' }]));
    cleanup();
    const { container } = show(<Standing schedule={schedule({ ended: 'It was ended.' })} />);
    expect(container.querySelector('button')).toBeNull();
  });
});

describe('the same for each client of a tag', () => {
  it('is scheduled for those whose readers are chosen; what could not be is said', async () => {
    const other = {
      id: 'cl_2',
      name: 'Bare Hill',
      report: { id: 'rp_2', title: 'Overview' },
      schedule: null,
      contacts: [
        { id: 'co_9', name: 'Mara Holt', stopped: null },
        { id: 'co_8', name: 'Uwe Kell', stopped: 'Uwe Kell is marked as having left.' },
      ],
    };
    const clients = [
      other,
      { ...other, id: 'cl_3', name: 'Windle', report: null },
      { ...other, id: 'cl_4', name: 'Skerry', schedule: 'sc_9' },
    ];
    answers['GET /api/schedules/sc_1/series'] = { body: { tags: ['Crafts', 'Ferries'], tag: 'Crafts', clients } };
    answers['POST /api/schedules/sc_1/series'] = {
      body: { made: 1, problems: [{ client: 'Windle', text: 'No report.' }] },
    };
    show(<SeriesPart schedule={schedule()} />);
    const summary = screen.getByText('Repeat for all clients with a tag');
    const details = summary.closest('details')!;
    details.open = true;
    fireEvent(details, new Event('toggle'));
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Mara Holt' }));
    expect(screen.getByRole('checkbox', { name: 'Uwe Kell' })).toHaveProperty('disabled', true);
    expect(screen.getByText('no matching report')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'is scheduled' })).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Greeting for Bare Hill'), { target: { value: 'Dear Mara,' } });
    // Of another tag that is looked at, nothing is chosen: what is out of sight is not scheduled.
    answers['GET /api/schedules/sc_1/series?tag=Ferries'] = {
      body: { tags: ['Crafts', 'Ferries'], tag: 'Ferries', clients: [{ ...other, id: 'cl_5', name: 'Quay' }] },
    };
    fireEvent.change(screen.getByLabelText('Clients with the tag'), { target: { value: 'Ferries' } });
    expect(await screen.findByText('Quay')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Schedule it for 0 clients' })).toHaveProperty('disabled', true);
    fireEvent.change(screen.getByLabelText('Clients with the tag'), { target: { value: 'Crafts' } });
    await screen.findByText('Bare Hill');
    fireEvent.click(screen.getByRole('button', { name: 'Schedule it for 1 client' }));
    await screen.findByText('Windle: No report.');
    expect(bodies('POST /api/schedules/sc_1/series')).toEqual([
      { tag: 'Crafts', clients: [{ client: 'cl_2', readers: [{ contact: 'co_9' }], greeting: 'Dear Mara,' }] },
    ]);
  });
});
