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

/** A person at a client's report. */
async function atReport(client: string, title: string) {
  const { demo, newPage } = fixture();
  const person = new Person(await newPage());
  await person.comesIn(demo.url, 'Ines Tallow');
  const get = <T>(path: string) => person.page.evaluate(async (p) => (await fetch(p)).json(), path) as Promise<T>;
  const named = await get<{ id: string; name: string }[]>('/api/clients/names');
  const { id: clientId } = named.find((c) => c.name === client)!;
  const reports = await get<{ id: string; title: string }[]>(`/api/clients/${clientId}/reports`);
  const { id } = reports.find((r) => r.title === title)!;
  const blocks = async (): Promise<Block[]> => {
    const { document } = await get<{ document: { pages: { rows: { blocks: Block[] }[] }[] } }>(`/api/reports/${id}`);
    return document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
  };
  await person.goes(`${demo.url}/reports/${id}`);
  return { person, clientId, id, blocks };
}

/** What stands on the sheets. */
const sheets = (person: Person) => person.reads('.desk-well');

describe('a part of a report', () => {
  it('gets its own width, dates and filter, and the filter a name that Figures and the client’s page know', async () => {
    const { person, clientId, blocks } = await atReport('Mosswick Botanic Garden', 'Monthly overview');
    const { page } = person;
    await person.press('Add a block');
    // By its short name: its picture says nothing to who hears it.
    await person.press('Ranking', 'button');
    await person.sees('It covers');
    await person.press('Width of the block: an equal share of the row');
    await person.press('half the width', 'radio');
    await person.press('Dates of the block: the report’s dates');
    await person.press('last week', 'radio');
    await person.press('Filter of the block: what the report counts');
    await person.choose('select[aria-label="Filter by"]', 'device');
    await page.locator('::-p-aria(Mobile[role="checkbox"])').click();
    await person.press('Save as segment');
    await person.fill('Segment name', 'Phones');
    await person.press('Save segment');
    // Beneath the title of the block, on its sheet.
    await page.waitForFunction(() => /Phones/.test(document.querySelector('.desk-well')?.textContent ?? ''));
    await person.sees('Draft saved');
    const made = (await blocks()).find((b) => b.columns === 6)!;
    expect(made).toMatchObject({
      kind: 'ranking',
      period: { kind: 'unit', unit: 'week', offset: -1 },
      filter: [{ dimension: 'segment', how: 'only' }],
    });
    expect(await seriousFaults(page)).toEqual([]);

    await person.goes(`${fixture().demo.url}/clients/${clientId}/metrics`);
    await person.sees('Phones');
    await person.sees('in Monthly overview');

    // Back to what the report has, by the same sentence.
    await page.goBack();
    await person.goes(page.url());
    await person.goes(`${page.url().split('?')[0]}?block=${made.id}`);
    await person.press('Filter of the block: Phones');
    await person.press('Same as the report');
    await person.sees('what the report counts');
    await page.waitForFunction(
      async (id) => {
        const path = location.pathname.replace('/reports/', '/api/reports/');
        const { document: d } = await (await fetch(path)).json();
        const all = d.pages.flatMap((p: { rows: { blocks: { id: string; filter?: unknown }[] }[] }) =>
          p.rows.flatMap((r) => r.blocks),
        );
        return all.find((b: { id: string }) => b.id === id)?.filter === undefined;
      },
      { polling: 200 },
      made.id,
    );
  });

  it('is written with live figures, and says on the page what it cannot find', async () => {
    const { person, blocks } = await atReport('Mosswick Botanic Garden', 'Visits week');
    const { page } = person;
    await person.press('Add a block');
    await page.locator('.offer ::-p-text(Commentary)').click();
    await person.press('standing', 'radio');
    await person.fill('Fixed commentary', 'Visits came to {{figure.visitz}}.');
    await page.waitForFunction(() =>
      /No longer available: \{\{figure\.visitz\}\}/.test(document.querySelector('.desk-well')?.textContent ?? ''),
    );
    await person.fill('Fixed commentary', '**Visits** came to {{figure.visits}}.');
    // As the page has it for a week of which four days have come.
    await page.waitForFunction(() =>
      /Visits came to [\d,]+\s\(4 of 7 days\)\./.test(document.querySelector('.desk-well')?.textContent ?? ''),
    );
    await person.sees('Draft saved');
    expect((await blocks()).some((b) => b.text === '**Visits** came to {{figure.visits}}.')).toBe(true);
    expect(await sheets(person)).not.toContain('{{');
  });

  it('may assume something, which a schedule sets anew', async () => {
    const { person, clientId } = await atReport('Nightjar Rail Holidays', 'Demandes et réservations');
    const { page } = person;
    await person.fill('Marge by default', '25');
    await person.sees('Draft saved');
    await person.press('What-if');
    await page.waitForFunction(() => /Marge\s20,0\s%/.test(document.querySelector('.desk-well')?.textContent ?? ''));
    const [schedule] = (await page.evaluate(
      async (p) => (await fetch(p)).json(),
      `/api/clients/${clientId}/schedules`,
    )) as { id: string; input: { assumed: Record<string, number> } }[];
    expect(schedule!.input.assumed).toEqual({ margin: 0.2 });
    await person.goes(`${fixture().demo.url}/schedules/${schedule!.id}`);
    await person.press('Assumptions: Marge 20.0%');
    await person.fill('Marge (%)', '30');
    await page.keyboard.press('Escape');
    await person.sees('Marge 30.0%');
    await person.press('Save changes');
    await page.waitForFunction(
      async (id) => (await (await fetch(`/api/schedules/${id}`)).json()).input.assumed.margin === 0.3,
      { polling: 200 },
      schedule!.id,
    );
  });
});
