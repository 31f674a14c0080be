import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { answerAll, keyOf, metricBook, NO_SETTINGS, planReads, type Question } from '@chronicon/core/figures';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { shapeOf } from '../test/dumpDatabase.ts';
import { datasetsOf, readNeeds } from './factReader.ts';
import { openFacts } from './factStore.ts';
import { FACT_STEPS } from './schema.ts';

const kept = join(import.meta.dirname, 'kept');
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-facts-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const visits: Question = {
  op: 'total',
  metric: 'visits',
  range: { from: '2026-10-01', to: '2026-10-02' },
  filter: {},
};

describe('facts of every step', () => {
  it('are kept, one database for each', () => {
    const steps = Array.from({ length: FACT_STEPS }, (_, i) => `${i + 1}.sql`);
    expect(readdirSync(kept).sort()).toEqual(steps);
  });

  it.each(readdirSync(kept))('%s become what new ones are, and what was delivered is answered', async (file) => {
    const old = new Database(join(folder, 'facts.db'));
    old.exec(readFileSync(join(kept, file), 'utf8'));
    old.close();
    const facts = await openFacts(folder);
    try {
      const fresh = mkdtempSync(join(folder, 'new-'));
      await (await openFacts(fresh)).destroy();
      expect(shapeOf(join(folder, 'facts.db'))).toEqual(shapeOf(join(fresh, 'facts.db')));
      const shapes = await datasetsOf(facts, 'cl_1');
      expect(shapes).toMatchObject([{ id: 'ds_1', key: 'visits', dimensions: ['channel'] }]);
      const knowledge = { book: metricBook(NO_SETTINGS), targets: [] };
      const answers = answerAll([visits], await readNeeds(facts, planReads([visits], shapes, knowledge)), knowledge);
      // Before the second step days lay otherwise: they are fetched again.
      expect(answers[keyOf(visits)]).toMatchObject({
        value: file === '1.sql' ? { na: expect.any(String) } : { value: 290 },
      });
    } finally {
      await facts.destroy();
    }
  });
});
