import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

/** How an account manager brings a client’s data in. */
let demo: RunningDemo;
let person: Person;
let client: string;

const place = (path: string) => `${demo.url}/clients/${client}${path}`;
const misbehave = (account: string, fault: string) =>
  fetch(`${demo.simulators}/admin/accounts/${account}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ fault }),
  });

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new Person(await fixture().newPage());
  await person.comesIn(demo.url, 'Joren Vask');
  await person.goes(`${demo.url}/clients/new`);
  await person.fill('Name', 'Tarnbeck Pottery');
  await person.fill('Website', 'tarnbeck.example');
  await person.press('Create client', 'button');
  await person.sees('Data health');
  client = /clients\/(\w+)/.exec(person.page.url())![1]!;
});

describe('an account manager', () => {
  it('is let in at a service, and connects the account that is suggested', async () => {
    await person.goes(place('/feeds'));
    await person.press('Connect a service', 'link');
    await person.press('Connect another account: Call tracking', 'button');
    // At the service: the question, and the way back without an answer.
    await person.sees('May Chronicon read the figures');
    await person.press('Refuse', 'button');
    await person.sees('Access was denied');
    await person.goes(`${demo.url}/connect?client=${client}`);
    await person.press('Connect another account: Call tracking', 'button');
    await person.press('Allow', 'button');
    await person.sees('Whose accounts are these?');
    await person.sees('same site');
    await person.press('Connect 1 account', 'button');
    await person.sees('1 account connected');
    await person.press('Tarnbeck Pottery', 'link');
    await person.sees('up to 1 Nov 2026', 60_000);
    await person.sees('of 50,000');
  });

  it('is told when the account is another one, and that nothing was taken from it', async () => {
    await misbehave('ca-3502', 'swapped');
    await person.goes(place('/feeds'));
    await person.press('Fetch now: Call tracking: tarnbeck.example', 'button');
    await person.sees('The account has changed');
    await person.sees('Nothing was imported');
    await person.goes(demo.url);
    await person.press('View differences', 'link');
    await misbehave('ca-3502', 'none');
    await person.press('Check again: Call tracking: tarnbeck.example', 'button');
    await person.sees('up to 1 Nov 2026', 60_000);
  });

  it('brings a file, sees how it will be read, and finds its figures', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'chronicon-file-'));
    const path = join(folder, 'Studio_sales.csv');
    const rows = ['Date;Studio;Sold;Takings'];
    for (let day = 1; day <= 12; day++) {
      rows.push(`${String(day).padStart(2, '0')}/10/2026;Harbour;${day};${day}.050,50`);
    }
    rows.push('13/10/2026;Harbour;some;1,00', '06/10/2026;Hillside;none;1,00');
    writeFileSync(path, `${rows.join('\n')}\n`);
    await person.goes(place('/feeds'));
    const input = (await person.page.waitForSelector('input[type=file]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    await person.sees('Columns');
    // The thirteenth cannot be a month: there is no doubt.
    await person.sees('1 Oct 2026');
    await person.sees('skipped: “some” in “Sold” is not a number');
    await person.choose('select[aria-label="Unit of Takings"]', 'money');
    await person.press('Import file', 'button');
    await person.sees('12 rows of 1 Oct 2026 to 12 Oct 2026 count now', 60_000);
    await person.sees('2 skipped');
    // A day of which a row could not be read is not known, until somebody says that the row counts as none.
    await person.sees('Because of these rows, 6 Oct 2026 is incomplete');
    await person.press('Ignore these rows', 'button');
    await person.page.waitForFunction(() => !document.body.textContent?.includes('is incomplete'));
    await person.goes(`${demo.url}/figures?client=${client}&metrics=sold&period=2026-10-01..2026-10-12&by=studio`);
    await person.sees('Harbour');
    await person.sees('78');
    await person.goes(place('/feeds'));
    await person.press('Undo import of Studio_sales.csv', 'button');
    await person.sees('undone');
    await person.goes(`${demo.url}/figures?client=${client}&metrics=sold&period=2026-10-01..2026-10-12`);
    await person.sees('no data');
  });

  it('types figures in, pasted from a spreadsheet, and a report can use them', async () => {
    await person.goes(place('/feeds'));
    await person.press('Enter data manually', 'button');
    await person.fill('Feed name', 'Kiln book');
    await person.fill('Name of figure 1', 'Firings');
    await person.press('Create', 'button');
    await person.sees('Firings');
    const first = await person.page.waitForSelector('input[aria-label^="Firings, January"]');
    await first!.focus();
    await person.page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', '4\n5\n1.006\nsix\n');
      document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
    });
    await person.sees('1 cell is not a number');
    await person.fill('Firings, April 2026', '6', 'textbox');
    await person.press('Save 4 figures', 'button');
    await person.sees('Saved');
    await person.goes(`${demo.url}/figures?client=${client}&metrics=firings&period=2026-01-01..2026-02-28&step=month`);
    await person.sees('9');
    await person.goes(`${demo.url}/figures?client=${client}&metrics=firings&period=2026-01-01..2026-01-15`);
    await person.sees('available by week or month only');
  });

  it('removes a feed, keeps what it brought, and reconnects it', async () => {
    await person.goes(place('/feeds'));
    await person.press('More: Call tracking: tarnbeck.example', 'button');
    await person.press('Remove', 'menuitem');
    await person.press('Remove this feed', 'button');
    await person.sees('removed, data kept');
    await person.press('Reconnect: Call tracking: tarnbeck.example', 'button');
    await person.sees('up to 1 Nov 2026', 60_000);
  });

  it('can do all of it without seeing it: nothing serious is found', async () => {
    const imports = await person.page.evaluate(
      async (id) => (await (await fetch(`/api/clients/${id}/imports`)).json()) as { id: string }[],
      client,
    );
    const feeds = await person.page.evaluate(
      async (id) =>
        (await (await fetch(`/api/clients/${id}/feeds`)).json()) as {
          id: string;
          kind: string;
          connection: string;
        }[],
      client,
    );
    const typed = feeds.find((f) => f.kind === 'typed')!;
    const called = feeds.find((f) => f.kind === 'calls')!;
    const paths = [
      '/connect',
      `/connect?connection=${called.connection}`,
      '/connect/back',
      `/clients/${client}/feeds`,
      `/clients/${client}/imports/${imports[0]!.id}`,
      `/clients/${client}/typed/${typed.id}`,
    ];
    for (const path of paths) {
      await person.turnsTo(path);
      expect([path, await seriousFaults(person.page)]).toEqual([path, []]);
    }
  });
});
