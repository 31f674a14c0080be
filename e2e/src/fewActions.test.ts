import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

/** A person whose presses, choices and texts are counted. */
class CountedPerson extends Person {
  actions = 0;
  override async press(name: string, role = ''): Promise<void> {
    this.actions++;
    await super.press(name, role);
  }
  override async fill(label: string, text: string, role = ''): Promise<void> {
    this.actions++;
    await super.fill(label, text, role);
  }
  override async choose(selector: string, value: string): Promise<void> {
    this.actions++;
    await super.choose(selector, value);
  }
}

let demo: RunningDemo;
let person: CountedPerson;
const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new CountedPerson(await fixture().newPage());
  await person.comesIn(demo.url, 'Ines Tallow');
});
beforeEach(() => {
  person.actions = 0;
});

/** Asks the server as the page does. */
const ask = (path: string, body?: unknown, method = 'POST'): Promise<unknown> =>
  person.page.evaluate(
    async (to, sent, how) => {
      const { csrf } = (await (await fetch('/api/session')).json()) as { csrf: string };
      const answer = await fetch(to, {
        ...(sent !== undefined && { method: how, body: JSON.stringify(sent) }),
        headers: { 'content-type': 'application/json', 'x-csrf-token': csrf },
      });
      return (await answer.json()) as unknown;
    },
    path,
    body,
    method,
  );
interface Client {
  id: string;
  name: string;
}
const clientNamed = async (name: string) =>
  ((await ask('/api/clients/names')) as Client[]).find((c) => c.name.startsWith(name))!.id;
interface Schedule {
  id: string;
  reportTitle: string;
  input: {
    reportId: string;
    rule: { freq: string };
    language: string | null;
    filter: unknown[];
    period: unknown;
    firstDate: string;
    message: string;
  };
}
const schedulesOf = async (client: string) => (await ask(`/api/clients/${client}/schedules`)) as Schedule[];

describe('an account manager in a hurry', () => {
  it('makes a weekly copy in German for one channel of a monthly schedule, in eight actions', async () => {
    const client = await clientNamed('Mosswick');
    const before = await schedulesOf(client);
    await person.goes(`${demo.url}/clients/${client}/schedules`);
    await person.press('Duplicate Monthly overview, the 2nd of each month', 'link');
    await person.sees('A copy of a schedule');
    await person.press('Rhythm: the 2nd of each month', 'button');
    await person.choose('select:has(option[value="weekly"])', 'weekly');
    await person.press('Language: English (United Kingdom)', 'button');
    await person.choose('select:has(option[value="de-DE"])', 'de-DE');
    await person.press('Filter of the schedule: everything the report counts', 'button');
    await person.press('Paid search', 'checkbox');
    // Blocks that can’t be filtered is named, and stays out.
    await person.sees('The filter can’t apply to');
    await person.press('Start without 5 blocks', 'button');
    await person.page.waitForFunction(() => location.pathname.endsWith('/schedules'));
    expect(person.actions).toBeLessThanOrEqual(8);
    const now = await schedulesOf(client);
    const copy = now.find((s) => !before.some((b) => b.id === s.id))!;
    expect(copy.input).toMatchObject({
      rule: { freq: 'weekly' },
      language: 'de-DE',
      filter: [{ dimension: 'channel', how: 'only', values: ['Paid search'] }],
      // What it covers follows its rhythm.
      period: { kind: 'unit', unit: 'week', offset: -1 },
      leftOut: expect.arrayContaining([expect.any(String)]),
    });
    expect(copy.input.message).toMatch(/Guten Tag|Hallo/);
    // The other one goes on as it was.
    expect(now).toHaveLength(before.length + 1);
    expect(now.find((s) => s.id === before[0]!.id)).toEqual(before[0]);
  });

  it('schedules a report that was never released: it is released in place, and runs', async () => {
    const client = await clientNamed('Oatmere');
    await person.goes(`${demo.url}/clients/${client}/reports`);
    await person.fill('Title', 'Shop, week by week');
    await person.press('Create report', 'button');
    await person.sees('Shop, week by week');
    await person.goes(`${demo.url}/clients/${client}/schedules/new`);
    await person.press('Report: Shop month', 'button');
    await person.press('Report', 'combobox');
    await person.press('Shop, week by week', 'option');
    await person.sees('has never been released');
    await person.press('Release now', 'button');
    await person.page.waitForFunction(() => !document.body.textContent?.includes('has never been released'));
    await person.press('Readers: nobody yet', 'button');
    await person.page.click('.mantine-Popover-dropdown input[type="checkbox"]');
    await person.page.keyboard.press('Escape');
    await person.press('Start this schedule', 'button');
    await person.sees('New schedule');
    await person.page.waitForFunction(() => location.pathname.endsWith('/schedules'));
    const made = (await schedulesOf(client)).find((s) => s.reportTitle === 'Shop, week by week');
    expect(made).toBeDefined();
  });

  it('works off eight things that need words on the Desk, and never leaves it, in twenty actions', async () => {
    const writes = async () =>
      ((await ask('/api/desk')) as { needs: { title: string; write: unknown }[] }).needs.filter((n) => n.write);
    const there = await writes();
    // Copies of a report, each with a run of its own tomorrow and no words for it.
    const oatmere = await clientNamed('Oatmere');
    const like = (await schedulesOf(oatmere)).find((s) => s.input.rule.freq === 'weekly')!;
    for (let n = there.length; n < 8; n++) {
      const title = `Shop of branch ${n}`;
      const made = (await ask(`/api/clients/${oatmere}/reports`, { title, report: like.input.reportId })) as {
        id: string;
        version: number;
      };
      await ask(`/api/reports/${made.id}/release`, { version: made.version });
      const rule = { freq: 'weekly', every: 1, weekdays: [2] };
      await ask(`/api/clients/${oatmere}/schedules`, {
        ...like.input,
        reportId: made.id,
        rule,
        firstDate: '2026-11-02',
      });
    }
    expect((await writes()).length).toBeGreaterThanOrEqual(8);
    expect(there.length).toBeLessThan(8);
    await person.goes(demo.url);
    await person.sees('Needs attention');
    const wanted = (await writes()).slice(0, 8);
    let waiting = await person.page.$$eval('.needs > li', (lines) => lines.length);
    await person.press('Write', 'button');
    for (const need of wanted) {
      await person.fill(`Commentary: ${need.title}`, `What mattered, in a sentence: ${need.title}.`, 'textbox');
      await person.press('Save', 'button');
      // Done, it is gone, and the words of the next one are open.
      waiting--;
      await person.page.waitForFunction((n) => document.querySelectorAll('.needs > li').length === n, {}, waiting);
    }
    expect(person.actions).toBeLessThanOrEqual(20);
    expect(new URL(person.page.url()).pathname).toBe('/');
    const left = (await writes()).map((n) => n.title);
    for (const need of wanted) expect(left).not.toContain(need.title);
  });
});
