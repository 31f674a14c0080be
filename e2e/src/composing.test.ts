import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { seriousFaults } from './accessibility.ts';
import { Person } from './browser.ts';
import { useFixture } from './fixture.ts';

const fixture = useFixture();

interface Block {
  id: string;
  kind: string;
  [choice: string]: unknown;
}
interface Design {
  pages: { id: string; title: string; rows: { id: string; blocks: Block[] }[] }[];
}

const asks = <T>(page: Page, method: string, path: string, body?: object) =>
  page.evaluate(
    async (m, p, b) => {
      const { csrf } = await (await fetch('/api/session')).json();
      const headers = { 'content-type': 'application/json', 'x-csrf-token': csrf };
      return (await fetch(p, { method: m, headers, ...(b && { body: JSON.stringify(b) }) })).json();
    },
    method,
    path,
    body,
  ) as Promise<T>;

/** A report of its own for a test, of the shop’s design. */
async function newReport(page: Page, title: string, client = 'Mosswick Botanic Garden'): Promise<string> {
  const clients = await asks<{ id: string; name: string }[]>(page, 'GET', '/api/clients/names');
  const { id } = clients.find((c) => c.name === client)!;
  return (await asks<{ id: string }>(page, 'POST', `/api/clients/${id}/reports`, { title, starter: 'shop' })).id;
}

const designOf = async (page: Page, report: string) =>
  (await asks<{ document: Design }>(page, 'GET', `/api/reports/${report}`)).document;

/** What stands where, by everything but ids: two reports that read alike are alike. */
const shape = ({ pages }: Design) =>
  pages.map(({ title, rows }) => ({
    title,
    rows: rows.map(({ blocks }) => blocks.map(({ id: _, ...block }) => block)),
  }));

async function comesTo(name: string, path: string): Promise<Person> {
  const { demo, newPage } = fixture();
  const person = new Person(await newPage());
  await person.comesIn(demo.url, name);
  await person.goes(`${demo.url}${path}`);
  return person;
}

/** Opens a report on its own sheets, whole ones, all of whose blocks can be reached. */
async function opens(person: Person, report: string): Promise<void> {
  await person.goes(`${fixture().demo.url}/reports/${report}?look=own`);
  await person.page.waitForSelector('.sheet-block');
  await person.settles();
}

const saved = async (person: Person): Promise<void> => {
  await person.page.waitForFunction(
    () => document.querySelector('.composer-bar')?.textContent?.includes('Draft saved'),
    {
      polling: 100,
    },
  );
};

/** The ids of a report’s blocks of a kind, in reading order. */
const idsOf = ({ pages }: Design, kind: string): string[] =>
  pages.flatMap((p) => p.rows.flatMap((r) => r.blocks.flatMap((b) => (b.kind === kind ? b.id : []))));

/** Drags from the middle of one thing to a part of another, as a hand does: with a pause where it lets go. */
async function drags(page: Page, from: string, to: string, part: { x: number; y: number }): Promise<void> {
  const box = async (selector: string) => {
    const found = (await page.waitForSelector(selector))!;
    await found.evaluate((e) => e.scrollIntoView({ block: 'nearest' }));
    return (await found.boundingBox())!;
  };
  const target = await box(to);
  const source = await box(from);
  const end = await box(to);
  expect(target.width).toBe(end.width);
  const { mouse } = page;
  await mouse.move(source.x + source.width / 2, source.y + source.height / 2);
  await mouse.down();
  await mouse.move(source.x + source.width / 2 + 8, source.y + source.height / 2 + 8, { steps: 4 });
  await mouse.move(end.x + end.width * part.x, end.y + end.height * part.y, { steps: 10 });
  await page.waitForSelector('.drop-line[style*="block"]');
  await mouse.up();
  await page.waitForFunction(() => document.querySelector('.drop-line') === null, { polling: 50 });
}

const outline = (id: string) => `.outline [data-block="${id}"]`;

/** Presses Tab until what has the focus is found: no pointer helps. */
async function tabsTo(page: Page, selector: string): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (await page.evaluate((s) => document.activeElement?.matches(s) ?? false, selector)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`${selector} is not reached by the keyboard`);
}

/** Keys pressed together. */
async function chord(page: Page, ...keys: Parameters<Page['keyboard']['press']>[0][]): Promise<void> {
  const last = keys.pop()!;
  for (const key of keys) await page.keyboard.down(key);
  await page.keyboard.press(last);
  for (const key of keys.reverse()) await page.keyboard.up(key);
}

