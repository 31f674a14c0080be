import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wordsFor } from '../../words/index.ts';
import { type Block, blocksOf, documentFrom, documentSchema, type PaperChoice } from '../index.ts';
import { editSchema } from './editSchema.ts';
import { applyEdit, applyEdits, type Draft, type Edit, editsBetween, replaces, withEdit } from './index.ts';

let n = 0;
const fresh = (): Draft => {
  n = 0;
  return { title: 'Monthly overview', document: documentFrom('shop', wordsFor('en-GB'), () => `i${n++}`) };
};

const FILTER = { dimension: 'device', how: 'except' as const, values: ['Desktop'] };
const UPLIFT = { key: 'uplift', label: 'Uplift', unit: 'percent' as const, value: 0.1 };

const idsIn = ({ document }: Draft) => ({
  pages: document.pages.map((p) => p.id),
  rows: document.pages.flatMap((p) => p.rows.map((r) => r.id)),
  blocks: blocksOf(document).map((b) => b.id),
});
const start = idsIn(fresh());
const page = fc.constantFrom(...start.pages, 'gone');
const row = fc.constantFrom(...start.rows, 'gone');
const block = fc.constantFrom(...start.blocks, 'gone');
const text = fc.string({ minLength: 1, maxLength: 8 }).map((s) => `x${s.trim()}`);
const newBlock = (id: string): fc.Arbitrary<Block> =>
  fc.constantFrom<Block>(
    { kind: 'heading', id, text: 'New' },
    { kind: 'trend', id, metric: 'visits', title: '' },
    { kind: 'kpiRow', id, metrics: ['visits', 'orders'] },
  );
const fresher = fc.integer({ min: 0, max: 3 }).map((i) => `new${i}`);
const edit: fc.Arbitrary<Edit> = fc.oneof(
  text.map((title) => ({ op: 'title' as const, title })),
  fc.constant<Edit>({ op: 'period', period: { kind: 'rolling', days: 28 } }),
  fc.constant<Edit>({ op: 'comparison', comparison: { kind: 'lastYear' } }),
  fc.boolean().map((attach): Edit => ({ op: 'attachFigures', attach })),
  fc.boolean().map((contents): Edit => ({ op: 'contents', contents })),
  fc.boolean().map((narrow): Edit => ({ op: 'filter', filter: narrow ? [FILTER] : [] })),
  fc.boolean().map((some): Edit => ({ op: 'assumptions', assumptions: some ? [UPLIFT] : [] })),
  fc.record({ op: fc.constant('dropPage' as const), page, dropped: fc.boolean() }),
  fc.record({
    op: fc.constant('paper' as const),
    page: fc.option(page),
    paper: fc.constantFrom<PaperChoice>({}, { size: 'letter' }, { orientation: 'landscape' }),
  }),
  fc.record({
    op: fc.constant('addPage' as const),
    page: fresher.map((id) => ({ id: `p${id}`, title: 'P', rows: [] })),
    after: fc.option(page),
  }),
  fc.record({ op: fc.constant('namePage' as const), page, title: text }),
  fc.record({ op: fc.constant('movePage' as const), page, after: fc.option(page) }),
  fc.record({ op: fc.constant('removePage' as const), page }),
  fresher.chain((id) =>
    fc.record({
      op: fc.constant('addRow' as const),
      page,
      row: newBlock(`b${id}`).map((b) => ({ id: `r${id}`, blocks: [b] })),
      after: fc.option(row),
    }),
  ),
  fc.record({ op: fc.constant('moveRow' as const), row, page, after: fc.option(row) }),
  fc.record({ op: fc.constant('removeRow' as const), row }),
  fresher.chain((id) =>
    fc.record({ op: fc.constant('addBlock' as const), row, block: newBlock(`c${id}`), after: fc.option(block) }),
  ),
  fc.record({
    op: fc.constant('setBlock' as const),
    block,
    set: fc.oneof(
      text.map((title) => ({ title })),
      fc.option(fc.integer({ min: 2, max: 12 })).map((columns) => ({ columns })),
      fc.option(fc.constant([FILTER])).map((filter) => ({ filter, when: filter && 'withFigures' })),
    ),
  }),
  fc.record({ op: fc.constant('moveBlock' as const), block, row, after: fc.option(block) }),
  fresher.chain((id) =>
    fc.record({
      op: fc.constant('liftBlock' as const),
      block,
      row: fc.constantFrom(`l${id}`, ...start.rows.slice(0, 3)),
      page,
      after: fc.option(row),
    }),
  ),
  fc.record({ op: fc.constant('removeBlock' as const), block }),
);

