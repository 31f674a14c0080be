import { describe, expect, it } from 'vitest';
import { metricBook, NO_SETTINGS } from '../figures/index.ts';
import { LOCALES, wordsFor } from '../words/index.ts';
import { bindDocument, needsOf } from './binding.ts';
import type { Block } from './blocks/registry.ts';
import { blocksOf, documentFaults, documentSchema, type ReportDocument } from './document.ts';
import { documentFrom, STARTERS } from './starters.ts';

const made = (key: string, language = 'en-GB'): ReportDocument => {
  let n = 0;
  return documentFrom(key, wordsFor(language), () => `i${n++}`);
};
const book = metricBook(NO_SETTINGS);

describe('designs to begin with', () => {
  it.each(STARTERS.map((s) => s.key))('%s: whole, of metrics that there are, in the words of each language', (key) => {
    const english = made(key);
    for (const { value } of LOCALES) {
      const document = made(key, value);
      expect(documentSchema.safeParse(document).error).toBeUndefined();
      expect(documentFaults(document, book)).toEqual([]);
      // Titles and headings are keys that every language has words for.
      const keys = STARTERS.find((s) => s.key === key)!.pages.map((p) => p.title);
      for (const page of document.pages) expect(keys).not.toContain(page.title);
      if (value !== 'en-GB' && !value.startsWith('en'))
        expect(document.pages.map((p) => p.title)).not.toEqual(english.pages.map((p) => p.title));
    }
  });

  it('are none but those that are listed', () => {
    expect(() => made('nothing')).toThrow(RangeError);
  });
});

describe('a design and its client', () => {
  const figures: Block[] = [
    { kind: 'kpiRow', id: 'a', metrics: ['visits', 'orders'] },
    { kind: 'ranking', id: 'b', dimension: 'channel', metrics: ['visits'], n: 5, title: '' },
    { kind: 'commentary', id: 'c', span: 'standing', text: '{{figure.visits}} came, {{change.orders | none}}' },
  ] as Block[];
  const filter = [{ dimension: 'device', how: 'only' as const, values: ['Mobile'] }];
  const document: ReportDocument = {
    ...made('empty'),
    filter: [...filter, { dimension: 'segment', how: 'only', values: ['sg_1'] }],
    pages: [{ id: 'p', title: 'P', rows: figures.map((b) => ({ id: `r${b.id}`, blocks: [b] })) }],
  };

  it('is asked for what it shows, writes and counts by, each once', () => {
    expect(needsOf(document)).toEqual({ metrics: ['visits', 'orders'], dimensions: ['device', 'channel'] });
    expect(needsOf(made('empty'))).toEqual({ metrics: [], dimensions: [] });
  });

  it('has the client’s own in the place of what it calls otherwise, in words and filters, too', () => {
    const bound = bindDocument(document, {
      metrics: { visits: 'leads', orders: 'leads' },
      dimensions: { device: 'country' },
    });
    const [row, ranking, words] = blocksOf(bound);
    // Two that become one stand once.
    expect(row).toMatchObject({ metrics: ['leads'] });
    expect(ranking).toMatchObject({ metrics: ['leads'], dimension: 'channel' });
    expect(words).toMatchObject({ text: '{{figure.leads}} came, {{change.leads | none}}' });
    expect(bound.filter![0]!.dimension).toBe('country');
    expect(bindDocument(document, { metrics: {}, dimensions: {} })).toEqual(document);
  });
});
