import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

const ACCOUNT = 'wa-2502';
const TOKEN = 'wa-token-fernglass';

let demo: RunningDemo;
let person: Person;

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new Person(await fixture().newPage());
});

/** Sums of the raw rows that the service itself answers over HTTP: not by way of anything of ours. */
async function rawSums(from: string, to: string): Promise<Record<string, number>> {
  const sums: Record<string, number> = {};
  for (let cursor: number | null = 0; cursor !== null; ) {
    const url = `${demo.simulators}/services/web-analytics/v1/accounts/${ACCOUNT}/datasets/visits/rows?from=${from}&to=${to}&cursor=${cursor}`;
    const page = (await (await fetch(url, { headers: { authorization: `Bearer ${TOKEN}` } })).json()) as {
      columns: string[];
      rows: (string | number)[][];
      next: number | null;
    };
    for (const row of page.rows) {
      page.columns.forEach((name, i) => {
        const value = row[i]!;
        if (typeof value === 'number') sums[name] = (sums[name] ?? 0) + value;
      });
    }
    cursor = page.next;
  }
  return sums;
}

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const money = (n: number) =>
  new Intl.NumberFormat('en-GB', {
    style: 'currency',
    currency: 'GBP',
    ...(n >= 1_000 && { maximumFractionDigits: 0 }),
  }).format(n);
const change = (now: number, before: number) =>
  `${now > before ? '+' : '\u2212'}${Math.abs((100 * (now - before)) / before).toFixed(1)}%`;

describe('a new user', () => {
  it('goes from an empty client to a PDF in the contact’s mailbox, with the right figures, through the interface alone', async () => {
    // Signed in.
    await person.comesIn(demo.url, 'Joren Vask');

    // A client and a contact; a wrong address is told at the field and loses nothing.
    await person.press('Clients', 'link');
    await person.press('New client', 'link');
    await person.fill('Name', 'Tarnbeck Pottery');
    await person.fill('Client since', '2025-03-03');
    await person.press('Create client', 'button');
    await person.sees('Data health');
    await person.press('Contacts', 'link');
    await person.fill('First name', 'Petra');
    await person.fill('Last name', 'Lund');
    await person.fill('Email address', 'petra.lund@tarnbeck');
    await person.press('Add contact', 'button');
    await person.sees('Enter a valid email address');
    await person.fill('Email address', 'petra.lund@tarnbeck.example');
    await person.press('Add contact', 'button');
    await person.sees('petra.lund@tarnbeck.example');

    // The feed: a wrong account is told, the right one is loaded while one watches.
    await person.press('Feeds', 'link');
    await person.pressText('By account number and token');
    await person.fill('Account number', 'wa-0000');
    await person.fill('Access token', TOKEN);
    await person.press('Connect and fetch', 'button');
    await person.sees('The service doesn’t know this account');
    await person.fill('Account number', ACCOUNT);
    await person.press('Connect and fetch', 'button');
    await person.sees('tarnbeck.example');
    await person.sees('up to 1 Nov 2026');

    // The report: its page shows the sums of the service's own rows.
    await person.press('Reports', 'link');
    await person.press('Create report', 'button');
    await person.sees('Revenue per day');
    const [october, september] = [await rawSums('2026-10-01', '2026-10-31'), await rawSums('2026-09-01', '2026-09-30')];
    const figures = [
      whole.format(october.visits!),
      change(october.visits!, september.visits!),
      whole.format(september.visits!),
      whole.format(october.orders!),
      money(october.revenue!),
      change(october.revenue!, september.revenue!),
    ];
    for (const figure of figures) await person.sees(figure);

    // An edit shows on the page and saves itself.
    await person.press('Commentary', 'button');
    await person.fill('Commentary for October 2026', 'Mugs sold best after the open day.', 'textbox');
    await person.sees('Mugs sold best after the open day.');
    await person.sees('Draft saved');

    // The opening speaks for itself until somebody writes over it; the figures go along; sheets may lie across.
    await person.sees('Revenue: ');
    await person.press('Opening: Revenue', 'button');
    await person.fill('In your own words, for October 2026', 'Mugs carried the month.', 'textbox');
    await person.sees('Mugs carried the month.');
    await person.press('The report', 'button');
    await person.press('Attach data', 'checkbox');
    const lies = '.choices select:has(option[value="landscape"])';
    await person.choose(lies, 'landscape');
    await person.page.waitForSelector('svg.paper[viewBox="0 0 841.89 595.28"]');
    await person.choose(lies, 'portrait');
    await person.page.waitForSelector('svg.paper[viewBox="0 0 595.28 841.89"]');
    await person.sees('Draft saved');

    // What is edited goes out once it is released; the page says what that reaches.
    await person.press('Release …', 'button');
    await person.sees('No planned edition uses it yet');
    await person.press('Release it', 'button');
    await person.sees('Released');

    // The schedule: a sentence, what it does beside it; nobody as reader is refused.
    await person.press('Schedule', 'link');
    await person.sees('Upcoming runs');
    await person.sees('Tue 3 Nov 2026');
    await person.sees('covers October 2026');
    await person.press('Start this schedule', 'button');
    await person.sees('Add a reader');
    await person.press('Readers: nobody yet', 'button');
    await person.press('Petra Lund', 'checkbox');
    await person.page.keyboard.press('Escape');
    await person.press('Start this schedule', 'button');
    await person.sees('the 3rd of each month at 08:00');

    // The clock goes on to the morning of the 3rd.
    await person.page.click('[aria-label^="Demo ·"]');
    await person.fill('Set time', '2026-11-03T08:01');
    await person.press('Move the clock', 'button');
    await person.sees('2026-11-03 08:01', 60_000);
    await person.goes(`${demo.url}/archive?text=Tarnbeck`);
    await person.sees('Sent');

    // The mail is in the contact's mailbox, and its PDF says the same as the page did.
    await person.goes(`${demo.simulators}/mailbox?to=petra.lund@tarnbeck.example`);
    await person.press('Monthly overview: October 2026', 'link');
    const attachment = await person.page.waitForSelector('a.attachment');
    const { name, href } = await attachment!.evaluate((a) => ({
      name: a.textContent,
      href: (a as HTMLAnchorElement).href,
    }));
    expect(name).toBe('Tarnbeck Pottery Monthly overview October 2026.pdf');
    const pdf = await getDocument({ data: new Uint8Array(await (await fetch(href)).arrayBuffer()) }).promise;
    expect(pdf.numPages).toBe(2);
    const content = await (await pdf.getPage(1)).getTextContent();
    const text = content.items.map((i) => ('str' in i ? i.str : '')).join(' ');
    for (const figure of figures) expect(text).toContain(figure);
    expect(text).toContain('October 2026');
    expect(text.replace(/[\u2009\s]+/g, ' ')).toMatch(/vs 1–30 September 2026/);
    expect(text).toContain('Mugs sold best after the open day.');
    expect(text).toContain('Mugs carried the month.');
    expect(Object.keys((await pdf.getAttachments()) ?? {})[0]).toMatch(/^Tarnbeck Pottery .*\.csv$/);
    expect(text).toContain('Prepared by Fernglass Media for Tarnbeck Pottery');
  });

  it('corrects a page in the morning: the editions that follow are named, and what is sent by hand is seen first', async () => {
    await person.goes(`${demo.url}/clients`);
    await person.press('Tarnbeck Pottery', 'link');
    await person.press('Reports', 'link');
    await person.press('Monthly overview', 'link');
    // The page is looked at as it goes out next: another month, whose commentary is still to write.
    await person.sees('sent on Thu 3 Dec, 08:00: November 2026');
    await person.press('Commentary', 'button');
    await person.sees('Nothing written for this period yet');
    await person.press('Start from October 2026', 'button');
    await person.fill('Commentary for November 2026', 'November in one sentence.', 'textbox');
    await person.sees('Draft saved');
    await person.press('Release …', 'button');
    await person.sees('Will be used in');
    await person.sees('Too late for');
    await person.press('Release it', 'button');
    await person.sees('Released');

    // An edition by hand: nothing goes at one press.
    await person.press('Preview: sent on Thu 3 Dec, 08:00: November 2026', 'button');
    await person.fill('First day', '2026-10-05');
    await person.fill('Last day', '2026-10-11');
    await person.press('Use these dates', 'button');
    await person.press('Create an edition', 'button');
    await person.press('Petra Lund', 'checkbox');
    await person.press('Create and review for 1 reader', 'button');
    await person.sees('Needs review');
    await person.sees('petra.lund@tarnbeck.example');
    await person.pressText('Send to ');
    await person.sees('accepted');
    await person.goes(`${demo.simulators}/mailbox?to=petra.lund@tarnbeck.example`);
    await person.sees('Monthly overview: 5');
  });

  it('stops all sending by the switch, and lets it go again', async () => {
    await person.goes(`${demo.url}/sending`);
    await person.press('Stop all sending', 'button');
    await person.press('Stop all sending now', 'button');
    await person.sees('Turned off by Joren Vask');
    await person.goes(demo.url);
    await person.sees('Sending is turned off');
    await person.press('View sending', 'link');
    await person.press('Resume sending', 'button');
    await person.sees('Sending is on.');
  });
});

