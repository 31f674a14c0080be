import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { metricBook } from '../figures/index.ts';
import { A4, blocksOf, documentSchema, StoredError } from '../report/index.ts';
import { formatterOf } from '../words/index.ts';
import { compose } from './compose.ts';
import { readFrozen } from './frozen.ts';
import { plainRuler, textsOf } from './gallery/sampleScene.ts';

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

  it('keeps paper, manager, day and files that go along', () => {
    const { order, scene } = readFrozen(read('frozen.5-paper.json'));
    expect(order).toMatchObject({ asOf: '2026-11-03', paper: { size: 'letter' }, manager: { name: 'Ines Tallow' } });
    expect(order.document).toMatchObject({ attachFigures: true });
    expect(scene.attached?.[0]?.name).toBe('Figures.csv');
    // Of before, what was not said: A4 upright, nobody, no day.
    const { order: before } = readFrozen(read('frozen.4-odd-days.json'));
    expect(before).toMatchObject({ paper: A4, manager: null, asOf: null });
  });

  it.each(files)('%s can be laid out anew from its figures', (file) => {
    const { order, answers } = readFrozen(read(file));
    const format = formatterOf(order.language, order.currency);
    const scene = compose({ ...order, answers, book: metricBook(order.metrics), format, ruler: plainRuler });
    expect(scene.pages.length).toBeGreaterThan(0);
    expect(textsOf(scene).join(' ')).toContain(order.clientName);
  });

  it('is refused where it is none', () => {
    const { scene: _, ...without } = JSON.parse(read('frozen.1-first.json'));
    expect(() => readFrozen(JSON.stringify(without), 'the edition ed_1')).toThrow(StoredError);
    expect(() => readFrozen(JSON.stringify(without), 'the edition ed_1')).toThrow(/ed_1.*scene/);
  });
});
