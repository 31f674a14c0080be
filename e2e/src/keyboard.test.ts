import type { HTTPRequest } from 'puppeteer-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';
import type { RunningDemo } from './launch.ts';

/** What somebody does who has no mouse, or a phone. */
let demo: RunningDemo;
let person: Person;
let ids: { client: string; report: string; edition: string };

const fixture = useFixture();
beforeAll(async () => {
  demo = fixture().demo;
  person = new Person(await fixture().newPage());
  await person.comesIn(demo.url, 'Ines Tallow');
  ids = await person.page.evaluate(async () => {
    const get = async (path: string) => (await fetch(path)).json();
    const clients = (await get('/api/clients/names')) as { id: string; name: string }[];
    const client = clients.find((c) => c.name.startsWith('Mosswick'))!.id;
    const [report] = (await get(`/api/clients/${client}/reports`)) as { id: string }[];
    const [edition] = ((await get('/api/editions')) as { editions: { id: string }[] }).editions;
    return { client, report: report!.id, edition: edition!.id };
  });
});

const ALMANAC = ['/almanac', '/almanac/schedules', '/almanac/ahead', '/almanac/readers'];

/** Fields of dates and times have parts of their own, each of which takes the tabulator. */
const PARTS = 6;

/** Goes on with the tabulator until the page is over. @returns how many things had the focus; -1 where it was caught */
async function wayThrough(): Promise<number> {
  await person.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  let held = 0;
  for (let n = 0; n < 400; n++) {
    await person.page.keyboard.press('Tab');
    const where = await person.page.evaluate(() => {
      const now = document.activeElement;
      const same = now !== null && now === (window as { before?: Element }).before;
      (window as { before?: Element | null }).before = now;
      return now === document.body || now === null ? 'over' : same ? 'caught' : 'on';
    });
    if (where === 'over') return n;
    held = where === 'caught' ? held + 1 : 0;
    if (held > PARTS) return -1;
  }
  return -1;
}

describe('the scope', () => {
  it('offers the clients, finds one by typing, and another one from there', async () => {
    const { page } = person;
    const options = () => page.$$eval('[role="option"]', (all) => all.map((o) => o.textContent ?? ''));
    const offered = async (name: string) => {
      await page.waitForFunction(
        (n) => [...document.querySelectorAll('[role="option"]')].some((o) => o.textContent === n),
        {},
        name,
      );
      return options();
    };
    await person.turnsTo('/almanac');
    await page.focus('input[aria-label="Scope"]');
    await page.keyboard.press('ArrowDown');
    expect(await offered('Mosswick Botanic Garden')).toEqual(
      expect.arrayContaining(['All clients', 'Mosswick Botanic Garden', 'Quillon Cycle Works']),
    );
    await page.keyboard.type('quillon');
    await offered('Quillon Cycle Works');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => /client=cl_/.test(location.search));
    // What is chosen is no search: the others are there again.
    await page.keyboard.press('ArrowDown');
    expect(await offered('Mosswick Botanic Garden')).toContain('Quillon Cycle Works');
    await page.keyboard.press('Escape');
    await person.turnsTo('/almanac');
  });
});

describe('a phone', () => {
  it('shows no place wider than itself', async () => {
    const { client, report, edition } = ids;
    const parts = [
      '',
      '/feeds',
      '/contacts',
      '/reports',
      '/schedules',
      '/schedules/new',
      '/targets',
      '/metrics',
      '/brand',
    ];
    const places = [
      ...['/', '/clients', '/archive', '/sending', '/me', '/connect', `/figures?client=${client}`],
      ...ALMANAC,
      ...parts.map((p) => `/clients/${client}${p}`),
      ...[`/reports/${report}`, `/editions/${edition}`],
    ];
    await person.page.setViewport({ width: 390, height: 844 });
    const wide: Record<string, string[]> = {};
    for (const place of places) {
      await person.turnsTo(place);
      const beyond = await person.page.evaluate(() =>
        document.documentElement.scrollWidth <= innerWidth
          ? []
          : [...document.querySelectorAll('main *')]
              .filter((e) => e.getBoundingClientRect().right > innerWidth + 1)
              .map((e) => `${e.tagName}.${e.className}`)
              .slice(0, 6),
      );
      if (beyond.length > 0) wide[place] = beyond;
    }
    await person.page.setViewport({ width: 1280, height: 800 });
    expect(wide).toEqual({});
  });
});

