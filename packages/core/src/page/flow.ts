import { MOST_COLUMNS } from '../bounds/index.ts';
import type { Block, Laid, LayoutContext, ReportPage } from '../report/index.ts';
import {
  breakPages,
  type FlowItem,
  GAP_SHRINK,
  type Grid,
  linesOfRow,
  shareRow,
  wishedWidths,
} from '../typeset/index.ts';

/** Between rows, and between blocks of a row, in points. */
const ROW_GAP = 16;
const COLUMN_GAP = 24;
const COLUMNS = MOST_COLUMNS;
/** Of a page, what blocks side by side may take. */
const TALLEST = 0.8;
/** Whatever a block says, its words need as much. */
const NARROWEST = 100;
/** Points by which a gap grows where a page has room. */
const GAP_GROW = 6;
/** Widths that differ by less are the same. */
const HAIR = 1e-6;
/** A page that is emptier than this is left so: stretched, it would look empty and loud. */
const STRETCHED_FROM = 0.55;

/** A block where it stands in its row, with what it has to say at the foot of its page. */
interface Placed {
  id: string;
  x: number;
  width: number;
  laid: Laid;
}

/** A stretch of the flow that is drawn at once: a row of blocks, or pieces of one that is divided. */
interface Stretch extends FlowItem {
  row: readonly Placed[];
  /** Which piece of the row's only block; null for a row as a whole. */
  piece: number | null;
}

/** Notes at the foot of a sheet: of more than these, a sentence says that they are at the end of the report. */
const MOST_NOTES = 3;

/** What stands on one page, from its top with `gap` points between rows, and the notes at its foot. */
export interface SetPage {
  rows: Placed[][];
  gap: number;
  notes: string[];
  /** Notes that are told at the end of the report, in place of which the foot has one sentence. */
  later: string[];
}

export interface Flowing {
  /** Points across which rows are set. */
  width: number;
  /** What a block is laid out with at a width; what it notes is handed to `note`. */
  contextOf(block: Block, width: number, note: (text: string) => void): LayoutContext;
  /** Lays a block out, or what stands in its place. */
  layBlock(block: Block, context: LayoutContext): Laid;
  /** The narrowest width in points in which it can live. */
  leastOf(block: Block, context: LayoutContext): number;
  /** Points that a note takes at the foot of a page. */
  heightOfNote(text: string): number;
  /** What stands at the foot in place of so many notes. */
  moreNotes(count: number): string;
}

/** What blocks side by side may take: alone, and with what they note. */
interface Tallest {
  row: number;
  withNotes: number;
}

/** The blocks of a line that say anything, in as many rows as they need to live. */
function layLine(
  blocks: readonly Block[],
  fills: boolean,
  tallest: Tallest,
  { width: inner, contextOf, layBlock, leastOf, heightOfNote, moreNotes }: Flowing,
): Stretch[] {
  const grid: Grid = { room: inner, gap: COLUMN_GAP, columns: COLUMNS };
  const silent = () => undefined;
  const lay = (block: Block, width: number) => {
    const texts: string[] = [];
    const laid = layBlock(
      block,
      contextOf(block, width, (text) => texts.push(text)),
    );
    return { block, width, laid, texts };
  };
  const trial = wishedWidths(blocks, grid, fills);
  const said = blocks.map((block, i) => lay(block, trial[i]!)).filter(({ laid }) => laid.height > 0);
  const wishes = said.map(({ block, width }) => ({
    columns: block.columns,
    // One alone has the whole width, whatever it needs.
    least: said.length === 1 && fills ? 0 : Math.max(NARROWEST, leastOf(block, contextOf(block, width, silent))),
  }));
  const place = (places: readonly { index: number; x: number; width: number }[]): Stretch[] => {
    const set = places.map(({ index, x, width }) => {
      const tried = said[index]!;
      return { ...(Math.abs(tried.width - width) < HAIR ? tried : lay(tried.block, width)), x };
    });
    const texts = [...new Set(set.flatMap((s) => s.texts))];
    const placed = set.map(({ block, x, width, laid }) => ({ id: block.id, x, width, laid }));
    const height = Math.max(...placed.map((p) => p.laid.height));
    const notes = texts.map((text) => ({ text, height: heightOfNote(text) }));
    const foot =
      notes.length > MOST_NOTES ? heightOfNote(moreNotes(notes.length)) : notes.reduce((sum, n) => sum + n.height, 0);
    const whole = height + foot;
    // Side by side and nearly a page: each alone, where it may be divided and has room beneath a heading.
    if ((height > tallest.row || whole > tallest.withNotes) && placed.length > 1)
      return places.flatMap((p) => place([{ ...p, x: 0, width: inner }]));
    return stretchesOf(placed, notes);
  };
  return shareRow(wishes, grid, fills).flatMap(place);
}

/** By how much a row may be lower and higher: where all of its blocks may. */
const elasticity = (row: readonly Placed[]): { shrink: number; grow: number } => ({
  shrink: Math.min(...row.map((p) => p.laid.elastic?.shrink ?? 0)),
  grow: Math.min(...row.map((p) => p.laid.elastic?.grow ?? 0)),
});

