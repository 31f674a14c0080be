import { applyEdits, type Draft, type Edit } from '@chronicon/core/contract/edits';
import { describe, expect, it } from 'vitest';
import { ApiError } from '../../api/call.ts';
import type { Block } from './block.ts';
import { EditStore, type Saved } from './editStore.ts';

const trend = (id: string): Block => ({ kind: 'trend', id, metric: 'visits', title: '' });
const draft = (): Draft => ({
  title: 'Monthly overview',
  document: {
    version: 2,
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    pages: [
      {
        id: 'p1',
        title: 'One',
        rows: [
          { id: 'r1', blocks: [trend('a')] },
          { id: 'r2', blocks: [trend('b')] },
        ],
      },
    ],
  },
});
const set = (block: string, title: string): Edit => ({ op: 'setBlock', block, set: { title } });
const titleOf = (d: Draft, id: string) =>
  d.document.pages
    .flatMap((p) => p.rows.flatMap((r) => r.blocks))
    .flatMap((b) => (b.id === id ? (b as { title?: string }).title : []))[0];

/** A server that keeps a report, a line that can break, and a clock that is moved by hand. */
function fixture() {
  let stored = draft();
  let version = 1;
  let now = 0;
  const saves: Edit[][] = [];
  let fault: (() => unknown) | null = null;
  /** The line breaks after the server has done it. */
  let deaf = false;
  const timers: { at: number; work: () => void }[] = [];
  const server = {
    /** What somebody else does. */
    other(...edits: Edit[]) {
      stored = applyEdits(stored, edits).draft;
      version++;
    },
    get stored() {
      return stored;
    },
    saves,
    fail: (with_: (() => unknown) | null) => {
      fault = with_;
    },
    deafen: (to: boolean) => {
      deaf = to;
    },
  };
  const store = new EditStore(
    { ...draft(), version: 1 },
    {
      async save(edits, base): Promise<Saved> {
        if (fault) throw fault();
        const { draft: next, gone } = applyEdits(stored, edits);
        if (gone.length > 0)
          throw new ApiError(409, 'gone', Object.fromEntries(gone.map((i) => [`edits.${i}`, 'gone'])));
        saves.push(edits);
        const current = version === base;
        stored = next;
        version++;
        if (deaf) throw new TypeError('the line broke');
        return { version, updatedAt: '', now: current ? null : stored };
      },
      load: async () => ({ ...stored, version }),
      now: () => now,
      later(work, ms) {
        const timer = { at: now + ms, work };
        timers.push(timer);
        return () => timers.splice(timers.indexOf(timer), 1);
      },
    },
  );
  /** Lets time pass, and what was due be done. */
  const pass = async (ms: number) => {
    now += ms;
    for (const timer of timers.filter((t) => t.at <= now)) {
      timers.splice(timers.indexOf(timer), 1);
      timer.work();
    }
    for (let i = 0; i < 10; i++) await Promise.resolve();
  };
  return { store, server, pass };
}

