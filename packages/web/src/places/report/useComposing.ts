import { useEffect, useMemo, useState } from 'react';
import { useSteady } from '../../parts/useSteady.ts';
import { plural } from '../../parts/when.ts';
import { actOn } from './actOn.ts';
import type { Act } from './BlockActs.tsx';
import type { Block } from './block.ts';
import { keepCopied, readCopied } from './clipboard.ts';
import type { Asked } from './composerKeys.ts';
import { askedBy, hasMarkedWords, isAmongBlocks, isWriting } from './composerKeys.ts';
import type { Dragged } from './Dragging.tsx';
import {
  addBlock,
  addPage,
  belowOf,
  blocksIn,
  type Doing,
  dropAt,
  movePage,
  paste,
  rowsOf,
  type Target,
} from './documentEdits.ts';
import type { Press } from './Outline.tsx';
import type { useEdits } from './useEdits.ts';
import type { useSelection } from './useSelection.ts';

type Editing = ReturnType<typeof useEdits>;
type Selecting = ReturnType<typeof useSelection>;

/** What can be done with what is chosen of a report, by mouse, menu or key. */
export function useComposing(
  { selection, choose }: Pick<Selecting, 'selection' | 'choose'>,
  { draft: { document }, store }: Pick<Editing, 'draft' | 'store'>,
  client: string,
) {
  const [palette, setPalette] = useState(false);
  const [said, setSaid] = useState('');
  const first = selection.blocks[0] ?? null;
  const page = document.pages.find((p) => p.id === selection.page);
  const chosen = useMemo(() => new Set(selection.blocks), [selection.blocks]);

  const does = ({ edits, select }: Doing) => {
    if (edits.length > 0) store.edit(...edits);
    choose(select);
  };
  const act = (what: Act) => {
    if (what === 'copy') {
      copy();
      return;
    }
    const doing = actOn(document, selection.blocks, what);
    setSaid(doing.edits.length === 0 ? 'Can’t move any further.' : '');
    does(doing);
  };
  const copy = () => {
    const rows = page ? page.rows : rowsOf(document, selection.blocks);
    if (rows.length === 0) return;
    const kept = keepCopied({ rows, client, ...(page && { page: { title: page.title } }) });
    const what = page ? `Page “${page.title}”` : plural(selection.blocks.length, 'block');
    setSaid(kept ? `${what} copied: paste it here, or in another report.` : 'Nothing to paste in this browser.');
  };
  const pasteHere = () => {
    const copied = readCopied();
    if (!copied) {
      setSaid('Nothing copied yet.');
      return;
    }
    setSaid('');
    does(paste(document, copied, client, selection.blocks.at(-1) ?? null, selection.page));
  };
  const add = (fresh: Block, target: Target = belowOf(document, selection.blocks.at(-1) ?? null, selection.page)) => {
    setPalette(false);
    does(addBlock(fresh, target));
  };
  const addOnePage = () => {
    const behind = page?.id ?? document.pages.find((p) => p.rows.some((r) => r.blocks.some((b) => b.id === first)))?.id;
    const edit = addPage(document, `Page ${document.pages.length + 1}`, [], behind ?? null);
    store.edit(edit);
    choose([], edit.page.id);
  };
  const onPage = {
    move: (by: -1 | 1) => page && store.edit(...movePage(document, page.id, by)),
    duplicate() {
      if (!page) return;
      const edit = addPage(document, page.title, page.rows, page.id);
      store.edit(edit);
      choose([], edit.page.id);
    },
    remove() {
      const left = document.pages.filter((p) => p.id !== page?.id);
      if (!page || !left.some((p) => !p.dropped)) return;
      store.edit({ op: 'removePage', page: page.id });
      choose([]);
    },
  };
  const press = (id: string, how: Press) => {
    setPalette(false);
    if (how === 'alone' || chosen.size === 0) {
      choose([id]);
      return;
    }
    if (how === 'too') {
      choose(chosen.has(id) ? selection.blocks.filter((b) => b !== id) : [...selection.blocks, id]);
      return;
    }
    const all = blocksIn(document).map((b) => b.id);
    const [from, to] = [all.indexOf(first!), all.indexOf(id)];
    const between = all.slice(Math.min(from, to), Math.max(from, to) + 1);
    // The first stays the one from which it is reckoned.
    choose([first!, ...between.filter((b) => b !== first)]);
  };
  const backToReport = () => {
    setPalette(false);
    choose([]);
  };
  const onDrop = (dragged: Dragged, target: Target) => {
    if ('fresh' in dragged) add(dragged.fresh, target);
    else does(dropAt(document, chosen.has(dragged.block) ? selection.blocks : [dragged.block], target));
  };
  /** What a key does here; null where it is not ours. */
  const doingOf = (key: Asked): (() => void) | null => {
    if ('act' in key) {
      if (page) {
        const acts: Partial<Record<Act, () => void>> = {
          up: () => onPage.move(-1),
          down: () => onPage.move(1),
          duplicate: onPage.duplicate,
          copy,
          remove: onPage.remove,
        };
        return acts[key.act] ?? null;
      }
      return chosen.size > 0 ? () => act(key.act) : null;
    }
    if ('step' in key) {
      const all = blocksIn(document).map((b) => b.id);
      const at = all.indexOf(selection.blocks.at(-1) ?? '');
      const next = all[at < 0 ? (key.step === 1 ? 0 : all.length - 1) : at + key.step];
      if (next === undefined) return () => undefined;
      return () => press(next, key.more ? 'too' : 'alone');
    }
    switch (key.do) {
      case 'undo':
        return () => store.undo();
      case 'redo':
        return () => store.redo();
      case 'paste':
        return pasteHere;
      case 'cut':
        return chosen.size > 0
          ? () => {
              copy();
              does(actOn(document, selection.blocks, 'remove'));
            }
          : null;
      case 'all':
        return () => choose(blocksIn(document).map((b) => b.id));
      case 'palette':
        return () => setPalette(true);
      case 'report':
        return () => {
          setPalette(false);
          choose([]);
        };
    }
  };
  const keys = (e: KeyboardEvent) => {
    const key = e.defaultPrevented || isWriting(e.target) ? null : askedBy(e);
    if (!key) return;
    if ('do' in key && key.do === 'palette' && !isAmongBlocks(e.target)) return;
    if (hasMarkedWords() && (('act' in key && key.act === 'copy') || ('do' in key && key.do === 'cut'))) return;
    const doing = doingOf(key);
    if (!doing) return;
    e.preventDefault();
    doing();
  };
  const onKey = useSteady(keys);
  useEffect(() => {
    // Wherever one is: what had the focus may just have been taken away.
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onKey]);

  return {
    ...{ palette, setPalette, said, first, page, chosen },
    ...{ act, copy, pasteHere, add, addOnePage, onPage, press, backToReport, onDrop },
  };
}
