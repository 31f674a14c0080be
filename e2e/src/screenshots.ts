import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle, Page } from 'puppeteer-core';
import { openBrowser, Person } from './browser.ts';
import { launchDemo } from './launch.ts';
import { laySheets, type Telling } from './sheetsOfReports.ts';

/** One sheet of each client's report: the one that its people ask for first. */
const REPORTS: readonly Telling[] = [
  // Before its service refused the token; and with the margin that its schedule assumes.
  ['Skerrybound Ferries', 'Monthly overview', 'pace', '2026-11-01'],
  ['Mosswick Botanic Garden', 'Monthly overview', 'rhythm'],
  ['Quillon Cycle Works', 'Shop im Monat', 'stages'],
  ['Brackenhollow Physio', 'Enquiries', 'kpi'],
  ['Oatmere Dairy Co-op', 'Shop month', 'standouts'],
  ['Nightjar Rail Holidays', 'Demandes et réservations', 'whatIf', '2026-11-02'],
];

/** Asks a route from within a page that is signed in. */
const asks = <T>(page: Page, method: string, path: string, body?: object) =>
  page.evaluate(
    async (m, to, b) => {
      const { csrf } = await (await fetch('/api/session')).json();
      const headers = { 'content-type': 'application/json', 'x-csrf-token': csrf };
      return (await fetch(to, { method: m, headers, ...(b && { body: JSON.stringify(b) }) })).json();
    },
    method,
    path,
    body,
  ) as Promise<T>;

interface Block {
  id: string;
  kind: string;
}
interface Named {
  id: string;
  name: string;
}
interface Report {
  version: number;
  document: { pages: { id: string; rows: { blocks: Block[] }[] }[] };
}

/** Makes a template of a client’s report, has others begin with it, and changes it. */
async function followed(page: Page, client: string): Promise<void> {
  const [report] = await asks<[Named]>(page, 'GET', `/api/clients/${client}/reports`);
  const about = 'Tickets, the rhythm of a week, ads and posts';
  const name = 'Visitor attraction, monthly';
  const typed = async () =>
    (await asks<{ texts: { text: string }[] }>(page, 'GET', `/api/reports/${report.id}/typed-texts`)).texts.map(
      (t) => t.text,
    );
  const made = await asks<Named>(page, 'POST', '/api/templates', {
    name,
    about,
    report: report.id,
    texts: await typed(),
  });
  const clients = await asks<Named[]>(page, 'GET', '/api/clients/names');
  for (const { id } of clients.filter((c) => /^(Oatmere|Skerrybound)/.test(c.name)))
    await asks(page, 'POST', `/api/clients/${id}/reports`, { title: 'Visitors, monthly', template: made.id });
  const { document, version } = await asks<Report>(page, 'GET', `/api/reports/${report.id}`);
  const blocks = document.pages[1]!.rows.flatMap((r) => r.blocks);
  const block = blocks.find((b) => b.kind === 'trend')!.id;
  const edits = [
    { op: 'setBlock', block, set: { title: 'Revenue from day to day' } },
    { op: 'namePage', page: document.pages[3]!.id, title: 'Ads, posts and words' },
  ];
  await asks(page, 'POST', `/api/reports/${report.id}/edits`, { version, edits });
  await asks(page, 'POST', `/api/templates/${made.id}/take`, { report: report.id, texts: await typed() });
}

