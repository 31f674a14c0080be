import { describe, expect, it } from 'vitest';
import type { Block } from '../report/index.ts';
import { sampleScene, textsOf } from './gallery/sampleScene.ts';
import { GALLERY_DATES } from './gallery/states.ts';

const opening: Block = { kind: 'opening', id: 'o', metric: 'visits', dimension: 'channel' };
const ranking: Block = {
  kind: 'ranking',
  id: 'r',
  dimension: 'channel',
  metrics: ['visits'],
  n: 5,
  title: 'By channel',
};
const drivers: Block = { kind: 'drivers', id: 'd', dimension: 'channel', metric: 'visits', n: 5, title: 'Why' };
const kpi: Block = { kind: 'kpi', id: 'k', metric: 'visits' };
const only = (...values: string[]) => [{ dimension: 'channel', how: 'only' as const, values }];

/** What is read of pages whose schedule counts a part alone. */
const read = (blocks: Block[], filter?: ReturnType<typeof only>): string =>
  textsOf(sampleScene({ rows: blocks.map((b) => [b]), dates: { ...GALLERY_DATES, ...(filter && { filter }) } }))
    .join(' ')
    .replace(/\s+/g, ' ');

describe('a page under the filter of a schedule', () => {
  it('leaves out what divides by what is one part alone: a ranking of one row, one bar, the whole of a fall by itself', () => {
    const all = read([opening, kpi, ranking, drivers]);
    expect(all).toContain('By channel');
    expect(all).toMatch(/\d+% of the (fall|rise)/);
    const one = read([opening, kpi, ranking, drivers], only('Paid search'));
    expect(one).not.toContain('By channel');
    expect(one).not.toContain('Why');
    expect(one).not.toMatch(/of the (fall|rise)|alone brought/);
    expect(one).toMatch(/Visits (rose|fell|are|came)|Visits/);
  });

  it('keeps what still divides, and what was one part by its own design', () => {
    expect(read([ranking], only('Paid search', 'Email'))).toContain('By channel');
    const own: Block = { ...ranking, filter: only('Email') };
    expect(read([own, kpi], only('Email'))).toContain('By channel');
  });

  it('names the filter of a block in its notes, so that no note speaks of two figures by one name', () => {
    const late = { ...GALLERY_DATES, compared: { from: '2020-09-01', to: '2020-09-30' } };
    const share: Block = {
      kind: 'share',
      id: 's',
      metric: 'visits',
      dimension: 'device',
      form: 'bars',
      limit: 3,
      title: '',
    };
    const part: Block = { ...share, id: 't', filter: only('Email') };
    const text = textsOf(sampleScene({ rows: [[share], [part], [kpi]], dates: late }))
      .join(' ')
      .replace(/\s+/g, ' ');
    // All of it was measured later: that is said once, for the page.
    expect(text.match(/Tracking started after/g)).toHaveLength(1);
    expect(text).not.toContain('Visits, September 2020');
  });
});