describe('edits of a report', () => {
  it('are taken back whole, whatever they were', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
        const before = fresh();
        const kept = JSON.stringify(before);
        const { draft, undo } = applyEdits(before, edits);
        expect(JSON.stringify(before)).toBe(kept);
        const back = applyEdits(draft, undo);
        expect(back.gone).toEqual([]);
        expect(back.draft).toEqual(before);
        // What was taken back can be done again.
        expect(applyEdits(back.draft, back.undo).draft).toEqual(draft);
      }),
    );
  });

  it('that come twice over a line do no more than once', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 6 }), edit, (edits, last) => {
        const { draft } = applyEdits(fresh(), edits);
        const once = applyEdit(draft, last);
        if (!once.ok) return;
        const twice = applyEdit(once.draft, last);
        expect(twice).toMatchObject({ ok: true });
        expect(twice.ok && twice.draft).toEqual(once.draft);
      }),
    );
  });

  it('keep every id once, and lose no block but those removed', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
        const { draft } = applyEdits(fresh(), edits);
        for (const ids of Object.values(idsIn(draft))) expect(new Set(ids).size).toBe(ids.length);
        if (edits.some((e) => e.op.startsWith('remove'))) return;
        expect(idsIn(draft).blocks).toEqual(expect.arrayContaining(start.blocks));
      }),
    );
  });

  it('of two people on different blocks come to the same, whoever is first', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.constantFrom(...start.blocks), { minLength: 2, maxLength: 2 }),
        text,
        text,
        ([a, b], x, y) => {
          const mine: Edit = { op: 'setBlock', block: a!, set: { title: x } };
          const theirs: Edit = { op: 'setBlock', block: b!, set: { title: y } };
          expect(applyEdits(fresh(), [mine, theirs]).draft).toEqual(applyEdits(fresh(), [theirs, mine]).draft);
        },
      ),
    );
  });

  it('undo what one did oneself, beside what others did since', () => {
    const [first, second] = start.blocks as [string, string];
    const mine = applyEdits(fresh(), [{ op: 'setBlock', block: first, set: { text: 'Mine' } }]);
    const both = applyEdits(mine.draft, [{ op: 'setBlock', block: second, set: { text: 'Theirs' } }]).draft;
    const undone = applyEdits(both, mine.undo).draft;
    const textOf = (d: Draft, id: string) => (blocksOf(d.document).find((b) => b.id === id) as { text?: string }).text;
    expect(textOf(undone, second)).toBe('Theirs');
    expect(textOf(undone, first)).toBe(textOf(fresh(), first));
  });

  it('say what is gone, by its place, and do the rest', () => {
    const edits: Edit[] = [
      { op: 'title', title: 'A' },
      { op: 'setBlock', block: 'nowhere', set: { title: 'x' } },
      { op: 'moveRow', row: 'nowhere', page: start.pages[0]!, after: null },
      {
        op: 'addRow',
        page: 'nowhere',
        row: { id: 'r', blocks: [{ kind: 'heading', id: 'h', text: 'H' }] },
        after: null,
      },
      { op: 'removeBlock', block: 'nowhere' },
      { op: 'comparison', comparison: { kind: 'none' } },
    ];
    const { draft, gone } = applyEdits(fresh(), edits);
    expect(gone).toEqual([1, 2, 3]);
    expect(draft).toMatchObject({ title: 'A', document: { comparison: { kind: 'none' } } });
  });

  it('put what follows something that is gone at the end', () => {
    const add: Edit = {
      op: 'addRow',
      page: start.pages[0]!,
      row: { id: 'r', blocks: [{ kind: 'heading', id: 'h', text: 'H' }] },
      after: 'gone',
    };
    const { draft } = applyEdits(fresh(), [add]);
    expect(draft.document.pages[0]!.rows.at(-1)!.id).toBe('r');
  });

  it('take a row away with its last block', () => {
    const [pair] = fresh().document.pages[0]!.rows.filter((r) => r.blocks.length === 2);
    const [a, b] = pair!.blocks.map((x) => x.id) as [string, string];
    const one = applyEdits(fresh(), [{ op: 'removeBlock', block: a }]).draft;
    expect(idsIn(one).rows).toContain(pair!.id);
    expect(idsIn(applyEdits(one, [{ op: 'removeBlock', block: b }]).draft).rows).not.toContain(pair!.id);
  });
});

