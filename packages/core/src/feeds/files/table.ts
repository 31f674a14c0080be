import { type Cell, isBlank, textOf } from './cell.ts';
import { SEPARATORS, type Separator } from './styles.ts';

/** How many of each separator a line has, outside of quotes. */
function counted(line: string): number[] {
  const counts = SEPARATORS.map(() => 0);
  let quoted = false;
  for (const c of line) {
    if (c === '"') quoted = !quoted;
    else if (!quoted) {
      const at = (SEPARATORS as readonly string[]).indexOf(c);
      if (at >= 0) counts[at]!++;
    }
  }
  return counts;
}

/** What parts the cells of a text: the sign that most lines have equally often. A lone column has none: a comma. */
export function guessSeparator(head: string): Separator {
  const lines = head
    .split(/\r\n|\n|\r/)
    .filter((l) => l.trim() !== '')
    .slice(0, 60);
  let best: { separator: Separator; score: number } = { separator: ',', score: 0 };
  const counts = lines.map(counted);
  for (const [i, separator] of SEPARATORS.entries()) {
    const tally = new Map<number, number>();
    for (const c of counts) if (c[i]! > 0) tally.set(c[i]!, (tally.get(c[i]!) ?? 0) + 1);
    for (const [cells, times] of tally) {
      const score = times * 100 + Math.min(cells, 50);
      if (score > best.score) best = { separator, score };
    }
  }
  return best.separator;
}

const looksLikeValue = (cell: Cell): boolean =>
  typeof cell === 'number' || /^[^\p{L}]*\d[^\p{L}]*$/u.test(textOf(cell)) || /^\d{4}-\d\d-\d\d/.test(textOf(cell));

/**
 * The row that names the columns, counted from 0, or -1 when there is none: the first row as wide as the table, all of
 * words, with no such row of words before the values begin. Titles above it are narrower.
 */
export function findHeader(rows: readonly (readonly Cell[])[]): number {
  const filled = rows.map((r) => r.filter((c) => !isBlank(c)).length);
  const wide = Math.max(0, ...filled);
  for (let i = 0; i < Math.min(rows.length, 20); i++) {
    const row = rows[i]!;
    if (row.some((c) => !isBlank(c) && looksLikeValue(c))) {
      // Titles with a date in them are narrower than the table.
      if (filled[i]! >= Math.max(2, wide - 1)) return -1;
      continue;
    }
    if (filled[i]! >= Math.max(1, Math.ceil(wide * 0.6)) && rows.length > 1) return i;
  }
  return -1;
}

/** Names for all columns: a missing one is its number, one that comes twice gets a number behind it. */
export function nameColumns(header: readonly Cell[] | null, width: number): { names: string[]; notices: string[] } {
  const names: string[] = [];
  const notices: string[] = [];
  for (let i = 0; i < width; i++) {
    const said = header ? textOf(header[i]).replace(/\s+/g, ' ').slice(0, 80) : '';
    if (said === '') {
      if (header) notices.push(`Column ${i + 1} has no heading of its own. Give each column one.`);
      names.push(`Column ${i + 1}`);
      continue;
    }
    let name = said;
    for (let n = 2; names.includes(name); n++) name = `${said} (${n})`;
    if (name !== said) notices.push(`“${said}” names more than one column; the later one is called “${name}”.`);
    names.push(name);
  }
  return { names, notices };
}
