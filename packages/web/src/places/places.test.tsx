// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { createMemoryRouter, RouterProvider, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useChanges } from '../api/hooks.ts';
import { SessionContext } from '../shell/sessionContext.ts';
import { Archive } from './archive/Archive.tsx';
import { Clients } from './clients/Clients.tsx';
import { Desk } from './desk/Desk.tsx';
import { SignIn } from './signIn/SignIn.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const session = {
  member: { id: 'me_1', name: 'Ines Tallow', email: 'ines@fernglass.example', role: 'owner' },
  agency: 'Fernglass Media',
  zone: 'Europe/London',
  csrf: 'x',
  now: '2026-11-02T08:42:00.000Z',
  scheme: 'light',
  mustSetUpFactor: false,
  demo: null,
} as const;

/** What the server would answer, by method and path; what was asked of it. */
let answers: Record<string, unknown> = {};
let asked: { name: string; body: unknown }[] = [];

beforeEach(() => {
  answers = {};
  asked = [];
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    const name = `${init.method} ${path}`;
    asked.push({ name, body: init.body ? JSON.parse(String(init.body)) : null });
    const answer = answers[name] as { status?: number; body?: unknown } | undefined;
    const status = answer?.status ?? 200;
    return new Response(JSON.stringify(answer && 'body' in answer ? answer.body : answer), { status });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function Where() {
  const { pathname, search } = useLocation();
  return <output>{pathname + search}</output>;
}

function show(place: ReactNode, at = '/') {
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
        <SessionContext value={session}>
          <RouterProvider router={router} />
        </SessionContext>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

describe('the Desk', () => {
  const line = (at: string, time: string, state: string) => ({
    key: at,
    editionId: `ed_${time}`,
    scheduleId: 'sc_1',
    clientId: 'cl_1',
    clientName: 'Mosswick',
    colour: '#2f6b3a',
    title: 'Overview',
    at,
    local: { date: '2026-11-02', time },
    there: time === '09:00' ? '10:00 Berlin time' : null,
    periodLabel: 'October 2026',
    readers: 2,
    state,
  });
  const need = (key: string, title: string) => ({
    key,
    tone: 'wrong',
    title,
    reason: 'Because.',
    deadline: null,
    editions: [],
    missed: false,
    action: { label: `See ${key}`, to: `/archive?edition=${key}` },
  });

  beforeEach(() => {
    answers['GET /api/desk'] = {
      now: '2026-11-02T08:42:00.000Z',
      zone: 'Europe/London',
      today: '2026-11-02',
      time: '08:42',
      days: [
        { date: '2026-11-01', lines: [], more: 0 },
        {
          date: '2026-11-02',
          lines: [
            line('2026-11-02T07:30:00.000Z', '07:30', 'held'),
            line('2026-11-02T09:00:00.000Z', '09:00', 'planned'),
          ],
          more: 0,
        },
      ],
      needs: [need('ed_1', 'First is held'), need('ed_2', 'Second is held')],
      moreNeeds: 0,
    };
  });

  it('takes the words that are missed where it says so, lets them out, and opens the next ones', async () => {
    const write = (block: string) => ({ report: 'rp_1', block, from: '2026-10-01', to: '2026-10-31', draft: '' });
    const desk = answers['GET /api/desk'] as { needs: object[] };
    const [one, two] = [need('w1', 'Mosswick: commentary'), need('w2', 'Quillon: commentary')];
    desk.needs = [
      { ...one, write: write('bl_1'), action: { label: 'Write', to: '/reports/rp_1' } },
      { ...two, write: write('bl_2'), action: { label: 'Write', to: '/reports/rp_1' } },
    ];
    answers['PUT /api/reports/rp_1/commentary'] = { over: null };
    show(<Desk />);
    fireEvent.click((await screen.findAllByRole('button', { name: 'Write' }))[0]!);
    const text = await screen.findByRole('textbox', { name: 'Commentary: Mosswick: commentary' });
    fireEvent.change(text, { target: { value: 'A good month.' } });
    desk.needs = [desk.needs[1]!];
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByRole('textbox', { name: 'Commentary: Quillon: commentary' })).toBeTruthy();
    expect(asked.find((a) => a.name.startsWith('PUT'))?.body).toMatchObject({
      block: 'bl_1',
      text: 'A good month.',
      release: true,
    });
  });

  it('puts what is done above the present time and what is to come below it', async () => {
    show(<Desk />);
    const day = await screen.findByRole('region', { name: 'Monday 2 November' });
    expect(day.textContent).toMatch(/07:30.*On hold.*08:42.*09:00.*Planned/);
    expect(screen.getByRole('region', { name: 'Sunday 1 November' }).textContent).toContain('Nothing scheduled.');
    expect(screen.getByText('2 editions today · 0 sent · 1 on hold · London time')).toBeTruthy();
  });

  it('says how many more there are where a day or the list of needs is very long', async () => {
    const desk = answers['GET /api/desk'] as { days: { more: number }[]; moreNeeds: number };
    desk.days[1]!.more = 340;
    desk.moreNeeds = 12;
    show(<Desk />);
    const more = await screen.findByRole('link', { name: 'and 340 more' });
    expect(more.getAttribute('href')).toBe('/archive');
    expect(screen.getByText(/^342 editions today/)).toBeTruthy();
    expect(screen.getByText(/^14 ·/)).toBeTruthy();
  });

  it('is asked for again when the server says that something has changed, and only then', async () => {
    function Live() {
      useChanges();
      return <Desk />;
    }
    answers['GET /api/changes'] = { mark: '1' };
    vi.useFakeTimers({ shouldAdvanceTime: true });
    try {
      show(<Live />);
      await screen.findByText('First is held');
      const times = () => asked.filter((a) => a.name === 'GET /api/desk').length;
      const marks = () => asked.filter((a) => a.name === 'GET /api/changes').length;
      await vi.advanceTimersByTimeAsync(20_000);
      await waitFor(() => expect(marks()).toBeGreaterThan(3));
      expect(times()).toBe(1);
      answers['GET /api/desk'] = { ...(answers['GET /api/desk'] as object), needs: [need('ed_3', 'Third is held')] };
      answers['GET /api/changes'] = { mark: '2' };
      await vi.advanceTimersByTimeAsync(5_000);
      await screen.findByText('Third is held');
      expect(times()).toBe(2);
    } finally {
      vi.useRealTimers();
    }
  });

  it('can be worked through by keyboard', async () => {
    show(<Desk />);
    await screen.findByText('First is held');
    fireEvent.keyDown(document.documentElement, { key: 'j', code: 'KeyJ' });
    fireEvent.keyDown(document.documentElement, { key: 'j', code: 'KeyJ' });
    fireEvent.keyDown(document.documentElement, { key: 'Enter', code: 'Enter' });
    await waitFor(() => expect(document.querySelector('output')!.textContent).toBe('/archive?edition=ed_2'));
  });
});

describe('the list of clients', () => {
  const client = (name: string, feeds: object) => ({
    id: name,
    name,
    colour: '#2f6b3a',
    manager: 'Ines Tallow',
    tags: [],
    inactiveSince: null,
    next: null,
    feeds,
    schedules: 0,
    lastSent: null,
  });

  it('says of each whether its data is good, and finds by name through the address', async () => {
    const mosswick = client('Mosswick', { count: 1, troubled: 0, coveredThrough: '2026-11-01' });
    answers['GET /api/clients'] = {
      clients: [
        mosswick,
        client('Skerrybound', { count: 2, troubled: 1, coveredThrough: '2026-10-31' }),
        client('Tarnbeck', { count: 0, troubled: 0, coveredThrough: null }),
      ],
      total: 120,
      pageSize: 50,
    };
    answers['GET /api/clients?text=moss'] = { clients: [mosswick], total: 1, pageSize: 50 };
    answers['GET /api/clients?page=3'] = { clients: [client('Zennor', mosswick.feeds)], total: 120, pageSize: 50 };
    show(<Clients />);
    const row = async (name: string) => (await screen.findByText(name)).closest('tr')!.textContent;
    expect(await row('Mosswick')).toContain('● up to 1 Nov 2026');
    expect(await row('Skerrybound')).toContain('■ 1 feed with errors');
    expect(await row('Tarnbeck')).toMatch(/no feed yet.*nothing planned/);
    fireEvent.click(screen.getByRole('button', { name: 'Page 3' }));
    await screen.findByText('Zennor');
    // What is looked for is looked for from the first page on.
    fireEvent.change(screen.getByLabelText('Find a client'), { target: { value: 'moss' } });
    await waitFor(() => expect(screen.queryByText('Zennor')).toBeNull());
    expect(await row('Mosswick')).toContain('up to');
    expect(document.querySelector('output')!.textContent).toBe('/?text=moss');
  });
});

describe('the archive', () => {
  const edition = {
    id: 'ed_1',
    number: 7,
    clientId: 'cl_1',
    clientName: 'Oatmere',
    colour: '#a8452f',
    title: 'Shop month',
    kind: 'scheduled',
    period: { from: '2026-10-01', to: '2026-10-31', label: 'October 2026' },
    compared: null,
    state: 'part-sent',
    reason: 'Refused for l.harrow@oatmere.example (550).',
    dueAt: '2026-11-02T08:00:00.000Z',
    sentAt: null,
    goesIn: null,
    local: { date: '2026-11-02', time: '08:00' },
    hasPdf: true,
    zone: 'Europe/London',
    lookedAt: null,
    may: { send: false, retry: true, skip: false, takeUp: false },
    readers: ['Niamh Corrigan', 'Lorcan Harrow'],
    deliveries: [
      {
        email: 'niamh@oatmere.example',
        name: 'Niamh Corrigan',
        state: 'accepted',
        tries: 1,
        reply: '250 OK',
        nextTry: null,
      },
      {
        email: 'l.harrow@oatmere.example',
        name: 'Lorcan Harrow',
        state: 'refused',
        tries: 1,
        reply: '550 unavailable',
        nextTry: null,
      },
    ],
  };

  it('opens an edition from the address, tells who has it and who not, and takes it up again', async () => {
    answers['GET /api/editions'] = { editions: [edition], total: 1, pageSize: 25 };
    answers['GET /api/editions/ed_1'] = edition;
    answers['POST /api/editions/ed_1/retry'] = { done: true };
    show(<Archive />, '/archive?edition=ed_1');
    expect((await screen.findByRole('alert')).textContent).toContain('Refused for l.harrow');
    expect(screen.getByText(/550 unavailable/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Open PDF' }).getAttribute('href')).toBe('/api/editions/ed_1/pdf?show=1');
    expect(screen.queryByRole('button', { name: 'Skip this edition' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Retry failed deliveries' }));
    await waitFor(() => expect(asked.some((a) => a.name === 'POST /api/editions/ed_1/retry')).toBe(true));
  });

  it('says what the place is for when nothing is found', async () => {
    answers['GET /api/editions'] = { editions: [], total: 0, pageSize: 25 };
    show(<Archive />, '/archive');
    expect(await screen.findByText(/No matching editions/)).toBeTruthy();
  });
});

describe('the sign-in page', () => {
  it('offers nobody where it is no demo, says what was refused and keeps what was typed', async () => {
    answers['GET /api/sign-in'] = { agency: 'Fernglass Media', demo: null };
    answers['POST /api/session'] = { status: 401, body: { message: 'Wrong email or password.' } };
    show(<SignIn onSignedIn={() => {}} />);
    expect(await screen.findByText('Fernglass Media')).toBeTruthy();
    expect(screen.queryByText(/demonstration/)).toBeNull();
    fireEvent.change(screen.getByLabelText(/Email address/), { target: { value: 'ines@fernglass.example' } });
    fireEvent.change(screen.getByLabelText(/^Password/), { target: { value: 'wrong' } });
    fireEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Wrong email or password.');
    expect((screen.getByLabelText(/Email address/) as HTMLInputElement).value).toBe('ines@fernglass.example');
    expect(asked.find((a) => a.name === 'POST /api/session')!.body).toEqual({
      code: '',
      email: 'ines@fernglass.example',
      password: 'wrong',
    });
  });

  it('tells when the server cannot be reached', async () => {
    vi.stubGlobal('fetch', async () => Promise.reject(new TypeError('failed')));
    show(<SignIn onSignedIn={() => {}} />);
    fireEvent.change(screen.getByLabelText(/Email address/), { target: { value: 'a@b.example' } });
    fireEvent.change(screen.getByLabelText(/^Password/), { target: { value: 'x' } });
    fireEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Can’t reach the server. Your changes are safe');
  });
});