describe('the keyboard alone', () => {
  it('comes into every place and out of it again', async () => {
    const { client, report, edition } = ids;
    const places = [
      '/',
      '/clients',
      '/archive',
      ...ALMANAC,
      '/sending',
      '/connect',
      `/figures?client=${client}`,
      `/clients/${client}/brand`,
      `/clients/${client}/contacts`,
      `/clients/${client}/schedules/new`,
      `/reports/${report}`,
      `/editions/${edition}`,
    ];
    const ways: Record<string, boolean> = {};
    for (const place of places) {
      await person.turnsTo(place);
      ways[place] = (await wayThrough()) > 6;
    }
    expect(ways).toEqual(Object.fromEntries(places.map((p) => [p, true])));
  });

  it('knows whose a report is, goes back to that client, and loses nothing that was typed', async () => {
    const scope = () => person.page.$eval('input[aria-label="Scope"]', (input) => (input as HTMLInputElement).value);
    await person.goes(`${demo.url}/reports/${ids.report}`);
    await person.sees('Draft saved');
    await person.page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('input[aria-label="Scope"]')?.value === 'Mosswick Botanic Garden',
    );
    await person.press('Mosswick Botanic Garden', 'link');
    await person.sees('New report');
    expect(await scope()).toBe('Mosswick Botanic Garden');
    await person.goes(`${demo.url}/clients/${ids.client}/contacts`);
    await person.fill('First name', 'Ottoline');
    await person.press('Desk', 'link');
    await person.sees('Unsaved changes');
    await person.press('Stay here', 'button');
    await person.page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
    expect(await person.page.$eval('form input', (input) => (input as HTMLInputElement).value)).toBe('Ottoline');
    await person.press('Desk', 'link');
    await person.press('Leave without saving', 'button');
    await person.sees('Needs attention');
  });

  it.each([390, 1280])(
    'finds what is to be pressed where it was, though a client comes late (%d px)',
    async (width) => {
      const { page } = person;
      await page.setViewport({ width, height: 800 });
      let answered = () => {};
      const answer = new Promise<void>((resolve) => {
        answered = resolve;
      });
      const isOfIt = (request: HTTPRequest) => new URL(request.url()).pathname === `/api/clients/${ids.client}`;
      const hold = (request: HTTPRequest) =>
        void (isOfIt(request) ? answer : Promise.resolve()).then(() => request.continue());
      const place = async () =>
        (await (await page.waitForSelector('::-p-aria(Set-up[role="link"])'))!.boundingBox())!.y;
      await page.setRequestInterception(true);
      page.on('request', hold);
      const asked = page.waitForRequest(isOfIt);
      await page.goto(`${demo.url}/clients/${ids.client}`);
      await asked;
      const before = await place();
      answered();
      await person.sees('Data health');
      page.off('request', hold);
      await page.setRequestInterception(false);
      expect(await place()).toBe(before);
    },
  );

  it('chooses a client, and types a colour', async () => {
    await person.goes(demo.url);
    await person.page.focus('header a');
    await person.page.keyboard.press('Tab');
    await person.page.keyboard.type('Oatm');
    await person.page.waitForFunction(() => document.querySelectorAll('[role=option]').length === 1);
    await person.page.keyboard.press('ArrowDown');
    await person.page.keyboard.press('Enter');
    await person.page.waitForFunction(() => location.search.includes('client='));
    await person.goes(`${demo.url}/clients/${ids.client}/brand`);
    await person.fill('Main colour', '#8a2b52', 'textbox');
    await person.page.keyboard.press('Enter');
    await person.sees('Saved');
    const main = await person.page.evaluate(
      async (id) => ((await (await fetch(`/api/clients/${id}`)).json()) as { brand: { main: string } }).brand.main,
      ids.client,
    );
    expect(main).toBe('#8a2b52');
  });
});

describe('a member', () => {
  it('changes the password, and ends a session that was left open elsewhere', async () => {
    const [here, elsewhere] = [new Person(await fixture().newPage()), new Person(await fixture().newPage())];
    for (const who of [here, elsewhere]) {
      await who.comesIn(demo.url, 'Mirel Oke');
    }
    await here.press('MO: Mirel Oke, reviewer', 'button');
    await here.press('Your account', 'menuitem');
    await here.sees('this device');
    await here.pressText('End');
    await here.page.waitForFunction(() => document.querySelectorAll('table.list tbody tr').length === 1);
    await elsewhere.goes(demo.url);
    await elsewhere.sees('Sign in as');

    await here.fill('Current password', 'quiet-harbour-88');
    await here.fill('New password', 'harbourharbour88');
    await here.fill('Confirm new password', 'harbourharbour88');
    await here.press('Change it', 'button');
    await here.sees('Too easy to guess');
    await here.fill('New password', 'seven teaspoons of moss');
    await here.fill('Confirm new password', 'seven teaspoons of moss');
    await here.press('Change it', 'button');
    await here.sees('You’ve been signed out on other devices.');
    await elsewhere.fill('Email address', 'mirel.oke@fernglass.example');
    await elsewhere.fill('Password', 'seven teaspoons of moss');
    await elsewhere.press('Sign in', 'button');
    await elsewhere.sees('Needs attention');
  });
});
