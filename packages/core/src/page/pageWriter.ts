import { type Palette, type Paper, type Pen, putLines, type SheetSize } from '../report/index.ts';
import type { PageInput } from './composeInput.ts';
import type { SetPage } from './flow.ts';
import { setFoot } from './pageFoot.ts';
import { drawHead } from './pageHead.ts';
import type { WrittenSheet } from './pageMemo.ts';
import { createPen } from './pen.ts';
import type { Op, ScenePage } from './scene.ts';
import { MARGIN, type Sheet, sheetOf } from './sheet.ts';
import { wrapText } from './textFit.ts';

const NOTE = { face: 'sans', size: 7.5 } as const;
const NOTE_LEADING = 10;
/** Between the flow and the notes beneath it, and between notes and foot. */
const NOTE_GAP = 8;
const ABOVE_FOOT = 6;
/** Of a line: what sums of measures may be off by. */
const HAIR = 1e-6;

/** Writes pages of one paper onto the pages of a scene. */
export interface PageWriter {
  sheet: Sheet;
  /** Points beneath the head for the first sheet and those that follow. */
  rooms(first: boolean): { first: number; further: number; noteGap: number };
  heightOfNote(text: string): number;
  write(set: SetPage, title: string): void;
  /** A sheet of one block alone, without head and foot. */
  writeSheet(id: string, title: string, draw: (pen: Pen, size: SheetSize) => void): void;
  /** Begins a sheet with its head; what is free beneath it is told. */
  begin(title: string): { pen: Pen; top: number; bottom: number };
}

/** A sheet at its place among all. */
interface Placed {
  page: ScenePage;
  foot: ReturnType<typeof setFoot> | null;
  later: readonly string[];
  kept?: WrittenSheet;
}

