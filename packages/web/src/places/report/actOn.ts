import type { Act } from './BlockActs.tsx';
import {
  columnsOf,
  type Document,
  type Doing,
  duplicate,
  inOrder,
  moveBeside,
  movePages,
  moveRows,
  setColumns,
} from './documentEdits.ts';

/** What an act does to the blocks that are chosen. Copying changes nothing. */
export function actOn(document: Document, ids: readonly string[], act: Act): Doing {
  const chosen = inOrder(document, ids);
  const nothing: Doing = { edits: [], select: chosen };
  switch (act) {
    case 'up':
      return moveRows(document, chosen, -1);
    case 'down':
      return moveRows(document, chosen, 1);
    case 'left':
      return moveBeside(document, chosen, -1);
    case 'right':
      return moveBeside(document, chosen, 1);
    case 'pageBack':
      return movePages(document, chosen, -1);
    case 'pageOn':
      return movePages(document, chosen, 1);
    case 'narrower':
    case 'wider': {
      const by = act === 'wider' ? 1 : -1;
      const edits = chosen.map((id) => setColumns(id, columnsOf(document, id) + by));
      return { edits, select: chosen };
    }
    case 'duplicate':
      return duplicate(document, chosen);
    case 'remove':
      return { edits: chosen.map((block) => ({ op: 'removeBlock', block })), select: [] };
    case 'copy':
      return nothing;
  }
}
