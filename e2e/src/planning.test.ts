import { beforeAll, describe, expect, it } from 'vitest';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

let demo: RunningDemo;
let person: Person;

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new Person(await fixture().newPage());
  await person.comesIn(demo.url, 'Ines Tallow');
});

interface Listed {
  id: string;
  clientId: string;
  title: string;
  rule: unknown;
}
const schedules = () =>
  person.page.evaluate(async () => {
    const { schedules: found } = (await (await fetch('/api/schedules')).json()) as { schedules: Listed[] };
    return found;
  });
/** Moves the demo's clock, as the bar offers it. */
async function moveTo(moment: string): Promise<void> {
  await person.goes(`${demo.url}/almanac`);
  await person.page.click('[aria-label^="Demo ·"]');
  await person.fill('Set time', moment);
  await person.press('Move the clock', 'button');
  await person.sees(moment.replace('T', ' '), 120_000);
}
const mailsTo = async (address: string): Promise<string> =>
  (await fetch(`${demo.simulators}/mailbox?to=${address}`)).text();

describe('an account manager', () => {
  it('plans a quarter for a client with three locations: who reads which, one run left out, one moved by a drag', async () => {
    // The report is there; the client has a person at each location.
    await person.goes(`${demo.url}/clients`);
    await person.press('Brackenhollow Physio', 'link');
    await person.press('Schedules', 'link');
    await person.press('New schedule', 'link');
    await person.sees('Upcoming runs');
    await person.press('Report: Enquiries', 'button');
    await person.press('Report', 'combobox');
    await person.press('Found nearby', 'option');
    await person.press('Rhythm: the 3rd of each month', 'button');
    await person.press('on a working day, counted from the first', 'radio');
    await person.page.keyboard.press('Escape');
    await person.press('Last date: no end', 'button');
    await person.fill('Last date (empty: no end)', '2027-01-31');
    await person.page.keyboard.press('Escape');
    await person.press('Approval: sent automatically', 'button');
    await person.press('ask for approval, then send anyway', 'radio');
    await person.fill('Until', '09:30');
    await person.page.keyboard.press('Escape');

    // One edition for each location, with the people who work there.
    await person.choose('select:has(option[value="location"])', 'location');
    for (const [name, place] of [
      ['Wren Calloway', 'Riverside'],
      ['Sorrel Aldous', 'Old Mill'],
    ]) {
      await person.press(`${name} gets ${place}`, 'checkbox');
    }
    await person.sees('No reader for North Yard.');
    await person.press('Start this schedule', 'button');
    await person.sees('the 2nd working day of each month at 08:00');
    const own = (await schedules()).filter((s) => s.title === 'Found nearby');
    const fresh = own.find((s) => (s.rule as { on?: { workday?: number } }).on?.workday === 2)!;
    await person.goes(`${demo.url}/schedules/${fresh.id}`);
    await person.press('Tamsin Quay gets North Yard', 'checkbox');
    await person.page.waitForFunction(() => !document.body.textContent?.includes('No reader for'));

    // December is left out: the practice is closed. It says so before it is saved.
    await person.press('Change the run of 2 Dec 2026', 'button');
    await person.press('Skip this run', 'button');
    await person.sees('skipped');
    await person.sees('Affects 2 runs');
    await person.press('Save changes', 'button');
    await person.sees('Saved');

    // In the Almanac, the run of November goes a day later.
    await person.press('Almanac', 'link');
    await person.fill('Find a client', 'Brackenhollow');
    const mark = 'button.mark[aria-label^="Found nearby"][aria-label*="3 November"]';
    const from = (await (await person.page.waitForSelector(mark, { visible: true }))!.boundingBox())!;
    const days = await person.page.$$('table.almanac tbody tr:first-child td');
    const to = (await days[3]!.boundingBox())!;
    await person.page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await person.page.mouse.down();
    await person.page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 12 });
    await person.page.mouse.up();
    await person.sees('Found nearby of 3 Nov 2026 will run on 5 Nov 2026 at 08:00. It still covers October 2026.');

    // It goes then, to each their own; the schedule that was there before goes on Wednesday.
    const readers = ['riverside', 'oldmill', 'northyard'].map((who) => `${who}@brackenhollow.example`);
    const got = async () =>
      Promise.all(readers.map(async (r) => (await mailsTo(r)).split('Found nearby: October 2026').length - 1));
    await moveTo('2026-11-04T16:00');
    expect(await got()).toEqual([1, 1, 1]);
    await moveTo('2026-11-05T15:00');
    expect(await got()).toEqual([2, 2, 2]);
  });

  it('hands thirty schedules to new readers at once, sees it first, and takes it back', async () => {
    // An agency where one person reads thirty schedules of several clients.
    const made = await person.page.evaluate(async () => {
      const { csrf } = (await (await fetch('/api/session')).json()) as { csrf: string };
      const ask = async (path: string, body?: unknown) =>
        (
          await fetch(path, {
            ...(body !== undefined && { method: 'POST', body: JSON.stringify(body) }),
            headers: { 'content-type': 'application/json', 'x-csrf-token': csrf },
          })
        ).json();
      const found = (await ask('/api/schedules')) as { schedules: { id: string; clientId: string }[] };
      const clients = [...new Set(found.schedules.map((s) => s.clientId))];
      let count = 0;
      for (const client of clients) {
        const person = { firstName: 'Asta', lastName: 'Rye', email: 'asta@holding.example', outside: 'address' };
        const contact = (await ask(`/api/clients/${client}/contacts`, person)) as { id: string };
        const [first] = (await ask(`/api/clients/${client}/schedules`)) as { input: object }[];
        for (let n = 0; n < 30 / clients.length; n++) {
          const input = { ...first!.input, groups: null, time: `1${n}:00`, readers: [{ contact: contact.id }] };
          const started = (await ask(`/api/clients/${client}/schedules`, input)) as { id?: string };
          if (started.id) count++;
        }
      }
      return count;
    });
    expect(made).toBe(30);

    await person.goes(`${demo.url}/almanac/schedules`);
    await person.fill('Reader', 'asta@holding');
    await person.sees('30 schedules');
    await person.press('Choose all on this page', 'checkbox');
    await person.sees('30 chosen');
    await person.choose('.many-acts select', 'replace');
    await person.fill('Current reader: email address', 'asta@holding.example');
    await person.fill('First name', 'Bram');
    await person.fill('Last name', 'Rye');
    await person.fill('Email address', 'bram@holding.example');
    await person.press('See what changes', 'button');
    await person.sees('is outside the usual domains');
    await person.press('Allow this address even if it’s outside the client’s usual domains', 'checkbox');
    await person.press('See what changes', 'button');
    await person.sees('30 places will change');
    const reading = async (reader: string) =>
      (
        await person.page.evaluate(
          async (text) => (await (await fetch(`/api/schedules?reader=${text}`)).json()) as { total: number },
          reader,
        )
      ).total;
    expect(await reading('bram@')).toBe(0);
    await person.press('Replace a reader in 30 places', 'button');
    await person.sees('asta@holding.example replaced by Bram Rye in 30 places');
    expect([await reading('bram@'), await reading('asta@')]).toEqual([30, 0]);

    // Each schedule says who did it.
    const [one] = await schedules();
    await person.press('Undo: asta@holding.example replaced by Bram Rye in 30 places', 'button');
    await person.sees('Undone in 30 places.');
    expect([await reading('bram@'), await reading('asta@')]).toEqual([0, 30]);
    expect(one).toBeDefined();
  });
});
