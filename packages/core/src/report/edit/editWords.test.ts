import { describe, expect, it } from 'vitest';
import { wordsFor } from '../../words/index.ts';
import type { Block, ReportDocument } from '../index.ts';
import { type Draft, type Edit, editWords } from './index.ts';

const { blocks } = wordsFor('en-GB');
const trend = (id: string, title = ''): Block => ({ kind: 'trend', id, metric: 'visits', title }) as Block;
const document: ReportDocument = {
  version: 2,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  pages: [
    {
      id: 'p1',
      title: 'One',
      rows: [
        { id: 'r1', blocks: [trend('a')] },
        { id: 'r2', blocks: [trend('b', 'Visits by day'), trend('c')] },
      ],
    },
    { id: 'p2', title: 'Two', rows: [] },
  ],
};
const draft: Draft = { title: 'Monthly', document };
const said = (...edits: Edit[]) => editWords(draft, edits, (kind) => blocks[kind] ?? kind);

describe('edits in words', () => {
  it.each<[string, Edit]>([
    ['The title becomes “Weekly”.', { op: 'title', title: 'Weekly' }],
    ['The dates it covers change.', { op: 'period', period: { kind: 'rolling', days: 7 } }],
    ['Its paper changes.', { op: 'paper', page: null, paper: { size: 'letter' } }],
    ['The paper of page “Two” changes.', { op: 'paper', page: 'p2', paper: { orientation: 'landscape' } }],
    ['Page “Two” becomes “Second”.', { op: 'namePage', page: 'p2', title: 'Second' }],
    ['Page “One” is no longer included.', { op: 'dropPage', page: 'p1', dropped: true }],
    ['Page “Two” moves.', { op: 'movePage', page: 'p2', after: null }],
    ['Page “Two” is removed.', { op: 'removePage', page: 'p2' }],
    ['Page “New” is added.', { op: 'addPage', page: { id: 'p3', title: 'New', rows: [] }, after: 'p1' }],
    ['Trend is added to “Two”.', { op: 'addRow', page: 'p2', row: { id: 'r9', blocks: [trend('z')] }, after: null }],
    ['Trend “Visits by day” and Trend moves.', { op: 'moveRow', row: 'r2', page: 'p2', after: null }],
    ['Trend “Visits by day” moves.', { op: 'liftBlock', block: 'b', row: 'r8', page: 'p2', after: null }],
    ['Trend leaves “One”.', { op: 'removeBlock', block: 'a' }],
    ['Trend: metric, its width change.', { op: 'setBlock', block: 'a', set: { metric: 'orders', columns: 6 } }],
    ['Trend “Visits by day”: title changes.', { op: 'setBlock', block: 'b', set: { title: 'Other' } }],
  ])('%s', (sentence, edit) => {
    expect(said(edit)).toEqual({ changes: [sentence], leaves: [] });
  });

  it('say equal things once, and apart what can no longer be done', () => {
    const gone: Edit = { op: 'setBlock', block: 'nowhere', set: { title: 'x' } };
    expect(said({ op: 'removeBlock', block: 'a' }, { op: 'removeBlock', block: 'a' }, gone)).toEqual({
      changes: ['Trend leaves “One”.', 'A block is removed.'],
      leaves: ['A block changes.'],
    });
    expect(said({ op: 'title', title: 'W' }, { op: 'title', title: 'W' }).changes).toEqual(['The title becomes “W”.']);
    expect(said()).toEqual({ changes: [], leaves: [] });
  });
});
