import type { Palette, Pen, TextStyle } from '../report/index.ts';
import type { PageInput } from './composeInput.ts';
import { widthOf } from './ruler.ts';
import type { ScenePage } from './scene.ts';
import { MARGIN, type Sheet } from './sheet.ts';
import { fitText } from './textFit.ts';

/** Sheets from which on a report has a table of contents. */
export const CONTENTS_FROM = 6;

const HEAD = { size: 17, beneath: 20 };
const PAGE = { size: 11, leading: 17, above: 9 };
const BLOCK = { size: 9, leading: 14 };
const INDENT = 14;
const DOT_GAP = 6;

interface Entry {
  text: string;
  /** Place of its sheet among all, from 0. */
  sheet: number;
  isPage: boolean;
}

interface Listed {
  /** The first sheet that is listed. */
  from: number;
  /** Its own place among them. */
  own: number;
  /** Sheets on which pages of the design begin: two pages may have one title. */
  begins: ReadonlySet<number>;
}

/** What the sheets of a report hold: its pages, and beneath each the titles of its blocks. */
function entriesOf(sheets: readonly ScenePage[], { from, own, begins }: Listed): Entry[] {
  const entries: Entry[] = [];
  const seen = new Set<string>();
  sheets.forEach((sheet, i) => {
    if (i < from || i === own) return;
    if (begins.has(i)) entries.push({ text: sheet.title, sheet: i, isPage: true });
    for (const { id, name } of sheet.blocks) {
      if (name === undefined || seen.has(id)) continue;
      seen.add(id);
      entries.push({ text: name, sheet: i, isPage: false });
    }
  });
  return entries;
}

/** How the lines of pages are set: as usual where they all have room, else closer, and smaller with it. */
function pageLines(count: number, room: number): typeof PAGE {
  if (count * (PAGE.leading + PAGE.above) <= room) return PAGE;
  const leading = room / count;
  return { size: Math.min(PAGE.size, leading * 0.65), leading, above: 0 };
}

const heightOf = (entries: readonly Entry[]): number =>
  entries.reduce((sum, e) => sum + (e.isPage ? PAGE.leading + PAGE.above : BLOCK.leading), 0);

/**
 * Draws the table of contents on one sheet: pages with the titles of their blocks, or pages alone where there are too many.
 * @param sheets all sheets of the report, this one among them
 * @param top and `bottom`: what of the sheet is free, in points
 */
export function drawContents(
  pen: Pen,
  input: PageInput,
  palette: Palette,
  sheet: Sheet,
  sheets: readonly ScenePage[],
  { top, bottom, ...listed }: Listed & { top: number; bottom: number },
): void {
  const { ruler, format } = input;
  const ink: TextStyle = { face: 'serifBold', size: HEAD.size, fill: palette.ink };
  pen.tagged('H2', null, () => pen.text(MARGIN, top + HEAD.size, format.words.contents, ink));
  let y = top + HEAD.size + HEAD.beneath;
  const all = entriesOf(sheets, listed);
  const entries = heightOf(all) <= bottom - y ? all : all.filter((e) => e.isPage);
  const pageLine = entries === all ? PAGE : pageLines(entries.length, bottom - y);
  pen.tagged('L', null, () => {
    for (const entry of entries) {
      const of = entry.isPage ? pageLine : BLOCK;
      if (entry.isPage) y += pageLine.above;
      const style: TextStyle = {
        face: entry.isPage ? 'sansBold' : 'sans',
        size: of.size,
        fill: entry.isPage ? palette.ink : palette.muted,
      };
      const x = MARGIN + (entry.isPage ? 0 : INDENT);
      const number = String(entry.sheet + 1);
      const room = sheet.right - x - widthOf(ruler, style.face, style.size, number) - 3 * DOT_GAP;
      const text = fitText(ruler, entry.text, style, room);
      const baseline = y + of.size;
      pen.tagged('LI', null, () =>
        pen.tagged('LBody', null, () =>
          pen.tagged(
            'Link',
            null,
            () => {
              pen.text(x, baseline, `${text} `, style);
              pen.text(sheet.right, baseline, number, style, 'right');
            },
            { to: entry.sheet, about: `${entry.text}, ${number}` },
          ),
        ),
      );
      const end = x + widthOf(ruler, style.face, style.size, text) + DOT_GAP;
      const stop = sheet.right - widthOf(ruler, style.face, style.size, number) - DOT_GAP;
      if (stop > end) pen.line(end, baseline - 1, stop, baseline - 1, palette.rule, 0.8, [0.8, 3]);
      y += of.leading;
    }
  });
}