/** Goes to a block by the arrow keys, from wherever in the outline. */
async function arrowsTo(page: Page, id: string): Promise<void> {
  for (let i = 0; i < 60; i++) {
    const at = await page.evaluate(() => (document.activeElement as HTMLElement | null)?.dataset.block ?? null);
    if (at === id) return;
    const order = await page.$$eval('.outline [data-block]', (all) => all.map((e) => (e as HTMLElement).dataset.block));
    await page.keyboard.press(order.indexOf(at ?? '') < order.indexOf(id) ? 'ArrowDown' : 'ArrowUp');
    await page.waitForFunction(
      (before) => (document.activeElement as HTMLElement | null)?.dataset.block !== before,
      { polling: 20 },
      at ?? undefined,
    );
  }
  throw new Error('the arrow keys do not reach it');
}

/** Waits until an element has stood at its place for half a second of frames. */
async function stands(page: Page, selector: string): Promise<void> {
  await page.waitForFunction(
    (of) => {
      const seen = window as unknown as { place?: string; frames?: number };
      const { x, y } = document.querySelector(of)!.getBoundingClientRect();
      const place = `${x} ${y}`;
      seen.frames = seen.place === place ? (seen.frames ?? 0) + 1 : 0;
      seen.place = place;
      return seen.frames > 30;
    },
    { polling: 'raf' },
    selector,
  );
}