/** Takes one picture of each main view from the demo agency, at 1280x800, into docs/screenshots. */
const folder = process.argv[2] ?? join(import.meta.dirname, '../../docs/screenshots');
mkdirSync(folder, { recursive: true });
const demo = await launchDemo('2026-11-02T08:42:00Z');
const browser = await openBrowser();
try {
  const page = await browser.newPage();
  const person = new Person(page);
  const take = async (name: string) => {
    await page.evaluate(() => document.fonts.ready);
    await page.waitForNetworkIdle({ idleTime: 400, concurrency: 1 }).catch(() => {});
    await page.screenshot({ path: join(folder, `${name}.png`) as `${string}.png` });
    console.log(name);
  };
  const follow = async (name: string) => {
    await person.press(name, 'link');
    await page.waitForNetworkIdle({ idleTime: 300, concurrency: 1 }).catch(() => {});
  };

  await person.goes(demo.url);
  await person.sees('Ines Tallow');
  await person.pressText('Ines Tallow');
  await person.sees('Needs attention');
  await person.sees('Yesterday');
  // Words that are missing are written where they are missed.
  await person.press('Write', 'button');
  await page.keyboard.type('The new bikes sold from their first day on; the workshop was closed on Friday.');
  await take('desk');
  await person.press('Cancel', 'button');

  await follow('Clients');
  await person.sees('Mosswick Botanic Garden');
  await follow('Mosswick Botanic Garden');
  await person.sees('Data health');
  await person.sees('up to');
  await take('client');
  // A service restates its last days, and somebody has it fetched.
  await fetch(`${demo.simulators}/admin/accounts/so-4187`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ fault: 'restated' }),
  });
  await follow('Feeds');
  await person.press('Fetch now: Social profiles', 'button');
  await person.sees('Revised');
  await take('feeds');
  await follow('Reports');
  await follow('Monthly overview');
  await person.sees('Draft saved');
  await person.pressText('Ranking');
  await take('report');
  await person.goes(`${page.url().split('?')[0]}?look=own&zoom=whole`);
  await person.press('Add a block', 'button');
  await page.waitForFunction(() => document.querySelectorAll('.offer svg').length > 12);
  await take('palette');
  await page.keyboard.press('Escape');
  const beside = await browser.newPage();
  await laySheets(beside, demo.url, REPORTS, 'dates.2026-10-01.2026-10-31');
  await beside.setViewport({ width: 1860, height: 1000 });
  await beside.evaluate(() => document.fonts.ready);
  await beside.waitForNetworkIdle({ idleTime: 400, concurrency: 1 }).catch(() => {});
  await (await beside.$('body > div'))!.screenshot({ path: join(folder, 'reports.png') as `${string}.png` });
  await beside.close();
  await person.press('Schedule', 'link');
  await person.sees('Upcoming runs');
  await person.press('Rhythm: the 3rd of each month', 'button');
  await person.sees('on a working day, counted from the first');
  await take('schedule');
  // What goes out: a run left out and one moved; all schedules, some about to be changed; who gets what of a client.
  type Listed = { id: string; clientId: string; title: string };
  const { schedules } = await asks<{ schedules: Listed[] }>(page, 'GET', '/api/schedules');
  const nearby = schedules.find((s) => s.title === 'Found nearby')!;
  const week = schedules.find((s) => s.title === 'Visits week')!;
  await asks(page, 'PUT', `/api/schedules/${week.id}/runs/2026-11-12`, { skipped: true });
  const moved = { date: '2026-11-20', time: '08:00' };
  await asks(page, 'PUT', `/api/schedules/${week.id}/runs/2026-11-19`, { moved });
  await person.goes(`${demo.url}/almanac`);
  await person.sees('Skerrybound Ferries');
  await page.click('button.mark[aria-label^="Visits week"][aria-label*="20 November"]');
  await person.sees('covers 12');
  await take('almanac');
  await person.goes(`${demo.url}/almanac/schedules?rhythm=weekly`);
  await person.press('Choose all on this page', 'checkbox');
  await person.choose('.many-acts select', 'extend');
  await person.sees('Last date (empty: no end)');
  await take('schedules');
  await person.goes(`${demo.url}/almanac/readers?client=${nearby.clientId}`);
  await person.sees('receives it');
  await take('who-gets-what');
  await person.goes(`${demo.url}/archive`);
  await person.sees('Sent');
  await take('archive');
  const mosswick = await page.evaluate(async () => {
    const all = (await (await fetch('/api/clients/names')).json()) as { id: string; name: string }[];
    return all.find((c) => c.name.startsWith('Mosswick'))!.id;
  });
  const figures = `${demo.url}/figures?client=${mosswick}&metrics=revenue,orders,visits,bounceRate`;
  // Up to today, of which nothing has come yet; and a day in it on which nothing came, which is left out.
  await asks(page, 'POST', `/api/clients/${mosswick}/excluded-days`, {
    from: '2026-10-19',
    to: '2026-10-19',
    metrics: [],
    reason: 'the counter was off',
    printed: true,
  });
  await person.goes(`${figures}&period=2026-10-05..2026-11-02&compare=lastYear`);
  await person.sees('without 19 Oct');
  await person.sees('of days');
  await take('figures');
  // A new client: its accounts are found, a file is brought, figures are typed in.
  await person.goes(`${demo.url}/clients/new`);
  await person.fill('Name', 'Tarnbeck Pottery');
  await person.fill('Website', 'tarnbeck.example');
  await person.press('Create client', 'button');
  await person.sees('Data health');
  const tarnbeck = /clients\/(\w+)/.exec(page.url())![1]!;
  await person.goes(`${demo.url}/clients/${tarnbeck}/feeds`);
  const rows = ['Date;Studio;Mugs sold;Currency;Takings'];
  for (let day = 1; day <= 14; day++) {
    for (const [studio, currency] of [
      ['Harbour', 'GBP'],
      ['Hillside', 'GBP'],
      ['Antwerp', 'EUR'],
    ]) {
      rows.push(
        `${String(day).padStart(2, '0')}/10/2026;${studio};${(day * 7) % 11};${currency};1.${100 + day * 17},50`,
      );
    }
  }
  rows.splice(8, 1, '03/10/2026;Hillside;none;GBP;980,00');
  const file = join(mkdtempSync(join(tmpdir(), 'chronicon-file-')), 'Studio sales October.csv');
  writeFileSync(file, `${rows.join('\n')}\n`);
  const input = await page.waitForSelector('input[type=file]');
  await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
  await person.sees('skipped');
  await person.choose('select[aria-label="Unit of Takings"]', 'money');
  await person.press('convert', 'button');
  await person.fill('1 EUR in GBP', '0.86');
  await person.sees('961.05');
  await page.setViewport({ width: 1280, height: 1120 });
  await take('import');
  await page.setViewport({ width: 1280, height: 800 });
  // What is set for the agency.
  await person.goes(`${demo.url}/settings`);
  await person.sees('Sender address');
  await take('settings');
  // A brand while it is chosen, and a template that two more reports follow, before they have its last change.
  await person.goes(`${demo.url}/clients/${mosswick}/brand`);
  await page.waitForFunction(() => document.querySelectorAll('.miniature svg').length >= 3);
  await take('brand');
  await followed(page, mosswick);
  await person.goes(`${demo.url}/templates`);
  await follow('Visitor attraction, monthly');
  await person.sees('Changes');
  await take('template');
  // An edition as it goes: its pages, and whom it reaches with which mail.
  await person.goes(`${demo.url}/editions`);
  const sent = await page.evaluate(async () => {
    const { editions } = (await (await fetch('/api/editions')).json()) as { editions: { id: string; state: string }[] };
    return editions.find((e) => e.state === 'sent')!.id;
  });
  await person.goes(`${demo.url}/editions/${sent}`);
  await person.sees('Replies go to');
  await take('edition');

  // The mail as it was received, by day, by night and on a phone; and what became of each.
  const html = async (scheme: string) => {
    const { mails } = await asks<{ mails: { reader: string }[] }>(page, 'GET', `/api/editions/${sent}/review`);
    const path = `/api/editions/${sent}/mails/${mails[0]!.reader}?scheme=${scheme}`;
    return (await asks<{ html: string }>(page, 'GET', path)).html;
  };
  const [light, dark] = [await html('light'), await html('dark')];
  const mails = await browser.newPage();
  await mails.setViewport({ width: 1700, height: 1180 });
  await mails.setContent(
    `<body style="margin:0;display:flex;gap:24px;padding:24px;background:#f7f5ef;align-items:flex-start"></body>`,
  );
  await mails.evaluate(
    (all) => {
      for (const [srcdoc, width] of all) {
        const frame = document.createElement('iframe');
        frame.srcdoc = srcdoc;
        frame.style.cssText = `width:${width}px;height:1130px;border:1px solid #ddd8cb;background:#fff`;
        document.body.append(frame);
      }
    },
    [
      [light, 600],
      [dark, 600],
      [light, 390],
    ] as [string, number][],
  );
  await new Promise((r) => setTimeout(r, 800));
  await mails.screenshot({ path: join(folder, 'mail.png') as `${string}.png` });
  await mails.close();
  console.log('mail');
  await person.goes(`${demo.url}/editions/${sent}?show=deliveries`);
  await person.sees('accepted by mail server');
  await page.locator('summary').click();
  await take('deliveries');

  // For whoever writes a block: beside the developers' page, not among the views.
  await person.goes(`${demo.url}/gallery`);
  await person.sees('KPI row');
  await page.waitForNetworkIdle({ idleTime: 400, concurrency: 1 }).catch(() => {});
  await page.screenshot({ path: join(folder, '../gallery.png') as `${string}.png`, fullPage: true });
} finally {
  await browser.close();
  await demo.stop();
}