/** Writes pages one after the other, each with its head; feet come last, when the number of pages is known. */
export function createPages(input: PageInput, palette: Palette) {
  const { ruler } = input;
  const sheets: Placed[] = [];
  const style = { ...NOTE, fill: palette.muted };

  const footOf = (paper: Paper) => on(paper).foot;

  function writerOf(paper: Paper) {
    const sheet = sheetOf(paper);
    const foot = setFoot(input, palette, sheet);
    const bottom = foot.top - ABOVE_FOOT;
    const penOn = (ops: Op[]) => createPen(ops, ruler, sheet.width);
    const linesOf = (notes: readonly string[]) => notes.flatMap((n) => wrapText(ruler, n, style, sheet.inner));
    const acrossOf = (x: number, w: number) => (ruler.direction === 'rtl' ? sheet.width - x - w : x);

    const start = (title: string, later: readonly string[] = []): { page: ScenePage; pen: Pen; top: number } => {
      const page: ScenePage = { title, width: sheet.width, height: sheet.height, ops: [], blocks: [] };
      const pen = penOn(page.ops);
      sheets.push({ page, foot, later });
      return { page, pen, top: drawHead(input, palette, pen, page.ops, sheets.length === 1, sheet) };
    };
    const rooms = new Map<boolean, number>();
    // What a head leaves is found by drawing one: the first is another one than those that follow.
    const roomBeneath = (first: boolean): number => {
      const ops: Op[] = [];
      const room = rooms.get(first) ?? bottom - drawHead(input, palette, penOn(ops), ops, first, sheet);
      rooms.set(first, room);
      return room;
    };
    /** Sets notes just above the foot; those that have no room beneath `y` get pages of their own. */
    const putNotes = (pen: Pen, y: number, lines: readonly string[], title: string): void => {
      const now = lines.slice(0, Math.max(0, Math.floor((bottom - y) / NOTE_LEADING + HAIR)));
      const top = bottom - now.length * NOTE_LEADING;
      if (now.length > 0) {
        pen.tagged('P', null, () => {
          putLines(pen, now, (i) => [MARGIN, top + 8 + i * NOTE_LEADING], style);
        });
      }
      if (now.length === lines.length) return;
      const next = start(title);
      putNotes(next.pen, next.top, lines.slice(now.length), title);
    };

    const writer: PageWriter = {
      sheet,
      rooms: (first) => ({ first: roomBeneath(first), further: roomBeneath(false), noteGap: NOTE_GAP }),
      heightOfNote: (text) => linesOf([text]).length * NOTE_LEADING,
      writeSheet(id, title, draw) {
        const { width, height } = sheet;
        const page: ScenePage = { title, width, height, ops: [], blocks: [{ id, x: 0, y: 0, w: width, h: height }] };
        sheets.push({ page, foot: null, later: [] });
        draw(penOn(page.ops), { width, height, margin: MARGIN });
      },
      begin(title) {
        const { pen, top } = start(title);
        return { pen, top, bottom };
      },
      write({ rows, gap, notes, later }, title) {
        const { page, pen, top } = start(title, later);
        let y = top;
        for (const row of rows) {
          for (const { id, x, width, laid } of row) {
            laid.draw(pen, MARGIN + x, y);
            const name = laid.name === undefined ? {} : { name: laid.name };
            page.blocks.push({ id, x: acrossOf(MARGIN + x, width), y, w: width, h: laid.height, ...name });
          }
          y += Math.max(...row.map((b) => b.laid.height)) + gap;
        }
        if (notes.length > 0) putNotes(pen, rows.length > 0 ? y - gap + NOTE_GAP : y, linesOf(notes), title);
      },
    };
    return { writer, foot };
  }

  const writers = new Map<string, ReturnType<typeof writerOf>>();
  /** The same for all pages of one paper. */
  function on(paper: Paper): ReturnType<typeof writerOf> {
    const key = `${paper.size} ${paper.orientation}`;
    const found = writers.get(key) ?? writerOf(paper);
    writers.set(key, found);
    return found;
  }
  /** A sheet with its foot. What is kept stays as it is: the foot is drawn on a copy, which is kept beside it. */
  function finish({ page, foot, kept }: Placed, at: number, of: number): ScenePage {
    if (kept?.finished?.at === at && kept.finished.of === of) return kept.finished.page;
    const finished = { ...page, ops: [...page.ops] };
    foot?.draw(createPen(finished.ops, ruler, page.width), at, of);
    if (kept) kept.finished = { at, of, page: finished };
    return finished;
  }
  return {
    get pages(): ScenePage[] {
      return sheets.map((s) => s.page);
    },
    get count(): number {
      return sheets.length;
    },
    /** Notes that are told at the end of the report, by the titles of the pages that they belong to, each once for a page. */
    get later(): Map<string, string[]> {
      const found = new Map<string, Set<string>>();
      for (const { page, later } of sheets) {
        if (later.length === 0) continue;
        const of = found.get(page.title) ?? new Set();
        for (const note of later) of.add(note);
        found.set(page.title, of);
      }
      return new Map([...found].map(([title, notes]) => [title, [...notes]]));
    },
    on: (paper: Paper): PageWriter => on(paper).writer,
    /** The sheets that were written last, from a place on; they are taken away. */
    takeFrom(at: number): WrittenSheet[] {
      return sheets.splice(at).map(({ page, foot, later }) => ({ page, hasFoot: foot !== null, later }));
    },
    /** Adds sheets that were written before, each with the foot of its paper. */
    put(written: readonly WrittenSheet[], paper: Paper): void {
      const foot = footOf(paper);
      for (const kept of written)
        sheets.push({ page: kept.page, foot: kept.hasFoot ? foot : null, later: kept.later, kept });
    },
    /** Moves the sheet that was begun last to another place. */
    moveLast(to: number): void {
      sheets.splice(to, 0, sheets.pop()!);
    },
    drawFeet(): void {
      sheets.forEach((sheet, i) => {
        sheet.page = finish(sheet, i + 1, sheets.length);
      });
    },
  };
}
