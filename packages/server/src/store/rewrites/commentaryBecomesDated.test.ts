import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { documentFrom, type ReportDocument } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createClient } from '../clients.ts';
import { commentariesOf } from '../commentaries.ts';
import { addEdition, moveEdition } from '../editions.ts';
import { createMember } from '../members.ts';
import { createReport, reportById } from '../reports.ts';
import { openStore, type Store } from '../store.ts';
import { commentaryBecomesDated } from './commentaryBecomesDated.ts';

const AT = '2026-11-03T08:00:00.000Z';
let folder: string;
let store: Store;
let client: string;
let n = 0;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-rewrite-'));
  store = await openStore(folder);
  const member = { name: 'Ines', email: `i${n++}@x.example`, role: 'owner' as const, password: 'x', at: AT };
  const { id: managerId } = await createMember(store, member);
  const input = {
    name: 'Tarnbeck',
    site: '',
    zone: 'Europe/London',
    currency: 'GBP',
    language: 'en-GB',
    weekStart: 1,
    fiscalStart: 1,
    startDate: '2025-01-01',
  };
  client = (await createClient(store, input, { managerId, at: AT })).id;
});
afterEach(async () => {
  await store.destroy();
  rmSync(folder, { recursive: true, force: true });
});

/** A report as it was stored before commentary had a period. */
async function stored(text: string): Promise<string> {
  const document = documentFrom('shop', wordsFor('en-GB'), () => `b${n++}`);
  for (const b of document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks))) {
    if (b.kind !== 'commentary') continue;
    b.text = text;
    delete (b as { span?: string }).span;
  }
  return (await createReport(store, { clientId: client, title: 'R', document, at: AT })).id;
}
const blockOf = (document: ReportDocument) =>
  document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks)).find((b) => b.kind === 'commentary')!;

describe('commentary of reports stored before', () => {
  it('belongs to the period of the last edition that showed it, and leaves the report', async () => {
    const report = await stored('A strong October.');
    const id = await addEdition(store, {
      clientId: client,
      reportId: report,
      kind: 'by-hand',
      scheduleId: null,
      nominal: null,
      orders: {
        title: 'R',
        period: { kind: 'unit', unit: 'month', offset: -1 },
        comparison: { kind: 'none' },
        asOf: '2026-11-03',
        readers: [],
        subject: 's',
        message: 'm',
      },
      dates: { period: { from: '2026-10-01', to: '2026-10-31' }, compared: null },
      state: 'planned',
      reason: null,
      dueAt: AT,
      nextAt: AT,
      madeBy: null,
      at: AT,
    });
    const by = { at: AT, actor: 'scheduler' };
    await moveEdition(store, { id: id!, state: 'planned' }, 'collecting', {}, by);
    await moveEdition(store, { id: id!, state: 'collecting' }, 'ready', { pdf: 'x', frozen: 'y' }, by);
    await commentaryBecomesDated(store);
    const after = (await reportById(store, report))!;
    expect(blockOf(after.document)).toMatchObject({ span: 'period', text: '' });
    expect(blockOf(after.release!.document)).toMatchObject({ span: 'period', text: '' });
    expect(await commentariesOf(store, report)).toMatchObject([
      { period: { from: '2026-10-01', to: '2026-10-31' }, released: 'A strong October.' },
    ]);
  });

  it('that no edition has shown stands, for a person to look at', async () => {
    const report = await stored('Never sent.');
    await commentaryBecomesDated(store);
    expect(blockOf((await reportById(store, report))!.document)).toMatchObject({
      span: 'standing',
      text: 'Never sent.',
    });
    expect(await commentariesOf(store, report)).toEqual([]);
  });
});
