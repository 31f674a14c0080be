import { beforeAll, describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

const ACCOUNT = 'wa-2187';
const TOKEN = 'wa-token-fernglass';

/** What an analyst does with figures. */
let demo: RunningDemo;
let person: Person;
let client: string;

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new Person(await fixture().newPage());
  await person.comesIn(demo.url, 'Ines Tallow');
  client = await person.page.evaluate(async () => {
    const all = (await (await fetch('/api/clients/names')).json()) as { id: string; name: string }[];
    return all.find((c) => c.name.startsWith('Mosswick'))!.id;
  });
});

/** A measure of October, added up from the service's own rows over HTTP. */
async function rawSum(measure: string, keep: (row: Record<string, string | number>) => boolean): Promise<number> {
  let sum = 0;
  for (let cursor: number | null = 0; cursor !== null; ) {
    const url = `${demo.simulators}/services/web-analytics/v1/accounts/${ACCOUNT}/datasets/visits/rows?from=2026-10-01&to=2026-10-31&cursor=${cursor}`;
    const page = (await (await fetch(url, { headers: { authorization: `Bearer ${TOKEN}` } })).json()) as {
      columns: string[];
      rows: (string | number)[][];
      next: number | null;
    };
    for (const values of page.rows) {
      const row = Object.fromEntries(page.columns.map((c, i) => [c, values[i]!]));
      if (keep(row)) sum += row[measure] as number;
    }
    cursor = page.next;
  }
  return sum;
}

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const column = (n: number) =>
  person.page.$$eval(
    'table.figures tbody tr:not(.other):not(.total)',
    (rows, i) => rows.map((r) => Number(r.children[i]!.textContent!.replace(/[^\d.-]/g, ''))),
    n,
  );

