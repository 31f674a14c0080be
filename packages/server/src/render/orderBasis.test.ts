import type { DrawOrder } from '@chronicon/core/page';
import type { Block } from '@chronicon/core/report';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { clientById } from '../store/clients.ts';
import { type Furnished, openFurnishedFixture, type TestFixture } from '../test/harness.ts';
import { questionsFor } from './draw.ts';
import { orderBasis } from './orderBasis.ts';

let fixture: TestFixture;
let f: Furnished;
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

const blocks: Block[] = [
  { kind: 'pace', id: 'a', metric: 'visits', title: '' },
  { kind: 'rhythm', id: 'b', metric: 'visits', title: '' },
];

/** What the pages of a client whose weeks begin on a day ask of its figures. */
async function asked(weekStart: number) {
  const client = (await clientById(fixture.server.store, f.client))!;
  const order: DrawOrder = {
    ...(await orderBasis(fixture.server.store, { ...client, weekStart })),
    asOf: '2026-11-02',
    at: '2026-10-20',
    title: 'Overview',
    document: {
      version: 2,
      period: { kind: 'unit', unit: 'month', offset: 0 },
      comparison: { kind: 'none' },
      pages: [{ id: 'p', title: 'Overview', rows: [{ id: 'r', blocks }] }],
    },
    commentary: {},
    period: { from: '2026-10-01', to: '2026-10-31' },
    compared: null,
    mailMetrics: [],
  };
  const questions = questionsFor(order);
  const { workers } = fixture.server;
  const pace = questions.find((q) => q.op === 'pace')!;
  const answers = (await workers.ask({ clientId: f.client, metrics: order.metrics, targets: [], holidays: [] }, [pace]))
    .answers;
  return { questions, pace: Object.values(answers)[0] };
}

describe('pages of a client', () => {
  it('have the weeks that the client has: what they say of pace and rhythm is what its figures say', async () => {
    const [monday, sunday] = [await asked(1), await asked(7)];
    const weeksOf = ({ questions }: typeof monday) =>
      questions.flatMap((q) => (q.op === 'pace' || q.op === 'rhythm' ? [[q.op, q.weekStart]] : []));
    expect(weeksOf(monday)).toEqual([
      ['pace', 1],
      ['rhythm', 1],
    ]);
    expect(weeksOf(sunday)).toEqual([
      ['pace', 7],
      ['rhythm', 7],
    ]);
    // Other weeks weigh the days otherwise.
    expect(sunday.pace).not.toEqual(monday.pace);
  });
});
