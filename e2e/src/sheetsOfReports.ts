import type { Page } from 'puppeteer-core';

/** Of each client a report, the kind of block that its most telling sheet has, and of which day where not of today. */
export type Telling = readonly [client: string, report: string, kind: string, asOf?: string];

interface Document {
  pages: { rows: { blocks: { id: string; kind: string }[] }[] }[];
}

/** Lays one sheet of each of these reports side by side on a page of the interface, as its composer paints them. */
export async function laySheets(page: Page, url: string, of: readonly Telling[], dates: string): Promise<void> {
  const get = <T>(path: string) => page.evaluate(async (p) => (await fetch(p)).json(), path) as Promise<T>;
  await page.goto(url);
  const clients = await get<{ id: string; name: string }[]>('/api/clients/names');
  const sheets: string[] = [];
  for (const [client, title, kind, asOf] of of) {
    const { id: clientId } = clients.find((c) => c.name === client)!;
    const reports = await get<{ id: string; title: string }[]>(`/api/clients/${clientId}/reports`);
    const { id } = reports.find((r) => r.title === title)!;
    const { document: design } = await get<{ document: Document }>(`/api/reports/${id}`);
    const block = design.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks)).find((b) => b.kind === kind)!;
    const schedules = await get<{ id: string; input: { reportId: string } }[]>(`/api/clients/${clientId}/schedules`);
    const look = asOf ? `run.${schedules.find((s) => s.input.reportId === id)!.id}.${asOf}` : dates;
    // The chosen block is brought into sight, on its sheet.
    await page.goto(`${url}/reports/${id}?look=${look}&block=${block.id}`, { waitUntil: 'networkidle0' });
    await page.waitForSelector('.desk-well .chosen-block');
    sheets.push(
      await page.$eval('.desk-well .chosen-block', (chosen) => {
        return chosen.closest('.sheet')!.querySelector('svg')!.outerHTML;
      }),
    );
  }
  await page.evaluate((all) => {
    const grid = document.createElement('div');
    grid.style.cssText =
      'display:grid;grid-template-columns:repeat(3,1fr);gap:28px;padding:28px;align-items:start;background:var(--c-desk,#e9e5da)';
    grid.innerHTML = all.join('');
    document.body.replaceChildren(grid);
  }, sheets);
}
