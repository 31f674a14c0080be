import { type Block, blockKind } from '../blocks/registry.ts';
import type { ReportPage } from '../document.ts';
import { applyEdit } from './applyEdit.ts';
import type { Draft, Edit } from './edit.ts';
import { blockIn, rowOf } from './places.ts';

/** What a kind of block is called. */
export type NameOf = (kind: string) => string;

/** Choices that all blocks have, as they are called in a sentence. */
const OWN: Record<string, string> = {
  filter: 'what it counts',
  period: 'its dates',
  comparison: 'what it is compared with',
  when: 'when it is shown',
  columns: 'its width',
};

const fieldName = (block: Block, key: string): string =>
  OWN[key] ??
  blockKind(block)
    .fields.find((f) => f.key === key)
    ?.label.toLowerCase() ??
  key;

const quoted = ({ title }: Pick<ReportPage, 'title'>): string => `“${title}”`;

/** A block by its kind, and its title or words where it has some. */
function called(block: Block, nameOf: NameOf): string {
  const { title = '', text = '' } = block as { title?: string; text?: string };
  const own = (block.kind === 'heading' ? text : title).trim();
  return own === '' ? nameOf(block.kind) : `${nameOf(block.kind)} “${own.slice(0, 40)}”`;
}

const WHOLE: Partial<Record<Edit['op'], string>> = {
  period: 'The dates it covers change.',
  comparison: 'What it is compared with changes.',
  filter: 'What it counts changes.',
  assumptions: 'Its assumptions change.',
  attachFigures: 'Whether its data is attached changes.',
  contents: 'Whether it has a table of contents changes.',
};

/** One edit of a draft in a sentence (the interface is English). */
function sentence({ document }: Draft, edit: Edit, nameOf: NameOf): string {
  const page = (id: string) => document.pages.find((p) => p.id === id) ?? { title: '' };
  const names = (blocks: readonly Block[]) => blocks.map((b) => called(b, nameOf)).join(' and ');
  const block = (id: string) => blockIn(document, id);
  switch (edit.op) {
    case 'title':
      return `The title becomes “${edit.title}”.`;
    case 'paper':
      return edit.page === null ? 'Its paper changes.' : `The paper of page ${quoted(page(edit.page))} changes.`;
    case 'addPage':
      return `Page ${quoted(edit.page)} is added.`;
    case 'namePage':
      return `Page ${quoted(page(edit.page))} becomes “${edit.title}”.`;
    case 'dropPage':
      return `Page ${quoted(page(edit.page))} ${edit.dropped ? 'is no longer included' : 'is included'}.`;
    case 'movePage':
      return `Page ${quoted(page(edit.page))} moves.`;
    case 'removePage':
      return `Page ${quoted(page(edit.page))} is removed.`;
    case 'addRow':
      return `${names(edit.row.blocks)} is added to ${quoted(page(edit.page))}.`;
    case 'addBlock':
      return `${called(edit.block, nameOf)} is added to ${quoted(rowOf(document, edit.row)?.page ?? { title: '' })}.`;
    case 'moveRow':
      return `${names(rowOf(document, edit.row)?.row.blocks ?? [])} moves.`;
    case 'removeRow':
      return `${names(rowOf(document, edit.row)?.row.blocks ?? [])} is removed.`;
    case 'moveBlock':
    case 'liftBlock': {
      const found = block(edit.block);
      return `${found ? called(found.block, nameOf) : 'A block'} moves.`;
    }
    case 'removeBlock': {
      const found = block(edit.block);
      return found ? `${called(found.block, nameOf)} leaves ${quoted(found.page)}.` : 'A block is removed.';
    }
    case 'setBlock': {
      const found = block(edit.block);
      if (!found) return 'A block changes.';
      const what = Object.keys(edit.set).map((key) => fieldName(found.block, key));
      return `${called(found.block, nameOf)}: ${what.join(', ')} ${what.length === 1 ? 'changes' : 'change'}.`;
    }
    default:
      return WHOLE[edit.op] ?? '';
  }
}

/** What edits make of a draft, a sentence each, equal ones once; and those that come to nothing, since what they change is gone. */
export function editWords(
  draft: Draft,
  edits: readonly Edit[],
  nameOf: NameOf,
): { changes: string[]; leaves: string[] } {
  const changes = new Set<string>();
  const leaves = new Set<string>();
  let now = draft;
  for (const edit of edits) {
    const applied = applyEdit(now, edit);
    (applied.ok ? changes : leaves).add(sentence(now, edit, nameOf));
    if (applied.ok) now = applied.draft;
  }
  return { changes: [...changes], leaves: [...leaves] };
}
