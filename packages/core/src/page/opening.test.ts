import { describe, expect, it } from 'vitest';
import { STANDARD } from '../figures/index.ts';
import type { Block, Dates } from '../report/index.ts';
import { LOCALES } from '../words/index.ts';
import { sampleScene, textsOf } from './gallery/sampleScene.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/states.ts';

const opening: Block = { kind: 'opening', id: 'o', metric: 'revenue', dimension: 'channel' };
const plain = (text: string) => text.replace(/\s+/g, ' ');

/** The sentence of the opening: what is set at 13 pp. */
function saidBy(sample: Omit<Parameters<typeof sampleScene>[0], 'rows'> = {}): string {
  const { pages } = sampleScene({ ...sample, rows: [[opening]] });
  const large = pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' && op.size === 13 ? [op.text] : [])));
  return plain(large.join('')).trim();
}

describe('the opening', () => {
  it('says how it went, against what, and why', () => {
    expect(saidBy()).toMatch(
      /^Revenue: £[\d,.]+, (up|down) \d+\.\d% on September 2026; mainly .+ \(\d+% of the (rise|fall)\).*\.$/,
    );
  });

  it('has the figure and the change as the figures beside it have them', () => {
    const scene = sampleScene({ rows: [[opening], [{ kind: 'kpiRow', id: 'k', metrics: ['revenue'] }]] });
    const texts = textsOf(scene);
    const big = scene.pages[0]!.ops.find((op) => op.k === 'text' && op.face === 'serifBold' && op.text.startsWith('£'));
    const change = texts.find((t) => /^[+−]\d+\.\d%$/.test(t))!;
    expect(saidBy()).toContain(big?.k === 'text' ? big.text : '?');
    expect(saidBy()).toContain(change.slice(1));
  });

  it('is held against a usual level or a target in the words for those, and against nothing in none', () => {
    const usual: Dates = {
      ...GALLERY_DATES,
      compared: null,
      yardstick: { kind: 'typical', ranges: [GALLERY_DATES.compared, { from: '2026-08-01', to: '2026-08-31' }] },
    };
    expect(saidBy({ dates: usual })).toMatch(
      /(up|down) \d+\.\d% compared with a typical period\.$|in line with a typical period\.$/,
    );
    const target = { metric: 'revenue', from: '2026-10-01', to: '2026-10-31', value: 10_000, filter: {} };
    const aimed: Dates = { ...GALLERY_DATES, compared: null, yardstick: { kind: 'target' } };
    expect(saidBy({ dates: aimed, knowledge: { book: STANDARD, targets: [target as never] } })).toMatch(
      /^Revenue: £[\d,.]+/,
    );
    expect(saidBy({ dates: { ...GALLERY_DATES, compared: null } })).toMatch(/^Revenue: £[\d,.]+\.$/);
  });

  it('tells no change of what is partly known, and says so; and why there is no figure', () => {
    expect(saidBy({ facts: galleryFacts('partial', STANDARD) })).toMatch(
      /^Revenue: £[\d,.]+ \(some days have no data\)\.$/,
    );
    expect(saidBy({ facts: [] })).toBe('Revenue: no data.');
  });

  it('is what a person wrote for the period, once they did', () => {
    const more = { commentary: { '0o': 'A quiet month,\n as planned.' } };
    expect(saidBy({ more })).toBe('A quiet month, as planned.');
    expect(saidBy({ more: { commentary: { '0o': '  ' } } })).toContain('Revenue: £');
  });

  it('stands under the title of the report, which is the first heading', () => {
    const { pages } = sampleScene({ rows: [[opening], [{ kind: 'heading', id: 'h', text: 'More' }]] });
    const tags = pages[0]!.ops.flatMap((op) => (op.k === 'open' && /^H\d$/.test(op.tag) ? [op.tag] : []));
    expect(tags).toEqual(['H1', 'H2']);
    const at = (text: string) => pages[0]!.ops.findIndex((op) => op.k === 'text' && op.text.startsWith(text));
    expect(at('Monthly overview')).toBeLessThan(at('Revenue: £'));
  });

  it.each(LOCALES.map((l) => l.value))('ends as a sentence in %s, with its figure and its change', (language) => {
    const said = saidBy({ language });
    expect(said).toMatch(/\d.*\d.*\.$/);
    expect(said).not.toMatch(/[{}]|\.\.$/);
  });
});
