import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { DrawOrder } from '@chronicon/core/page';
import { documentFrom } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { askedBy } from '../platform/asking.ts';
import { BudgetError } from '../platform/budget.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { clientById } from '../store/clients.ts';
import { type Furnished, openFurnishedFixture, type TestFixture } from '../test/harness.ts';
import { createWorkers, openPools, THREADS_ON_DEMAND, type Workers } from './workers.ts';

let fixture: TestFixture;
let f: Furnished;
let workers: Workers;
let order: DrawOrder;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  workers = createWorkers(fixture.config.data, { person: 8_000, edition: 30_000 });
  await workers.warm();
  const client = (await clientById(fixture.server.store, f.client))!;
  let n = 0;
  order = {
    ...(await orderBasis(fixture.server.store, client)),
    asOf: '2026-11-02',
    title: 'Overview',
    document: documentFrom('shop', wordsFor('en-GB'), () => `b${n++}`),
    commentary: {},
    period: { from: '2026-10-01', to: '2026-10-31' },
    compared: { from: '2026-09-01', to: '2026-09-30' },
    mailMetrics: [],
  };
});
afterAll(async () => {
  await workers.close();
  await fixture.close();
});

/** As many tables as the bounds allow, over twenty years: more than a person waits for. */
function heavy(): DrawOrder {
  const blocks = Array.from({ length: 240 }, (_, i) => ({
    kind: 'ranking' as const,
    id: `r${i}`,
    dimension: 'landingPage' as const,
    metrics: ['visits', 'pageViews', 'bounceRate', 'pagesPerVisit'].slice(0, 1 + (i % 4)),
    n: (i % 50) + 1,
    title: `Table ${i}`,
  }));
  const rows = Array.from({ length: 40 }, (_, i) => ({ id: `row${i}`, blocks: blocks.slice(i * 3, i * 3 + 3) }));
  const pages = [0, 1].map((p) => ({ id: `p${p}`, title: 'T', rows: rows.map((r) => ({ ...r, id: `${p}${r.id}` })) }));
  return { ...order, document: { ...order.document, pages }, period: { from: '2007-01-01', to: '2026-10-31' } };
}

describe('the workers', () => {
  it('ends what takes longer than a person waits, with its thread, and goes on with another', async () => {
    const impatient = createWorkers(fixture.config.data, { person: 40, edition: 30_000 }, openPools(THREADS_ON_DEMAND));
    const asked = await askedBy('me_a', () =>
      Promise.allSettled(Array.from({ length: 4 }, () => impatient.preview(heavy(), [], null))),
    );
    for (const o of asked) expect(o).toMatchObject({ status: 'rejected', reason: expect.any(BudgetError) });
    // What nobody waits for has more time, and a thread that is whole.
    expect((await impatient.preview(order, [], null)).pages.read().length).toBeGreaterThan(0);
    await impatient.close();
  });

  it('leaves a thread to the others while one member asks for too much', async () => {
    const greedy = askedBy('me_a', () =>
      Promise.allSettled(Array.from({ length: 16 }, () => workers.preview(heavy(), [], null))),
    );
    const drawn = await askedBy('me_b', () => workers.preview(order, [], null));
    expect(drawn.pages.read().length).toBeGreaterThan(0);
    // Editions have threads of their own, whatever people ask.
    expect(await workers.edition(order, '2026-11-02T08:00:00Z')).toHaveProperty('pdf');
    // All of what was too much was answered or refused, too.
    expect((await greedy).every((o) => o.status === 'fulfilled' || o.reason instanceof BudgetError)).toBe(true);
  });

  it('draws the first pages of a long report before the others', async () => {
    const first = await workers.preview(order, [], 1);
    expect(first.rest).toBe(1);
    const all = await workers.preview(order, [], null);
    expect(all.rest).toBe(0);
    expect(all.pages.read().length).toBeGreaterThan(first.pages.read().length);
  });

  it('says what the system says where the disk takes no file, and draws once it does', async () => {
    const [files, aside] = [join(fixture.config.data, 'files'), join(fixture.config.data, 'aside')];
    renameSync(files, aside);
    writeFileSync(files, 'not a folder');
    await expect(workers.edition(order, '2026-11-02T09:00:00Z')).rejects.toMatchObject({ code: 'ENOTDIR' });
    rmSync(files);
    renameSync(aside, files);
    expect(await workers.edition(order, '2026-11-02T09:00:00Z')).toHaveProperty('pdf');
  });

  it('paints a frozen edition again to the same bytes', async () => {
    const drawn = await workers.edition(order, '2026-11-02T08:00:00Z');
    if (!('pdf' in drawn)) throw new Error('not drawn');
    const again = await workers.repaint(drawn.frozen, '2026-11-02T08:00:00Z');
    expect(Buffer.from(again).equals(fixture.server.files.read(drawn.pdf))).toBe(true);
  });
});
