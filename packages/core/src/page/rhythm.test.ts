import { describe, expect, it } from 'vitest';
import { STANDARD } from '../figures/index.ts';
import type { Block } from '../report/index.ts';
import { LOCALES } from '../words/index.ts';
import { sampleScene, textsOf } from './gallery/sampleScene.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/states.ts';
import type { Op } from './scene.ts';

const block = (metric = 'visits'): Block => ({ kind: 'rhythm', id: 'w', metric, title: '' });
const squares = (scene: ReturnType<typeof sampleScene>) =>
  scene.pages[0]!.ops.flatMap((op) => (op.k === 'rect' && Math.abs(op.w - op.h) < 0.011 ? [op] : []));

/** Facts in which one hour of one weekday has all, but for one visit at another. */
const oneHour = () =>
  galleryFacts('full', STANDARD).map((d) => {
    // 5 October 2026 was a Monday.
    const days = Int32Array.from([20_731, 20_732]);
    const hour = { codes: Int32Array.from([9, 17]), labels: Array.from({ length: 24 }, (_, h) => String(h)) };
    const dims = Object.fromEntries(
      Object.keys(d.columns.dims).map((k) => [
        k,
        k === 'hour' ? hour : { codes: Int32Array.from([0, 0]), labels: ['a'] },
      ]),
    );
    const measures = Object.fromEntries(Object.keys(d.columns.measures).map((m) => [m, Float64Array.from([400, 4])]));
    return { ...d, columns: { days, dims, measures } };
  });

describe('the rhythm of a week', () => {
  it('has a square for each hour that brought anything, whose area is what it brought', () => {
    const scene = sampleScene({ rows: [[block()]], facts: oneHour() });
    const [large, little] = squares(scene).sort((a, b) => b.w - a.w) as Extract<Op, { k: 'rect' }>[];
    expect(squares(scene)).toHaveLength(2);
    expect((large!.w / little!.w) ** 2).toBeCloseTo(100, -1);
    // Tuesday stands beneath Monday, five in the afternoon right of nine in the morning.
    expect(little!.y).toBeGreaterThan(large!.y);
    expect(little!.x).toBeGreaterThan(large!.x);
  });

  it('names the busiest hour, beside its title and to whoever does not see it', () => {
    const scene = sampleScene({ rows: [[block()]], facts: oneHour() });
    expect(textsOf(scene).join(' ')).toContain('peak: Mon 9:00 (100)');
    const figure = scene.pages[0]!.ops.find((op) => op.k === 'open' && op.tag === 'Figure');
    expect(figure).toMatchObject({ alt: 'Visits by weekday and hour: peak: Mon 9:00 (100).' });
  });

  it('has the weekdays of every language, in their order', () => {
    for (const { value: language } of LOCALES) {
      const texts = textsOf(sampleScene({ rows: [[block()]], language }));
      const names = Array.from({ length: 7 }, (_, i) =>
        new Intl.DateTimeFormat(language, { weekday: 'short', timeZone: 'UTC' }).format(Date.UTC(2024, 0, 1 + i)),
      );
      const places = names.map((n) => texts.indexOf(n));
      expect(places, language).toEqual([...places].sort((a, b) => a - b));
      expect(
        places.every((p) => p >= 0),
        language,
      ).toBe(true);
    }
  });

  it('begins on the day on which the client’s weeks begin', () => {
    const dates = { ...GALLERY_DATES, weekStart: 7 };
    const scene = sampleScene({ rows: [[block()]], facts: oneHour(), dates });
    const texts = textsOf(scene);
    expect(texts.indexOf('Sun')).toBeLessThan(texts.indexOf('Mon'));
    expect(texts.join(' ')).toContain('peak: Mon 9:00 (100)');
    const top = Math.min(...squares(scene).map((s) => s.y));
    const monday = Math.min(...squares(sampleScene({ rows: [[block()]], facts: oneHour() })).map((s) => s.y));
    expect(top).toBeGreaterThan(monday);
  });

  it('says why there is none: of uniques, and of nothing', () => {
    expect(textsOf(sampleScene({ rows: [[block('visitors')]] }))).toContain('cannot be totalled');
    expect(textsOf(sampleScene({ rows: [[block()]], facts: [] }))).toContain('no data');
  });
});