describe('the same choice once more', () => {
  it('takes the place of the one before, so that typing is one edit', () => {
    const set = (title: string): Edit => ({ op: 'setBlock', block: 'b', set: { title } });
    let edits: Edit[] = [];
    for (const typed of ['N', 'Ne', 'New']) edits = withEdit(edits, set(typed));
    expect(edits).toEqual([set('New')]);
    edits = withEdit(edits, { op: 'setBlock', block: 'b', set: { metric: 'visits' } });
    edits = withEdit(edits, { op: 'setBlock', block: 'c', set: { metric: 'visits' } });
    edits = withEdit(edits, { op: 'removeBlock', block: 'c' });
    edits = withEdit(edits, { op: 'removeBlock', block: 'c' });
    expect(edits).toHaveLength(5);
    expect(replaces({ op: 'title', title: 'a' }, { op: 'title', title: 'b' })).toBe(true);
    expect(replaces(undefined, { op: 'title', title: 'b' })).toBe(false);
  });
});

describe('edits over a line', () => {
  it('are those that there are, and change neither id nor kind of a block', () => {
    const ok = (e: unknown) => editSchema.safeParse(e).success;
    fc.assert(
      fc.property(edit, (e) => {
        expect(ok(JSON.parse(JSON.stringify(e)))).toBe(true);
      }),
    );
    expect(ok({ op: 'setBlock', block: 'b', set: { kind: 'heading' } })).toBe(false);
    expect(ok({ op: 'setBlock', block: 'b', set: { id: 'c' } })).toBe(false);
    expect(ok({ op: 'setBlock', block: 'b', set: { title: 'x' }, more: 1 })).toBe(false);
    expect(ok({ op: 'drop', block: 'b' })).toBe(false);
    expect(documentSchema.safeParse(applyEdits(fresh(), [{ op: 'title', title: 'A' }]).draft.document).success).toBe(
      true,
    );
  });
});

describe('the edits between two drafts', () => {
  const few = fc.array(edit, { maxLength: 14 });
  const draftOf = (edits: readonly Edit[]) => applyEdits(fresh(), edits).draft;

  it('make one of the other, whatever lies between, and nothing where nothing does', () => {
    fc.assert(
      fc.property(few, few, (a, b) => {
        const [from, to] = [draftOf(a), draftOf(b)];
        const between = applyEdits(from, editsBetween(from, to));
        expect(between.gone).toEqual([]);
        expect(between.draft).toEqual(to);
        expect(applyEdits(between.draft, between.undo).draft).toEqual(from);
        expect(editsBetween(to, to)).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });

  it('leave alone what somebody else has made of the rest', () => {
    fc.assert(
      fc.property(few, text, (a, title) => {
        const [from, to] = [draftOf([]), draftOf(a)];
        const theirs = start.blocks.find((id) => !a.some((e) => JSON.stringify(e).includes(`"${id}"`)))!;
        const third = applyEdits(from, [{ op: 'setBlock', block: theirs, set: { title } }]).draft;
        const { draft } = applyEdits(third, editsBetween(from, to));
        const kept = blocksOf(draft.document).find((b) => b.id === theirs);
        if (kept) expect(kept).toMatchObject({ title });
      }),
    );
  });

  it('are few where little has changed', () => {
    const from = fresh();
    const [first] = start.blocks;
    const set: Edit = { op: 'setBlock', block: first!, set: { metric: 'visits' } };
    expect(editsBetween(from, applyEdits(from, [set]).draft)).toEqual([set]);
    const row: Edit = { op: 'moveRow', row: start.rows[1]!, page: start.pages[1]!, after: null };
    expect(editsBetween(from, applyEdits(from, [row]).draft)).toHaveLength(1);
  });
});