describe('an analyst', () => {
  it('checks figures against the source, filtered and broken down, and asks how one came about', async () => {
    await person.press('Figures', 'link');
    await person.sees('Choose a client');
    await person.press('Mosswick Botanic Garden', 'link');
    await person.sees(whole.format(await rawSum('visits', () => true)));

    // The filter is part of the sentence, and of the address.
    await person.press('Filter: everything', 'button');
    await person.choose('select[aria-label="Filter by"]', 'device');
    await person.press('Mobile', 'checkbox');
    const mobile = whole.format(await rawSum('visits', (r) => r.device === 'Mobile'));
    await person.sees(mobile);
    expect(decodeURIComponent(person.page.url())).toContain('filter=device=Mobile');
    await person.page.keyboard.press('Escape');

    await person.press('Breakdown: over time', 'button');
    await person.press('by Channel', 'radio');
    await person.page.waitForFunction(() => document.querySelectorAll('table.figures tbody tr').length === 6);
    const email = await rawSum('visits', (r) => r.device === 'Mobile' && r.channel === 'Email');
    const byChannel = await column(1);
    expect(byChannel).toContain(email);
    expect(byChannel).toEqual([...byChannel].sort((a, b) => b - a));
    for (const order of ['descending', 'ascending']) {
      await person.page.click('table.figures thead th:nth-child(2) button');
      await person.page.waitForSelector(`table.figures thead th:nth-child(2)[aria-sort=${order}]`);
    }
    expect(await column(1)).toEqual([...byChannel].sort((a, b) => a - b));

    // Press a number; the panel outlives a reload, since it is in the address.
    await person.press(`Visits, Email: ${whole.format(email)}. How it’s calculated`, 'button');
    await person.sees('How this figure is calculated');
    await person.page.reload({ waitUntil: 'load' });
    await person.settles();
    await person.sees('all 31 delivered');
    await person.sees('the sum of Visits of all rows');
    await person.press('Show rows', 'button');
    await person.page.waitForFunction(() => document.querySelectorAll('.scroll-table.rows tbody tr').length > 20);
    const rows = await person.page.$$eval('.scroll-table.rows tbody tr', (all) =>
      all.map((r) => [...r.children].map((c) => c.textContent!)),
    );
    expect(rows.every((r) => r[1] === 'Email' && r[2] === 'Mobile')).toBe(true);
    expect(rows.reduce((n, r) => n + Number(r[4]), 0)).toBe(email);
    await person.press('Close', 'button');
  });

  it('reads why a figure changed, and takes the table along', async () => {
    await person.goes(`${demo.url}/figures?client=${client}&metrics=revenue`);
    await person.press('Why it changed', 'button');
    await person.page.waitForSelector('.said');
    expect(await person.reads('.said')).toMatch(/^Revenue rose 2\.4% \(\+£[\d.]+\); mainly Paid search \(\+£/);
    const parts = await person.page.$$eval('table.drivers tbody tr', (all) =>
      all.map((r) => Number(r.children[2]!.textContent!.replace('\u2212', '-').replace(/[^\d.-]/g, ''))),
    );
    const change = parts.pop()!;
    // Amounts from a thousand on are shown without pence.
    expect(Math.abs(parts.reduce((n, v) => n + v, 0) - change)).toBeLessThan(1.01);
    await person.press('Download', 'button');
    const href = await person.page.waitForSelector('::-p-aria(CSV, numbers as 1234.5)');
    const csv = await person.page.evaluate(
      async (link) => (await fetch((link as HTMLAnchorElement).href)).text(),
      href!,
    );
    const sum = csv
      .trimEnd()
      .split('\r\n')
      .slice(1)
      .reduce((n, line) => n + Number(line.split(',')[2]), 0);
    expect(sum).toBeCloseTo(await rawSum('revenue', () => true), 4);
  });

  it('says why a day is odd, then leaves it out, and pages and mail follow and say so', async () => {
    await person.goes(`${demo.url}/figures?client=${client}&metrics=visits`);
    await person.sees('no activity');
    await person.press('Explain: Mon 19 Oct 2026', 'button');
    await person.fill('What happened', 'Measuring was off', 'textbox');
    await person.press('Save note', 'button');
    await person.sees('Measuring was off (in reports)');
    // What was said stands beside the mark and the change without the day.
    await person.sees('Without 19 Oct and the day it is compared with: visits +5.6%');
    await person.goes(`${demo.url}/clients/${client}/reports`);
    await person.press('Monthly overview', 'link');
    await person.sees('Preview');
    await person.goes(`${person.page.url().split('?')[0]}?look=own`);
    await person.sees('19 Oct: Measuring was off');
    await person.sees('‡ 19 October 2026: no visits');
    await person.goes(`${demo.url}/figures?client=${client}&metrics=visits`);
    await person.press('Exclude: Mon 19 Oct 2026', 'button');
    await person.fill('Reason', 'Measuring was off', 'textbox');
    await person.press('Exclude day', 'button');
    await person.sees('§ without 19 Sept, 19 Oct');
    await person.sees('+5.6% better');
    // The mail of a test to oneself is made of the same figures.
    const schedule = await person.page.evaluate(async (id) => {
      const all = (await (await fetch(`/api/clients/${id}/schedules`)).json()) as { id: string }[];
      return all[0]!.id;
    }, client);
    await person.goes(`${demo.url}/schedules/${schedule}`);
    await person.press('Send me a test', 'button');
    await person.press('View test', 'link');
    await person.sees('§ Visits (without 19 Sept, 19 Oct): Measuring was off.');
    const mailed = async (): Promise<string> => {
      const mails = await fetch(`${demo.simulators}/api/mails?to=ines.tallow@fernglass.example`);
      const [newest] = (await mails.json()) as { id: string }[];
      return newest ? (await fetch(`${demo.simulators}/mailbox/${newest.id}`)).text() : '';
    };
    const until = Date.now() + 60_000;
    while (!(await mailed()).includes('without 19 Oct') && Date.now() < until) await person.settles();
    expect(await mailed()).toContain('without 19 Oct');
  });

  it('adds a metric by formula, sees the fault where it is, and finds the metric in Figures', async () => {
    await person.goes(`${demo.url}/clients/${client}/metrics`);
    await person.press('Add a metric by formula', 'button');
    await person.fill('Name', 'Pages per order', 'textbox');
    await person.fill('Formula', 'pageViews / order', 'textbox');
    await person.sees('At character 13: Unknown metric: order.');
    expect(await person.reads('mark')).toBe('order');
    await person.fill('Formula', 'pageViews / orders', 'textbox');
    const result = await person.page.waitForSelector('dl[aria-label="Result"]');
    const views = await rawSum('pageViews', () => true);
    const expected = whole.format(views / (await rawSum('orders', () => true)));
    expect(await result!.evaluate((e) => e.textContent)).toContain(`October 2026${expected}`);
    await person.press('Save', 'button');
    await person.sees('pagesPerOrder');
    await person.goes(`${demo.url}/figures?client=${client}`);
    await person.press('Metrics: Visits', 'button');
    await person.press('Pages per order', 'checkbox');
    await person.page.waitForFunction(() => location.search.includes('pagesPerOrder'));
    await person.sees('Visits and Pages per order');
  });

  it('sets a target and sees where the month will end', async () => {
    await person.goes(`${demo.url}/clients/${client}/targets`);
    await person.press('Set a target', 'button');
    await person.choose('form select', 'visits');
    await person.fill('Target', '31000', 'textbox');
    await person.press('Save', 'button');
    await person.sees('at least 31,000');
    // On the second of a month nobody knows.
    await person.sees('too early for a forecast');
    await person.goes(`${demo.url}/clients/${client}`);
    await person.sees('Performance');
    await person.sees('31,000');
  });
});

describe('an analyst, of a part', () => {
  it('sets a target for one channel, against which that channel alone is held', async () => {
    await person.goes(`${demo.url}/clients/${client}/targets`);
    await person.press('Set a target', 'button');
    await person.choose('form select', 'orders');
    await person.fill('Target', '90', 'textbox');
    await person.choose('select[aria-label="Filter by"]', 'channel');
    await person.pressText('Email');
    await person.press('Save', 'button');
    await person.sees('only Channel Email');
    const figures = `${demo.url}/figures?client=${client}&metrics=orders&compare=target&period=2026-11-01..2026-11-30`;
    await person.goes(`${figures}&filter=channel%3DEmail`);
    await person.sees('from 90');
    await person.goes(`${figures}&filter=channel%3DDirect`);
    await person.sees('no target for the whole period');
  });

  it('chooses whether an edition waits where an odd day turns a verdict round', async () => {
    await person.goes(`${demo.url}/sending`);
    await person.press('Send on time with a note', 'radio');
    await person.page.waitForFunction(async () => !(await (await fetch('/api/sending')).json()).waitsForOddDays);
    await person.page.waitForSelector('input[value="send"]:checked');
    await person.press('Hold for review', 'radio');
    await person.page.waitForFunction(async () => (await (await fetch('/api/sending')).json()).waitsForOddDays);
  });
});

describe('every view of figures', () => {
  it('can be used by those who do not see it: nothing serious is found', async () => {
    const figures = `/figures?client=${client}&metrics=visits,revenue,bounceRate`;
    const of = 'of=orderRate~2026-10-01..2026-10-31~device=Mobile';
    const views = ['/figures', figures, `${figures}&by=channel`, `${figures}&see=why`, `${figures}&see=rhythm`];
    for (const view of [...views, `${figures}&${of}`, `/clients/${client}/targets`, `/clients/${client}/metrics`]) {
      await person.turnsTo(view);
      expect([view, await seriousFaults(person.page)]).toEqual([view, []]);
    }
  });
});