describe('a report', () => {
  it('is composed alike by a hand on the mouse and by the keyboard alone', async () => {
    const mouse = await comesTo('Ines Tallow', '/clients');
    const first = await newReport(mouse.page, 'By mouse');
    await opens(mouse, first);
    const before = await designOf(mouse.page, first);
    const ids = (kind: string) => idsOf(before, kind);
    const { page } = mouse;
    // The second trend comes to stand above the figures before it.
    await drags(page, outline(ids('trend')[1]!), outline(ids('kpiRow')[1]!), { x: 0.5, y: 0.2 });
    // The ranking of countries leaves its row, for one of its own above.
    await drags(page, outline(ids('ranking')[3]!), outline(ids('ranking')[1]!), { x: 0.5, y: 0.8 });
    // The ranking of channels grows by two columns.
    await page.locator(outline(ids('ranking')[0]!)).click();
    await mouse.settles();
    const handle = (await page.waitForSelector('.sheet-block.chosen-block .handle'))!;
    await handle.evaluate((e) => e.scrollIntoView({ block: 'center' }));
    // What was drawn for the edits before may still move it from under the hand.
    await stands(page, '.sheet-block.chosen-block .handle');
    const [grip, sheet] = [(await handle.boundingBox())!, (await (await page.$('.sheet'))!.boundingBox())!];
    const column = (sheet.width * (595.28 - 85.04)) / 595.28 / 12;
    await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
    await page.mouse.down();
    await page.mouse.move(grip.x + grip.width / 2 + 2 * column, grip.y + grip.height / 2, { steps: 6 });
    await mouse.sees('8 of 12 columns');
    await page.mouse.up();
    // A heading below the opening, from the palette.
    await page.locator(outline(ids('opening')[0]!)).click();
    await mouse.press('Add a block');
    await page.locator('.offer ::-p-text(Heading)').click();
    await page.waitForFunction(() => document.querySelector('.offer') === null);
    // The drivers go, the second page comes twice, and the first figures stand on its copy, too.
    await page.locator(outline(ids('drivers')[0]!)).click();
    await mouse.press('Remove');
    await page.locator(`[data-page="${before.pages[1]!.id}"]`).click();
    await mouse.press('Duplicate');
    await page.waitForFunction(() => document.querySelectorAll('[data-page]').length === 3);
    await page.locator(outline(ids('kpiRow')[0]!)).click();
    await mouse.press('Copy');
    await page.$$eval('[data-page]', (all) => (all[2] as HTMLElement).click());
    await mouse.press('Paste');
    await saved(mouse);

    const keys = await comesTo('Ines Tallow', '/clients');
    const second = await newReport(keys.page, 'By keys');
    await opens(keys, second);
    const other = await designOf(keys.page, second);
    const of = (kind: string) => idsOf(other, kind);
    const { page: board } = keys;
    await tabsTo(board, '.outline button');
    await arrowsTo(board, of('trend')[1]!);
    await chord(board, 'Alt', 'ArrowUp');
    await arrowsTo(board, of('ranking')[3]!);
    await chord(board, 'Alt', 'ArrowUp');
    await arrowsTo(board, of('ranking')[0]!);
    await chord(board, 'Alt', 'Shift', 'ArrowRight');
    await chord(board, 'Alt', 'Shift', 'ArrowRight');
    await arrowsTo(board, of('opening')[0]!);
    await board.keyboard.press('b');
    await board.waitForSelector('.palette input:focus');
    await board.keyboard.type('heading');
    await board.keyboard.press('Enter');
    await board.waitForFunction(() => document.querySelector('.palette') === null);
    await tabsTo(board, '.outline [data-block]');
    await arrowsTo(board, of('drivers')[0]!);
    await board.keyboard.press('Delete');
    await tabsTo(board, `[data-page="${other.pages[1]!.id}"]`);
    await board.keyboard.press('Enter');
    await chord(board, 'Control', 'd');
    await board.waitForFunction(() => document.querySelectorAll('[data-page]').length === 3);
    await tabsTo(board, '.outline [data-block]');
    await arrowsTo(board, of('kpiRow')[0]!);
    await chord(board, 'Control', 'c');
    const third = (await board.$$eval('[data-page]', (all) => (all[2] as HTMLElement).dataset.page))!;
    await tabsTo(board, `[data-page="${third}"]`);
    await board.keyboard.press('Enter');
    await chord(board, 'Control', 'v');
    await saved(keys);

    const [byMouse, byKeys] = [await designOf(page, first), await designOf(board, second)];
    expect(shape(byKeys)).toEqual(shape(byMouse));
    expect(shape(byMouse)).not.toEqual(shape(before));
    expect(byMouse.pages).toHaveLength(3);
    // And back again, step by step, as far as it began.
    const steps = () => board.$$eval('button', (all) => all.some((b) => b.textContent === 'Undo' && !b.disabled));
    while (await steps()) await chord(board, 'Control', 'z');
    await saved(keys);
    expect(shape(await designOf(board, second))).toEqual(shape(other));
  });

  it('is edited by two at once, over a line that breaks: nothing of either is lost, and both see the same', async () => {
    const ines = await comesTo('Ines Tallow', '/clients');
    const report = await newReport(ines.page, 'For two', 'Oatmere Dairy Co-op');
    const joren = await comesTo('Joren Vask', '/clients');
    await opens(ines, report);
    await opens(joren, report);
    const design = await designOf(ines.page, report);
    const [heading] = idsOf(design, 'heading');
    const [, trend] = idsOf(design, 'trend');
    const [ranking] = idsOf(design, 'ranking');
    await ines.page.locator(outline(heading!)).click();
    // Each sees where the other is.
    await joren.page.waitForSelector(`${outline(heading!)} .who[title="Ines Tallow is here"]`);
    await joren.page.locator(outline(heading!)).click();
    await ines.page.waitForSelector(`${outline(heading!)} .who[title="Joren Vask is here"]`);

    await joren.page.setOfflineMode(true);
    await joren.fill('Words', 'What Joren wrote');
    await joren.page.locator(outline(trend!)).click();
    await joren.fill('Title', 'A trend of Joren’s');
    await joren.sees('Not saved – retrying');
    await ines.fill('Words', 'What Ines wrote');
    await ines.page.locator(outline(ranking!)).click();
    await ines.fill('Title', 'A ranking of Ines’s');
    await chord(ines.page, 'Tab');
    await saved(ines);
    await joren.page.setOfflineMode(false);
    await saved(joren);

    // Joren’s came later: it stands, and what Ines wrote is kept before her.
    await ines.sees('Someone else changed words of Heading after you. Their version is live; yours is saved here.');
    await ines.sees('What Ines wrote');
    const both = async () => {
      const read = (page: Page) => page.$$eval('.outline [data-block]', (all) => all.map((e) => e.textContent ?? ''));
      return [await read(ines.page), await read(joren.page)].map((lines) =>
        lines.map((l) => l.replace(/[A-Z]{2} \w+ \w+ is here$/, '')),
      );
    };
    await joren.page.waitForFunction(
      () => document.querySelector('.desk-well')?.textContent?.includes('A ranking of Ines’s'),
      {
        polling: 100,
      },
    );
    const [hers, his] = await both();
    expect(hers).toEqual(his);
    const texts = JSON.stringify(shape(await designOf(ines.page, report)));
    for (const words of ['What Joren wrote', 'A trend of Joren’s', 'A ranking of Ines’s'])
      expect(texts).toContain(words);
    expect(await seriousFaults(ines.page)).toEqual([]);

    await ines.press('Use mine');
    await joren.sees('Someone else changed words of Heading after you.');
    await saved(ines);
    expect(JSON.stringify(shape(await designOf(ines.page, report)))).toContain('What Ines wrote');
  });

  it('is made from a template of another’s, which later changes it, and that is taken back', async () => {
    const ines = await comesTo('Ines Tallow', '/clients');
    const { page } = ines;
    const source = await newReport(page, 'A good month');
    await opens(ines, source);
    await ines.press('More');
    await ines.press('Save as template', 'menuitem');
    await ines.fill('Name', 'Good months');
    await ines.press('Save template');
    await ines.sees('“Good months” is now a template');

    // Another client’s report begins with it; what that client lacks is said, with what is near.
    const clients = await asks<{ id: string; name: string }[]>(page, 'GET', '/api/clients/names');
    const physio = clients.find((c) => c.name === 'Brackenhollow Physio')!.id;
    await ines.goes(`${fixture().demo.url}/clients/${physio}/reports`);
    await ines.fill('Title', 'Made from it');
    await ines.press('Good months (a template of yours)', 'radio');
    await ines.press('Create report');
    await page.waitForSelector('.sheet-block');
    await ines.sees('Draft saved');
    const made = /reports\/(\w+)/.exec(page.url())![1]!;
    expect(await seriousFaults(page)).toEqual([]);

    // The first is changed, and the template with it.
    await opens(ines, source);
    const [trend] = idsOf(await designOf(page, source), 'trend');
    await page.locator(outline(trend!)).click();
    await ines.fill('Title', 'Money from day to day');
    await page.keyboard.press('Tab');
    await saved(ines);
    await ines.press('More');
    await ines.press('Update template “Good months”', 'menuitem');
    await ines.press('Money from day to day', 'checkbox');
    await ines.press('Update template', 'button');
    await ines.sees('“Good months” is updated');
    await ines.press('More');
    await ines.press('View linked reports', 'menuitem');
    await ines.sees('title changes.');
    expect(await seriousFaults(page)).toEqual([]);
    expect(JSON.stringify(await designOf(page, made))).not.toContain('Money from day to day');
    await ines.press('Update 1 report');
    await page.waitForSelector('::-p-aria(Undo in Made from it of Brackenhollow Physio)');
    expect(JSON.stringify(await designOf(page, made))).toContain('Money from day to day');
    await ines.press('Undo in Made from it of Brackenhollow Physio', 'button');
    await ines.sees('Update 1 report');
    expect(JSON.stringify(await designOf(page, made))).not.toContain('Money from day to day');
    // What it was before, and what it was then, are kept beside each other.
    await ines.goes(`${fixture().demo.url}/reports/${made}/versions?look=own`);
    await ines.sees('Before it used the template “Good months”');
    await ines.sees('The draft now');
    expect(await seriousFaults(page)).toEqual([]);
  });

  it('tells those who do not see it of each kind of block, with its choices', async () => {
    const person = await comesTo('Ines Tallow', '/clients');
    const { page } = person;
    const report = await newReport(page, 'All kinds');
    const { version, document } = await asks<{ version: number; document: Design }>(
      page,
      'GET',
      `/api/reports/${report}`,
    );
    const clients = await asks<{ id: string; name: string }[]>(page, 'GET', '/api/clients/names');
    const { id: client } = clients.find((c) => c.name === 'Mosswick Botanic Garden')!;
    const kinds = await asks<{ kind: string; fresh: Block }[]>(page, 'GET', `/api/clients/${client}/blocks`);
    const edits = kinds.map(({ kind, fresh }) => ({
      op: 'addRow',
      page: document.pages[1]!.id,
      row: { id: `r-${kind}`, blocks: [{ ...fresh, id: `b-${kind}` }] },
      after: null,
    }));
    await asks(page, 'POST', `/api/reports/${report}/edits`, { version, edits });
    for (const [i, { kind }] of kinds.entries()) {
      await person.turnsTo(`/reports/${report}?look=own&block=b-${kind}`);
      await page.waitForSelector(`.outline [data-block="b-${kind}"][aria-pressed="true"]`);
      // The sheets are the same for each.
      expect([kind, await seriousFaults(page, i === 0 ? [] : ['svg.paper'])]).toEqual([kind, []]);
    }
    await person.press('Add a block');
    await page.waitForSelector('.offer svg');
    expect(await seriousFaults(page)).toEqual([]);
  });
});