describe('every place', () => {
  it('can be used by those who do not see it: nothing serious is found', async () => {
    await person.goes(demo.url);
    const { clients, reports, editions, schedules } = await person.page.evaluate(async () => {
      const get = async (path: string) => (await fetch(path)).json() as Promise<{ id: string }[]>;
      let found = await get('/api/clients/names');
      while ((await get(`/api/clients/${found[0]!.id}/schedules`)).length === 0) found = found.slice(1);
      const sent = (await (await fetch('/api/editions')).json()) as { editions: { id: string }[] };
      const reports = await get(`/api/clients/${found[0]!.id}/reports`);
      const schedules = await get(`/api/clients/${found[0]!.id}/schedules`);
      return { clients: found, reports, schedules, editions: sent.editions };
    });
    const client = `/clients/${clients[0]!.id}`;
    const parts = ['', '/feeds', '/contacts', '/reports', '/schedules', '/schedules/new', '/brand', '/setup'];
    const places = [
      '/',
      '/clients',
      '/clients/new',
      ...parts.map((p) => client + p),
      `/reports/${reports[0]!.id}`,
      `/editions/${editions[0]!.id}`,
      '/almanac',
      '/almanac?weeks=13',
      '/almanac/schedules',
      '/almanac/ahead',
      '/almanac/zones',
      '/almanac/readers',
      `/almanac/readers?client=${clients[0]!.id}`,
      `/schedules/${schedules[0]!.id}`,
      '/sending',
      '/archive',
      '/figures',
      '/templates',
      `/reports/${reports[0]!.id}/versions`,
      '/me',
    ];
    for (const place of places) {
      await person.turnsTo(place);
      expect([place, await seriousFaults(person.page)]).toEqual([place, []]);
    }
  });
});
