import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { metricBook } from '../figures/index.ts';
import { blocksOf, documentSchema, StoredError } from '../report/index.ts';
import { readFrozen } from './frozen.ts';

const folder = new URL('./kept/', import.meta.url);
const files = readdirSync(folder);
const read = (file: string) => readFileSync(new URL(file, folder), 'utf8');

describe('frozen editions of every version that was ever stored', () => {
  it.each(files)('%s opens with its scene and answers as they were, and all that is asked of it today', (file) => {
    const frozen = readFrozen(read(file));
    const stored = JSON.parse(read(file));
    expect(JSON.stringify(frozen.scene)).toBe(JSON.stringify(stored.scene));
    expect(frozen.answers).toEqual(stored.answers);
    expect(documentSchema.safeParse(frozen.order.document).success).toBe(true);
    expect(blocksOf(frozen.order.document).length).toBeGreaterThan(3);
    expect(metricBook(frozen.order.metrics).has('visits')).toBe(true);
    const { targets, dayNotes, holidays, commentary } = frozen.order;
    expect([targets, dayNotes, holidays, Object.entries(commentary), frozen.turned].every(Array.isArray)).toBe(true);
  });

  it('keeps what later versions brought', () => {
    const last = readFrozen(read('frozen.4-odd-days.json'));
    expect(last).toMatchObject({ created: '2026-11-03T08:00:00.000Z', order: { holidays: ['2026-12-25'] } });
    expect(last.turned[0]).toContain('without 19 Oct');
    expect(last.order.commentary).toEqual({ bl_c: 'A strong October.' });
  });

  it('is refused where it is none', () => {
    const { scene: _, ...without } = JSON.parse(read('frozen.1-first.json'));
    expect(() => readFrozen(JSON.stringify(without), 'the edition ed_1')).toThrow(StoredError);
    expect(() => readFrozen(JSON.stringify(without), 'the edition ed_1')).toThrow(/ed_1.*scene/);
  });
});
