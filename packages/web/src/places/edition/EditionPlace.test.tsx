// @vitest-environment happy-dom
import type { DeliveryDetail, Review } from '@chronicon/core/contract';
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { SessionContext } from '../../shell/sessionContext.ts';
import { EditionPlace } from './EditionPlace.tsx';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const session = (role: string) => ({
  member: { id: 'me_1', name: 'Ines Tallow', email: 'ines@fernglass.example', role },
  agency: 'Fernglass Media',
  zone: 'Europe/London',
  csrf: 'x',
  now: '2026-11-02T20:00:00.000Z',
  scheme: 'light',
  mustSetUpFactor: false,
  demo: null,
});
const mail = {
  reader: 'co_1',
  name: 'Orla Fenwick',
  email: 'orla@mosswick.example',
  line: null,
  subject: 'Overview: October 2026',
  text: 'Hello Orla, visits were 4,120.',
  fileName: 'Overview October 2026.pdf',
  tables: [],
};

/** An edition of October that waits for a word, due on 3 November at 08:00. */
const reviewOf = (change: Partial<Review['edition']> = {}, more: Partial<Review> = {}): Review => ({
  edition: {
    id: 'ed_1',
    number: null,
    clientId: 'cl_1',
    clientName: 'Mosswick',
    colour: '#345',
    title: 'Overview',
    kind: 'scheduled',
    period: { from: '2026-10-01', to: '2026-10-31', label: 'October 2026' },
    compared: null,
    state: 'review',
    reason: null,
    lookedAt: null,
    dueAt: '2026-11-03T08:00:00.000Z',
    sentAt: null,
    goesIn: null,
    local: { date: '2026-11-03', time: '08:00' },
    zone: 'Europe/London',
    may: { send: true, retry: false, skip: true, takeUp: false, takeBack: false },
    group: null,
    asks: { who: 'Joren Vask', until: null },
    hasPdf: false,
    readers: ['Orla Fenwick'],
    deliveries: [],
    ...change,
  },
  lang: 'en-GB',
  pages: [],
  mails: [mail],
  withheld: [],
  from: { name: 'Fernglass Media', address: 'reports@fernglass.example', replyTo: null },
  note: null,
  problem: null,
  turned: [],
  remarks: [],
  stale: false,
  hash: 'seen-1',
  ...more,
});

let review: Review;
let deliveries: DeliveryDetail[] = [];
const CLIENT = {
  id: 'cl_1',
  name: 'Mosswick',
  contacts: [
    { id: 'co_1', firstName: 'Orla', lastName: 'Fenwick', email: 'orla@mosswick.example', standing: 'reads' },
    { id: 'co_2', firstName: 'Ada', lastName: 'Pell', email: 'ada@mosswick.example', standing: 'reads' },
    { id: 'co_3', firstName: 'Tobin', lastName: 'Aske', email: 'tobin@mosswick.example', standing: 'left' },
  ],
};
const answerTo = (path: string): unknown =>
  path.endsWith('/deliveries')
    ? deliveries
    : path === '/api/desk'
      ? { needs: [] }
      : path.startsWith('/api/clients/')
        ? CLIENT
        : review;