describe('what is edited', () => {
  it('is seen at once and saved when the hand rests, typing as one edit', async () => {
    const { store, server, pass } = fixture();
    for (const typed of ['N', 'Ne', 'New']) {
      store.edit(set('a', typed));
      await pass(100);
    }
    expect(titleOf(store.snapshot().draft, 'a')).toBe('New');
    expect(store.snapshot()).toMatchObject({ state: 'waiting', version: 1 });
    expect(server.saves).toEqual([]);
    await pass(700);
    expect(server.saves).toEqual([[set('a', 'New')]]);
    expect(store.snapshot()).toMatchObject({ state: 'saved', version: 2 });
    store.undo();
    expect(titleOf(store.snapshot().draft, 'a')).toBe('');
    store.redo();
    expect(titleOf(store.snapshot().draft, 'a')).toBe('New');
  });

  it('stands beside what others do, and undo takes back one’s own alone', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'Mine'));
    server.other(set('b', 'Theirs'));
    await pass(700);
    expect([titleOf(server.stored, 'a'), titleOf(server.stored, 'b')]).toEqual(['Mine', 'Theirs']);
    expect(titleOf(store.snapshot().draft, 'b')).toBe('Theirs');
    store.undo();
    await pass(700);
    expect([titleOf(server.stored, 'a'), titleOf(server.stored, 'b')]).toEqual(['', 'Theirs']);
  });

  it('is kept over a broken line and tried again by itself, also when the server had done it already', async () => {
    const { store, server, pass } = fixture();
    // As a call says it of a line that broke.
    server.fail(() => new ApiError(0, 'The server cannot be reached.', {}));
    store.edit({ op: 'removeRow', row: 'r1' }, { op: 'title', title: 'Weekly' });
    await pass(700);
    expect(store.snapshot()).toMatchObject({ state: 'broken', draft: { title: 'Weekly' } });
    store.edit(set('b', 'While away'));
    server.fail(() => new ApiError(503, 'busy', {}));
    await pass(1_000);
    expect(store.snapshot().state).toBe('broken');
    server.fail(null);
    server.deafen(true);
    await pass(2_000);
    expect(server.stored.title).toBe('Weekly');
    server.deafen(false);
    await pass(4_000);
    expect(store.snapshot()).toMatchObject({ state: 'saved', error: null });
    expect(store.snapshot().draft).toEqual(server.stored);
    expect([server.stored.document.pages[0]!.rows.length, titleOf(server.stored, 'b')]).toEqual([1, 'While away']);
  });

  it('that others removed meanwhile comes to nothing, is told, and the rest is saved', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'Gone'));
    store.edit({ op: 'title', title: 'Weekly' });
    server.other({ op: 'removeRow', row: 'r1' });
    await pass(700);
    expect(store.snapshot()).toMatchObject({ lost: 1, draft: { title: 'Weekly' } });
    await pass(700);
    expect(store.snapshot()).toMatchObject({ state: 'saved', error: null });
    expect(server.stored.title).toBe('Weekly');
    expect(store.snapshot().draft).toEqual(server.stored);
  });

  it('that the server does not take stays, with its reason, until it is changed', async () => {
    const { store, server, pass } = fixture();
    server.fail(() => new ApiError(422, 'Enter a heading.', { document: 'Enter a heading.' }));
    store.edit(set('a', ''), set('a', 'x'));
    await pass(700);
    expect(store.snapshot()).toMatchObject({ state: 'refused', error: { message: 'Enter a heading.' } });
    await pass(60_000);
    expect(server.saves).toEqual([]);
    server.fail(null);
    store.edit(set('a', 'Words'));
    await pass(700);
    expect(store.snapshot()).toMatchObject({ state: 'saved', error: null });
    expect(titleOf(server.stored, 'a')).toBe('Words');
  });

  it('is saved on leaving, or it is said that it could not be', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'New'));
    expect(await store.flush()).toBe(true);
    expect(titleOf(server.stored, 'a')).toBe('New');
    server.fail(() => new TypeError('fetch failed'));
    store.edit(set('a', 'Newer'));
    expect(await store.flush()).toBe(false);
    server.fail(null);
    await pass(1_000);
    expect(titleOf(server.stored, 'a')).toBe('Newer');
  });

  it('is many steps of undo where it is many choices', async () => {
    const { store, pass } = fixture();
    store.edit(set('a', 'One'));
    await pass(1_500);
    store.edit(set('a', 'Two'));
    store.edit({ op: 'removeBlock', block: 'b' });
    store.edit({ op: 'removeBlock', block: 'nowhere' });
    store.undo();
    store.undo();
    expect(titleOf(store.snapshot().draft, 'a')).toBe('One');
    store.undo();
    store.undo();
    expect(store.snapshot()).toMatchObject({ draft: draft(), mayUndo: false, mayRedo: true });
  });
});

describe('two who edit one report', () => {
  it('see what the other does, beneath what they are doing themselves', () => {
    const { store, server } = fixture();
    store.edit(set('a', 'Mine'));
    server.other(set('b', 'Theirs'));
    store.meet(server.stored, 2);
    const { draft: seen, version } = store.snapshot();
    expect([titleOf(seen, 'a'), titleOf(seen, 'b'), version]).toEqual(['Mine', 'Theirs', 2]);
    expect(store.snapshot().overwritten).toEqual([]);
  });

  it('keep the words in whose place the other’s stand, until they are put back or let go', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'Mine'));
    await pass(700);
    server.other(set('a', 'Theirs'));
    store.meet(server.stored, 3);
    const [words] = store.snapshot().overwritten;
    expect(words).toMatchObject({ mine: 'Mine', theirs: 'Theirs', of: { block: 'a' } });
    expect(titleOf(store.snapshot().draft, 'a')).toBe('Theirs');
    store.settle(words!);
    expect(store.snapshot().overwritten).toEqual([]);
  });

  it('hear of it when saving, too, and of what was removed', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'Mine'));
    await pass(700);
    server.other(set('a', 'Theirs'), { op: 'removeBlock', block: 'b' });
    store.edit({ op: 'title', title: 'Another' });
    await pass(700);
    expect(store.snapshot().overwritten.map((o) => o.theirs)).toEqual(['Theirs']);
    expect(store.snapshot().state).toBe('saved');
  });

  it('the one whose edit is saved later stands, and is told nothing', async () => {
    const { store, server, pass } = fixture();
    store.edit(set('a', 'Mine'));
    server.other(set('a', 'Theirs'));
    store.meet(server.stored, 2);
    await pass(700);
    expect(titleOf(server.stored, 'a')).toBe('Mine');
    expect(store.snapshot().overwritten).toEqual([]);
  });

  it('take nothing that is older than what they know', async () => {
    const { store, server, pass } = fixture();
    const old = server.stored;
    store.edit(set('a', 'Mine'));
    await pass(700);
    store.meet(old, 1);
    store.meet(old, 2);
    expect(titleOf(store.snapshot().draft, 'a')).toBe('Mine');
  });
});
