import { describe, expect, it } from 'vitest';
import { STANDARD } from '../figures/index.ts';
import type { Block } from '../report/index.ts';
import { type Sample, sampleScene, textsOf } from './gallery/sampleScene.ts';
import { galleryFacts } from './gallery/states.ts';

type Share = Extract<Block, { kind: 'share' }>;
const block = (changes: Partial<Share> = {}): Block => ({
  kind: 'share',
  id: 's',
  metric: 'visits',
  dimension: 'channel',
  form: 'bars',
  limit: 3,
  title: '',
  ...changes,
});
const said = (changes: Partial<Share> = {}, sample: Partial<Sample> = {}) =>
  textsOf(sampleScene({ rows: [[block(changes)]], ...sample }));
const percents = (texts: readonly string[]) =>
  texts.filter((t) => /^\d+\.\d%$/.test(t)).map((t) => Number.parseFloat(t));

describe('shares', () => {
  it.each(['bars', 'ring'] as const)('as %s come to the whole, the largest first', (form) => {
    const shares = percents(said({ form }));
    expect(shares.length).toBeGreaterThan(3);
    expect(Math.abs(shares.reduce((sum, s) => sum + s, 0) - 100)).toBeLessThan(0.5);
    expect(shares).toEqual([...shares].sort((a, b) => b - a));
  });

  it('put what is small into one part, which comes last, and the whole stays whole', () => {
    const texts = said({ limit: 15 });
    expect(texts).toContain('Other');
    const shares = percents(texts);
    expect(Math.abs(shares.reduce((sum, s) => sum + s, 0) - 100)).toBeLessThan(0.5);
    for (const share of shares.slice(0, -1)) expect(share).toBeGreaterThanOrEqual(15);
  });

  it('tell by how many points each has moved, and nothing where nothing may be compared', () => {
    const points = (texts: readonly string[]) => texts.filter((t) => / pp$/.test(t));
    expect(points(said()).length).toBe(percents(said()).length);
    expect(points(said({}, { facts: galleryFacts('partial', STANDARD) }))).toEqual([]);
    expect(points(said({}, { dates: { period: { from: '2026-10-01', to: '2026-10-31' }, compared: null } }))).toEqual(
      [],
    );
  });

  it('moved by nothing together', () => {
    const moved = said().flatMap((t) => /^([+\u2212])?(\d+\.\d) points?$/.exec(t)?.slice(1) ?? []);
    const sum = moved.reduce(
      (n, part, i) => (i % 2 === 1 ? n + Number(part) * (moved[i - 1] === '\u2212' ? -1 : 1) : n),
      0,
    );
    expect(Math.abs(sum)).toBeLessThan(0.5);
  });

  it('number the parts of a ring as the list beside it does, and tell them in words', () => {
    const { pages } = sampleScene({ rows: [[block({ form: 'ring' })]] });
    const numbers = pages[0]!.ops.flatMap((op) =>
      op.k === 'text' && /^\d$/.test(op.text.trim()) ? [op.text.trim()] : [],
    );
    expect(numbers.filter((n) => n === '1')).toHaveLength(2);
    const figure = pages[0]!.ops.find((op) => op.k === 'open' && op.tag === 'Figure');
    expect(figure).toMatchObject({ alt: expect.stringMatching(/^Share of visits by channel: .+ \d+\.\d%, .+\.$/) });
  });

  it('are of what adds up alone; of anything else, and of nothing, they say why there are none', () => {
    expect(said({ metric: 'bounceRate' })).toContain('cannot be totalled');
    expect(said({}, { facts: [] })).toContain('no data');
  });
});
