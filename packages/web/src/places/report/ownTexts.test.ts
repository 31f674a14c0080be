import { applyEdits, type Draft, type Edit } from '@chronicon/core/contract/edits';
import { describe, expect, it } from 'vitest';
import type { Block } from './block.ts';
import { OwnTexts, settingText } from './ownTexts.ts';

const draft: Draft = {
  title: 'Monthly overview',
  document: {
    version: 2,
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    pages: [
      { id: 'p1', title: 'One', rows: [{ id: 'r1', blocks: [{ kind: 'heading', id: 'h', text: 'Old' } as Block] }] },
    ],
  },
};
const after = (...edits: Edit[]) => applyEdits(draft, edits).draft;
const words = (text: string): Edit => ({ op: 'setBlock', block: 'h', set: { text } });

describe('words of one’s own', () => {
  it('are told once when others’ stand in their place, and not while they stand', () => {
    const own = new OwnTexts();
    own.note([words('Mine'), { op: 'title', title: 'My title' }, { op: 'namePage', page: 'p1', title: 'My page' }], 0);
    const mine = after(
      words('Mine'),
      { op: 'title', title: 'My title' },
      { op: 'namePage', page: 'p1', title: 'My page' },
    );
    expect(own.lostTo(mine, 1_000)).toEqual([]);
    const theirs = applyEdits(mine, [words('Theirs'), { op: 'title', title: 'Their title' }]).draft;
    const lost = own.lostTo(theirs, 2_000);
    expect(lost.map((l) => [l.mine, l.theirs])).toEqual([
      ['Mine', 'Theirs'],
      ['My title', 'Their title'],
    ]);
    expect(own.lostTo(theirs, 3_000)).toEqual([]);
    // What was put back is one’s own again.
    const back = settingText(lost[0]!, lost[0]!.mine);
    expect(applyEdits(theirs, [back]).draft.document).toEqual(mine.document);
  });

  it('are kept when what held them is removed', () => {
    const own = new OwnTexts();
    own.note([words('A long thought')], 0);
    const lost = own.lostTo(after({ op: 'removeBlock', block: 'h' }), 1_000);
    expect(lost).toEqual([{ of: { block: 'h' }, field: 'text', mine: 'A long thought', theirs: null }]);
  });

  it('are others’ to change after a while, and empty ones are no loss', () => {
    const own = new OwnTexts();
    own.note([words('Mine')], 0);
    expect(own.lostTo(after(words('Theirs')), 11 * 60_000)).toEqual([]);
    own.note([words('')], 0);
    expect(own.lostTo(after(words('Theirs')), 1_000)).toEqual([]);
    own.note([{ op: 'setBlock', block: 'h', set: { columns: 6 } }], 0);
    expect(own.lostTo(draft, 1_000)).toEqual([]);
  });
});
