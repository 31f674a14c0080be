import type { LayoutContext } from './block.ts';
import type { BlockTable, TableLine } from './blockTable.ts';
import { type MailPiece, MOST_MAIL_COLUMNS, MOST_MAIL_ROWS, type Tone } from './mailPiece.ts';

/** A table of a page as a mail shows it: its first rows and columns, and what sums them up. */
export function mailTableOf({ palette }: LayoutContext, table: BlockTable): MailPiece {
  const { title, mark = '', head, heads, lines } = table;
  const tones = new Map<string, Tone>([
    [palette.good, 'better'],
    [palette.wrong, 'worse'],
  ]);
  const rows = lines.filter((l) => !l.isTotal);
  // “Other” says nothing of what is left out here: it goes first, or stands with all the others.
  const left = new Set<TableLine>(
    rows.length <= MOST_MAIL_ROWS + 1 ? [] : rows.slice(MOST_MAIL_ROWS).filter((l) => !l.isOwn),
  );
  return {
    kind: 'table',
    title: title + mark,
    head,
    heads: heads.slice(0, MOST_MAIL_COLUMNS).map((h) => h.text + h.mark),
    lines: lines
      .filter((l) => !left.has(l))
      .map(({ label, link, isTotal = false, isOwn = false, cells }) => ({
        label,
        ...(link && { link }),
        isTotal: isTotal || isOwn,
        cells: cells.slice(0, MOST_MAIL_COLUMNS).map(({ text, fill }) => ({ text, tone: tones.get(fill) ?? 'plain' })),
      })),
    more: left.size,
  };
}