let asked: { name: string; body: unknown }[] = [];
let refused: { status: number; body: object } | null = null;
beforeEach(() => {
  asked = [];
  refused = null;
  deliveries = [];
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    asked.push({ name: `${init.method} ${path}`, body: init.body ? JSON.parse(String(init.body)) : null });
    if (init.method === 'GET') return new Response(JSON.stringify(answerTo(path)));
    return refused
      ? new Response(JSON.stringify(refused.body), { status: refused.status })
      : new Response(JSON.stringify({ done: true }));
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const done = () => asked.filter((a) => a.name.startsWith('POST'));

async function show(shown: Review, role = 'manager') {
  review = shown;
  const routes = [{ path: '/editions/:edition', element: <EditionPlace /> }];
  const router = createMemoryRouter(routes, { initialEntries: ['/editions/ed_1'] });
  render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <SessionContext value={session(role) as never}>
          <RouterProvider router={router} />
        </SessionContext>
      </QueryClientProvider>
    </MantineProvider>,
  );
  await screen.findByRole('complementary', { name: 'What is sent, and to whom' });
}
const press = (name: RegExp) => screen.getByRole('button', { name });

describe('an edition that waits to be signed off', () => {
  it('says who is asked, whom it reaches, for which dates, and lets it go as it was seen', async () => {
    await show(reviewOf());
    expect(screen.getByText('Joren Vask must approve before it is sent.')).toBeTruthy();
    expect(screen.getAllByText('October 2026').length).toBeGreaterThan(0);
    expect(screen.getByText('orla@mosswick.example')).toBeTruthy();
    expect(screen.getByText('Hello Orla, visits were 4,120.')).toBeTruthy();
    fireEvent.click(press(/^Approve: sends to Orla Fenwick at .*3 Nov.*08:00/));
    await waitFor(() => expect(done()).toEqual([{ name: 'POST /api/editions/ed_1/send', body: { hash: 'seen-1' } }]));
  });

  it('says when it would go by itself', async () => {
    await show(reviewOf({ asks: { who: 'Joren Vask', until: '2026-11-03T11:00:00.000Z' } }));
    expect(screen.getByText(/Joren Vask must approve; otherwise it is sent at .*11:00\./)).toBeTruthy();
  });

  it('that is signed off says so, and it can be taken back before it goes', async () => {
    const may = { send: false, retry: false, skip: true, takeUp: false, takeBack: true };
    await show(reviewOf({ state: 'ready', may, goesIn: 86_400 }));
    expect(screen.getByText(/Approved: sends at .*08:00/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Approve/ })).toBeNull();
    fireEvent.click(press(/^Undo approval$/));
    await waitFor(() => expect(done().map((a) => a.name)).toEqual(['POST /api/editions/ed_1/take-back']));
  });

  it('that was sent can be undone while one watches, and says whom it is about to reach', async () => {
    const may = { send: false, retry: false, skip: true, takeUp: false, takeBack: true };
    await show(reviewOf({ state: 'ready', may, goesIn: 27 }));
    expect(screen.getByText(/Sending to Orla Fenwick in 27 seconds\./)).toBeTruthy();
    fireEvent.click(press(/^Undo$/));
    await waitFor(() => expect(done().map((a) => a.name)).toEqual(['POST /api/editions/ed_1/take-back']));
  });

  it('that is no longer what was seen is not sent, and says why', async () => {
    await show(reviewOf());
    refused = { status: 409, body: { message: 'It is no longer what you saw. Look again.', fields: {} } };
    fireEvent.click(press(/^Approve/));
    expect(await screen.findByText('It is no longer what you saw. Look again.')).toBeTruthy();
  });

  it('cannot be let go while it is drawn anew, or when nobody could say what goes', async () => {
    await show(reviewOf({}, { hash: null, problem: 'The file of its logo is lost.' }));
    expect((press(/^Approve/) as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByText('The file of its logo is lost.')).toBeTruthy();
    cleanup();
    await show(reviewOf({}, { stale: true }));
    expect((screen.getByRole('button', { name: /Refreshing the PDF/ }) as HTMLButtonElement).disabled).toBe(true);
  });

  it('goes at once where its time has passed, and is left out after a second press alone', async () => {
    await show(reviewOf({ dueAt: '2026-11-02T08:00:00.000Z' }, { mails: [mail, { ...mail, email: 'a@b.example' }] }));
    expect(press(/^Send to Orla Fenwick and Orla Fenwick now$/)).toBeTruthy();
    fireEvent.click(press(/^Skip this edition$/));
    expect(done()).toEqual([]);
    fireEvent.click(press(/^Skip: nobody receives it$/));
    await waitFor(() => expect(done().map((a) => a.name)).toEqual(['POST /api/editions/ed_1/skip']));
  });
});

describe('whom an edition reaches', () => {
  it('is nobody where it is for the archive alone: the press says that it is kept', async () => {
    await show(reviewOf({ readers: [] }, { mails: [] }));
    expect(screen.getByText('archive only')).toBeTruthy();
    expect(press(/^Approve: archived at .*08:00/)).toBeTruthy();
    cleanup();
    await show(reviewOf({ readers: [], dueAt: '2026-11-02T08:00:00.000Z' }, { mails: [] }));
    expect(press(/^Archive now$/)).toBeTruthy();
  });

  it('are those who stand in its mail, each in their line, and not those who are withheld', async () => {
    const mails = [
      { ...mail, line: 'to' as const },
      { ...mail, name: 'Ada Pell', email: 'ada@mosswick.example', line: 'bcc' as const },
    ];
    await show(reviewOf({}, { mails, withheld: ['Tobin Aske is marked as having left.'] }));
    const facts = screen.getAllByText('To', { selector: 'dt' })[0]!.nextElementSibling!.textContent;
    expect(facts).toBe(
      'To Orla Fenwick orla@mosswick.exampleBcc Ada Pell ada@mosswick.exampleTobin Aske is marked as having left.',
    );
    expect(press(/to Orla Fenwick and Ada Pell at/)).toBeTruthy();
    cleanup();
    const many = Array.from({ length: 9 }, (_, i) => ({
      ...mail,
      name: `Reader ${i}`,
      email: `r${i}@mosswick.example`,
    }));
    await show(reviewOf({}, { mails: many }));
    expect(press(/to Reader 0, Reader 1 and 7 more at/)).toBeTruthy();
  });

  it('may be seen by who may not send', async () => {
    await show(reviewOf(), 'analyst');
    expect(screen.getByText('orla@mosswick.example')).toBeTruthy();
    expect(screen.queryByRole('button', { name: /Sign off|Send|Leave/ })).toBeNull();
  });

  it('names the group whose edition it is', async () => {
    await show(reviewOf({ group: 'Riverside' }));
    expect(screen.getByText(/· Riverside/)).toBeTruthy();
  });
});

describe('what became of its mails', () => {
  const delivery = (change: Partial<DeliveryDetail>): DeliveryDetail => ({
    id: 'de_1',
    reader: 'co_1',
    name: 'Orla Fenwick',
    email: 'orla@mosswick.example',
    state: 'accepted',
    reply: '250 taken',
    nextTry: null,
    messageId: 'ed_1.co_1.0@fernglass.example',
    subject: 'Overview',
    round: 0,
    askedBy: null,
    attempts: [],
    mayResend: true,
    ...change,
  });
  const short = { email: 'orla@mosswick.example', name: 'Orla Fenwick', state: 'accepted' as const };
  const sent = () =>
    reviewOf({ state: 'sent', deliveries: [{ ...short, tries: 1, reply: null, nextTry: null }] }, { hash: null });

  it('is told reader by reader, each attempt in the mail server’s words', async () => {
    const at = '2026-11-03T08:00:00.000Z';
    deliveries = [
      delivery({
        state: 'refused',
        reply: '550 no such box',
        attempts: [
          { at, endedAt: at, email: 'orla@mosswick.example', outcome: 'deferred', reply: '451 later' },
          { at: '2026-11-03T08:01:00.000Z', endedAt: at, email: 'x', outcome: 'refused', reply: '550 no such box' },
          { at: '2026-11-03T08:02:00.000Z', endedAt: null, email: 'x', outcome: null, reply: null },
        ],
      }),
    ];
    await show(sent());
    fireEvent.click(press(/^Deliveries$/));
    expect(await screen.findByText(/✕ refused/)).toBeTruthy();
    const attempts = screen.getAllByRole('listitem').map((l) => l.textContent);
    expect(attempts).toHaveLength(3);
    expect(attempts[0]).toContain('the server stopped in the meantime');
    expect(attempts[1]).toContain('550 no such box');
    expect(attempts[2]).toContain('451 later');
    const file = screen.getByRole('link', { name: 'Email as a file: Orla Fenwick' });
    expect(file.getAttribute('href')).toBe('/api/deliveries/de_1/mail');
  });

  it('can be had once more by one alone, or by somebody else who reads', async () => {
    deliveries = [delivery({}), delivery({ id: 'de_2', reader: 'me_2', name: 'Joren Vask' })];
    await show(sent());
    fireEvent.click(press(/^Deliveries$/));
    fireEvent.click(await screen.findByRole('button', { name: 'Resend to Orla Fenwick' }));
    // A mail that is sent is sent: one press does nothing yet.
    expect(done()).toEqual([]);
    fireEvent.click(press(/^Confirm: resend/));
    await waitFor(() =>
      expect(done().at(-1)).toEqual({ name: 'POST /api/editions/ed_1/resend', body: { readers: ['co_1'] } }),
    );
    const other = screen.getByRole('combobox', { name: 'Someone else' });
    // Who left is not offered, nor who had it.
    expect([...other.querySelectorAll('option')].map((o) => o.value)).toEqual(['', 'co_2']);
    fireEvent.change(other, { target: { value: 'co_2' } });
    fireEvent.click(press(/^Send to this person too$/));
    fireEvent.click(press(/^Confirm: send/));
    await waitFor(() => expect(done().at(-1)!.body).toEqual({ readers: ['co_2'] }));
    fireEvent.click(press(/^Resend to all 2$/));
    fireEvent.click(press(/^Confirm: resend to all 2$/));
    await waitFor(() => expect(done().at(-1)!.body).toEqual({ readers: null }));
  });

  it('is seen by who may not send, who sends nothing again', async () => {
    deliveries = [delivery({})];
    await show(sent(), 'analyst');
    fireEvent.click(press(/^Deliveries$/));
    expect(await screen.findByText(/● accepted by mail server/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /Send again/ })).toBeNull();
  });
});

describe('the manager’s note', () => {
  it('is written for this edition alone, and kept with one press', async () => {
    await show(reviewOf({}, { note: '' }));
    const field = screen.getByLabelText('Note in the email');
    expect(screen.queryByRole('button', { name: 'Save note' })).toBeNull();
    fireEvent.change(field, { target: { value: ' Fair week. ' } });
    fireEvent.click(press(/^Save note$/));
    await waitFor(() =>
      expect(asked).toContainEqual({ name: 'PUT /api/editions/ed_1/note', body: { note: 'Fair week.' } }),
    );
  });

  it('has no field where no mail has a place for it, or it is signed off', async () => {
    await show(reviewOf({}, { note: null }));
    expect(screen.queryByLabelText('Note in the email')).toBeNull();
    cleanup();
    const may = { send: false, retry: false, skip: true, takeUp: false, takeBack: true };
    await show(reviewOf({ state: 'ready', may }, { note: '' }));
    expect(screen.queryByLabelText('Note in the email')).toBeNull();
  });
});