/** Fits rows into `room`: what may be lower or higher is so by the same part of what it can. */
function fitted(rows: readonly Placed[][], room: number): { rows: Placed[][]; gap: number } {
  const heightOf = (row: readonly Placed[]) => Math.max(...row.map((p) => p.laid.height));
  const gaps = Math.max(0, rows.length - 1);
  const used = rows.reduce((sum, row) => sum + heightOf(row), gaps * ROW_GAP);
  const free = room - used;
  const able = rows.map(elasticity);
  const sum = (of: 'shrink' | 'grow') => able.reduce((total, e) => total + e[of], 0);
  const total = free < 0 ? sum('shrink') + gaps * ROW_GAP * GAP_SHRINK : sum('grow') + gaps * GAP_GROW;
  if (total === 0 || (free > 0 && used < room * STRETCHED_FROM)) return { rows: [...rows], gap: ROW_GAP };
  const part = Math.max(-1, Math.min(1, free / total));
  const by = (e: { shrink: number; grow: number }) => part * (part < 0 ? e.shrink : e.grow);
  return {
    rows: rows.map((row, i) => {
      const more = by(able[i]!);
      if (Math.abs(more) < 0.01) return row;
      return row.map((p) => ({ ...p, laid: p.laid.elastic!.at(p.laid.height + more) }));
    }),
    gap: ROW_GAP + by({ shrink: ROW_GAP * GAP_SHRINK, grow: GAP_GROW }),
  };
}

function stretchesOf(row: readonly Placed[], notes: FlowItem['notes']): Stretch[] {
  const [only] = row;
  const pieces = row.length === 1 ? only!.laid.pieces : undefined;
  const keeps = row.every((p) => p.laid.keepsWithNext) ? Number.POSITIVE_INFINITY : 0;
  if (!pieces) {
    const height = Math.max(...row.map((p) => p.laid.height));
    return [
      { row, piece: null, height, after: ROW_GAP, penalty: keeps, again: 0, shrink: elasticity(row).shrink, notes },
    ];
  }
  const last = pieces.heights.length - 1;
  return pieces.heights.map((height, piece) => ({
    row,
    piece,
    height,
    after: piece === last ? ROW_GAP : 0,
    penalty: piece === last ? keeps : pieces.penalties[piece]!,
    again: piece === 0 ? 0 : pieces.again,
    shrink: 0,
    // With its end: what they explain is read by then.
    notes: piece === last ? notes : [],
  }));
}

/** The rows of one page: pieces of one block that follow each other are one again. */
function rowsOf(stretches: readonly Stretch[]): Placed[][] {
  const rows: Placed[][] = [];
  for (let i = 0; i < stretches.length; ) {
    const { row, piece } = stretches[i]!;
    if (piece === null) {
      rows.push([...row]);
      i++;
      continue;
    }
    let end = i + 1;
    while (stretches[end]?.row === row) end++;
    const [only] = row;
    const whole = end - i === only!.laid.pieces!.heights.length;
    rows.push([whole ? only! : { ...only!, laid: only!.laid.pieces!.cut(piece, piece + end - i) }]);
    i = end;
  }
  return rows;
}

/**
 * Sets a page of the design on as many sheets as it needs. What blocks note stands at the foot of the sheet on which they
 * end, each once: three of them, and in place of more a sentence that names the page of notes at the end.
 * @param last what has to be said at the foot of the last sheet
 */
export function setPages(
  page: ReportPage,
  rooms: { first: number; further: number; noteGap: number },
  last: readonly string[],
  flowing: Flowing,
): SetPage[] {
  // Headings that come before a row have to stand on its sheet; the first sheet has the least room.
  let kept = 0;
  let isBeginning = true;
  const stretches = page.rows.flatMap(({ blocks }) =>
    linesOfRow(blocks, COLUMNS).flatMap(({ places, fills }) => {
      const room = isBeginning ? Math.min(rooms.first, rooms.further) : rooms.further;
      const tallest = { row: rooms.further * TALLEST, withNotes: room - kept - rooms.noteGap };
      const on = places.map((i) => blocks[i]!);
      const laid = layLine(on, fills, tallest, flowing);
      if (laid.length === 0) return [];
      const keeps = laid.every((s) => s.row.every((p) => p.laid.keepsWithNext));
      kept = keeps ? kept + laid.reduce((sum, s) => sum + s.height + s.after, 0) : 0;
      isBeginning &&= keeps;
      return laid;
    }),
  );
  const end = stretches.at(-1);
  const more = last.map((text) => ({ text, height: flowing.heightOfNote(text) }));
  if (end) end.notes = [...end.notes, ...more];
  /** The notes of one sheet: all of them, or a sentence in their place. */
  const footOf = (texts: readonly string[]): Pick<SetPage, 'notes' | 'later'> =>
    texts.length > MOST_NOTES
      ? { notes: [flowing.moreNotes(texts.length)], later: [...texts] }
      : { notes: [...texts], later: [] };
  const atFoot = {
    gap: rooms.noteGap,
    most: MOST_NOTES,
    more: flowing.heightOfNote(flowing.moreNotes(MOST_NOTES + 1)),
  };
  const starts = breakPages(stretches, rooms.first, rooms.further, atFoot);
  if (starts.length === 0) return [{ rows: [], gap: ROW_GAP, ...footOf(last) }];
  return starts.map((from, i) => {
    const on = stretches.slice(from, starts[i + 1]);
    const foot = footOf([...new Set(on.flatMap((s) => s.notes.map((n) => n.text)))]);
    const beneath = foot.notes.reduce(
      (sum, n) => sum + flowing.heightOfNote(n),
      foot.notes.length > 0 ? rooms.noteGap : 0,
    );
    return { ...fitted(rowsOf(on), (i === 0 ? rooms.first : rooms.further) - beneath), ...foot };
  });
}
