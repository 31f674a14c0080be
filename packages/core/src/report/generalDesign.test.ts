import { describe, expect, it } from 'vitest';
import { wordsFor } from '../words/index.ts';
import type { Block } from './blocks/registry.ts';
import { namedFor, namesClient, withoutName } from './clientNamed.ts';
import { blocksOf, documentSchema, type ReportDocument } from './document.ts';
import { designFor, generalDesign, lostOf, textsToAsk } from './generalDesign.ts';
import { documentFrom } from './starters.ts';

const words = wordsFor('en-GB');
const only = (dimension: string, value: string) => [{ dimension, how: 'only' as const, values: [value] }];
const blocks = [
  { kind: 'heading', id: 'h', text: 'Tarnbeck lost its dealer in Hull' },
  { kind: 'trend', id: 't', metric: 'visits', title: 'Visits to TARNBECK', filter: only('campaign', 'Hull rescue') },
  { kind: 'commentary', id: 'c', span: 'standing', text: 'Between us: Hull is a mess.' },
  {
    kind: 'picture',
    id: 'p',
    alt: 'The Hull shop',
    caption: 'Closed since May',
    picture: { kind: 'image', file: 'a'.repeat(64), width: 10, height: 10, pale: false },
  },
  { kind: 'cover', id: 'v', text: 'For the board of Tarnbeck' },
] as unknown as Block[];
let n = 0;
const [stock] = documentFrom('shop', words, () => `s${n++}`).pages;
const document: ReportDocument = {
  ...documentFrom('empty', words, () => 'e'),
  filter: only('country', 'Norway'),
  assumptions: [{ key: 'margin', label: 'Margin after the Hull loss', unit: 'percent', value: 0.31 }],
  pages: [
    { ...stock!, id: 'first' },
    { id: 'second', title: 'Hull after the strike', rows: blocks.map((b) => ({ id: `r${b.id}`, blocks: [b] })) },
  ],
};
const own = { clientName: 'Tarnbeck', words };
const texts = textsToAsk(document, own);
const everyText = new Set(texts.map((t) => t.text));

describe('a design that is made general', () => {
  it('carries no word, picture, filter or number of its client that nobody agreed to', () => {
    const bare = generalDesign(document, own, new Set());
    expect(JSON.stringify(bare)).not.toMatch(/tarnbeck|hull|norway|may|0\.31|margin|aaaa|board/i);
    expect(documentSchema.safeParse(bare).error).toBeUndefined();
    expect(bare.pages[0]!.title).toBe(document.pages[0]!.title);
    expect(bare.pages[1]!.title).toBe('Page');
    expect(blocksOf(bare)).toHaveLength(blocksOf(document).length);
    expect(blocksOf(bare).find((b) => b.id === 't')).toMatchObject({ metric: 'visits', title: '' });
  });

  it('asks about each text that somebody typed, and about none of the product’s own', () => {
    expect(texts.map((t) => [t.text, t.namesClient])).toEqual([
      ['Margin after the Hull loss', false],
      ['Hull after the strike', false],
      ['Tarnbeck lost its dealer in Hull', true],
      ['Visits to TARNBECK', true],
      ['The Hull shop', false],
      ['Closed since May', false],
      ['For the board of Tarnbeck', true],
    ]);
    expect(lostOf(document)).toEqual({ filters: 2, pictures: 1, commentaries: 1 });
  });

  it('has a field where the client was named, and another client’s name when it is used', () => {
    const general = generalDesign(document, own, everyText);
    expect(JSON.stringify(general)).not.toMatch(/tarnbeck/i);
    expect(blocksOf(general).find((b) => b.id === 't')).toMatchObject({ title: 'Visits to {{client.name}}' });
    expect(general.assumptions).toEqual(document.assumptions);
    const theirs = designFor(general, 'Alder & Finch');
    expect(blocksOf(theirs).find((b) => b.id === 'h')).toMatchObject({ text: 'Alder & Finch lost its dealer in Hull' });
    expect(documentSchema.safeParse(theirs).error).toBeUndefined();
  });

  it('keeps what the template says already, and asks about what is new alone', () => {
    const template = generalDesign(document, own, everyText);
    const at = (changed: ReportDocument) => textsToAsk(changed, { ...own, template }).map((t) => t.text);
    expect(at(document)).toEqual([]);
    const pages = document.pages.map((p) => (p.id === 'second' ? { ...p, title: 'Leeds is next' } : p));
    expect(at({ ...document, pages })).toEqual(['Leeds is next']);
    const next = (agreed: string[]) => generalDesign({ ...document, pages }, { ...own, template }, new Set(agreed));
    expect(next([]).pages[1]!.title).toBe('Hull after the strike');
    expect(next(['Leeds is next']).pages[1]!.title).toBe('Leeds is next');
    // The rest stands as the template has it, its field included.
    expect(blocksOf(next([]))).toEqual(blocksOf(template));
  });
});

describe('a client’s name in a text', () => {
  it('is found as whole words in whatever case', () => {
    expect(withoutName('Alder, ALDER and Alderton', 'Alder')).toBe('{{client.name}}, {{client.name}} and Alderton');
    expect(withoutName('A+B (Ltd.) in short', 'A+B (Ltd.)')).toBe('{{client.name}} in short');
    expect(withoutName('Für Müßig-Häuser', 'müßig-häuser')).toBe('Für {{client.name}}');
    expect(withoutName('As it was', '  ')).toBe('As it was');
    expect(namesClient('What the finches did', 'Alder & Finch')).toBe(false);
    expect(namesClient('What Finch did', 'Alder & Finch')).toBe(true);
    expect(namesClient('For AF', 'AF')).toBe(true);
  });

  it('stands in the place of its field, cut where there is no room', () => {
    expect(namedFor('{{ client.name | you }} and $& more', 'A$&B', 80)).toBe('A$&B and $& more');
    const long = 'The Most Honourable Company of Weavers and Dyers of the Northern Ridings, est. 1521';
    for (const text of ['{{client.name}}', 'For {{client.name}}: {{client.name}}', 'No name here']) {
      const named = namedFor(text, long, 40);
      expect(named.length).toBeLessThanOrEqual(40);
      expect(named).not.toContain('{{');
    }
    expect(namedFor('{{client.name}} in short', 'Alder & Finch', 80)).toBe('Alder & Finch in short');
  });
});
