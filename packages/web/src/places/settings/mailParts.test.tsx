// @vitest-environment happy-dom
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { BoxPart } from './BoxPart.tsx';
import { DkimPart, MailRulesPart } from './MailRulesPart.tsx';
import type { PartProps } from './part.ts';

// A busy machine takes its time.
configure({ asyncUtilTimeout: 60_000 });

const data = (mailRules: object = {}) =>
  ({
    agency: { zone: 'Europe/London', mailFrom: 'reports@fernglass.example' },
    mailRules: { bounces: '', perMinute: null, quiet: null, dkim: null, listens: 4326, box: null, ...mailRules },
  }) as unknown as PartProps['data'];

const asked: { name: string; body: unknown }[] = [];
beforeEach(() => {
  asked.length = 0;
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    asked.push({ name: `${init.method} ${path}`, body: init.body ? JSON.parse(String(init.body)) : null });
    return new Response(JSON.stringify({ done: true }));
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const show = (Part: typeof MailRulesPart, props: PartProps) =>
  render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient()}>
        <Part {...props} />
      </QueryClientProvider>
    </MantineProvider>,
  );
const press = (name: RegExp) => fireEvent.click(screen.getByRole('button', { name }));

describe('how mails go out', () => {
  it('is chosen as a whole, and saved once something is changed', async () => {
    show(MailRulesPart, { data: data(), mayChange: true } as PartProps);
    expect((screen.getByRole('button', { name: 'Save' }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Bounce address'), { target: { value: 'bounces@fernglass.example' } });
    fireEvent.click(screen.getByLabelText('Limit per minute'));
    fireEvent.change(screen.getByLabelText('Emails per minute'), { target: { value: '30' } });
    fireEvent.click(screen.getByLabelText('Quiet hours'));
    fireEvent.change(screen.getByLabelText('Until'), { target: { value: '07:00' } });
    press(/^Save$/);
    await waitFor(() =>
      expect(asked).toContainEqual({
        name: 'PUT /api/agency/mail-rules',
        body: { bounces: 'bounces@fernglass.example', perMinute: 30, quiet: { from: '21:00', until: '07:00' } },
      }),
    );
  });

  it('says what it needs where this server takes nothing that comes back', () => {
    show(MailRulesPart, { data: data({ listens: null }), mayChange: true } as PartProps);
    expect(screen.getByText(/set CHRONICON_BOUNCE_PORT/)).toBeTruthy();
  });

  it('is told in sentences to whoever may not change it', () => {
    const quiet = { from: '21:00', until: '06:00' };
    show(MailRulesPart, { data: data({ perMinute: 40, quiet }), mayChange: false } as PartProps);
    expect(screen.getByText('At most 40 emails a minute.')).toBeTruthy();
    expect(screen.getByText('Quiet hours from 21:00 to 06:00, agency time.')).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('signed mails', () => {
  it('get a key for the domain that reports come from', async () => {
    show(DkimPart, { data: data(), mayChange: true } as PartProps);
    press(/^Create key$/);
    await waitFor(() =>
      expect(asked[0]).toEqual({
        name: 'POST /api/agency/dkim',
        body: { domain: 'fernglass.example', selector: 'reports' },
      }),
    );
  });

  it('show the record that the domain needs; the key is forgotten by a second press alone', async () => {
    const dkim = {
      domain: 'fernglass.example',
      selector: 'reports',
      name: 'reports._domainkey.fernglass.example',
      record: 'v=DKIM1; k=rsa; p=AB',
    };
    show(DkimPart, { data: data({ dkim }), mayChange: true } as PartProps);
    expect((screen.getByLabelText('DNS record name') as HTMLInputElement).value).toBe(dkim.name);
    expect((screen.getByLabelText('TXT value') as HTMLInputElement).value).toBe(dkim.record);
    press(/^Stop signing$/);
    expect(asked).toEqual([]);
    press(/^Delete key and stop signing/);
    await waitFor(() => expect(asked[0]!.name).toBe('DELETE /api/agency/dkim'));
  });
});

describe('the mailbox for what comes back', () => {
  it('is opened with what was typed, and its password is not kept on the page', async () => {
    show(BoxPart, { data: data(), mayChange: true } as PartProps);
    fireEvent.change(screen.getByLabelText('Host of the mailbox'), { target: { value: 'imap.place.example' } });
    fireEvent.change(screen.getByLabelText('User of the mailbox'), { target: { value: 'bounces' } });
    fireEvent.change(screen.getByLabelText('Password of the mailbox'), { target: { value: 'tin-lantern' } });
    press(/^Test and save$/);
    const body = { host: 'imap.place.example', port: 993, tls: 'implicit', user: 'bounces', folder: 'INBOX' };
    await waitFor(() =>
      expect(asked).toContainEqual({ name: 'PUT /api/agency/bounce-box', body: { ...body, password: 'tin-lantern' } }),
    );
    await waitFor(() => expect((screen.getByLabelText('Password of the mailbox') as HTMLInputElement).value).toBe(''));
  });

  it('says what is wrong with it, and is taken away at one press', async () => {
    const box = {
      host: 'imap.place.example',
      port: 993,
      tls: 'implicit',
      user: 'bounces',
      folder: 'INBOX',
      readAt: null,
      trouble: {
        since: '2026-11-03T08:00:00Z',
        reason: 'The mailbox server rejected our sign-in.',
        mend: 'Check the user name and password.',
      },
    };
    show(BoxPart, { data: data({ box, bounces: 'bounces@fernglass.example' }), mayChange: true } as PartProps);
    expect(screen.getByText(/rejected our sign-in\. Check the user name and password/)).toBeTruthy();
    cleanup();
    show(BoxPart, { data: data({ box }), mayChange: true } as PartProps);
    expect(screen.getByText(/Not checked: set the bounce address/)).toBeTruthy();
    press(/^Stop checking$/);
    await waitFor(() =>
      expect(asked).toContainEqual({ name: 'DELETE /api/agency/bounce-box', body: expect.anything() }),
    );
  });
});
