import { type Palette, putLines, type TextStyle } from '../report/index.ts';
import type { PageInput } from './composeInput.ts';
import type { PageWriter } from './pageWriter.ts';
import { MARGIN } from './sheet.ts';
import { wrapText } from './textFit.ts';

const HEAD = { size: 17, beneath: 14 };
const TITLE = { size: 11, leading: 15, above: 12 };
const NOTE = { size: 9, leading: 12.5, above: 4 };

/**
 * The pages at the end of a report with the notes that had no room at the foot of their sheets, beneath the titles of the pages
 * that they belong to. As many sheets as they need; a title keeps with its first note, and a note is never divided unless it is
 * taller than a sheet.
 */
export function drawNotesPages(
  notes: ReadonlyMap<string, readonly string[]>,
  writer: PageWriter,
  input: PageInput,
  palette: Palette,
): void {
  const { ruler, format } = input;
  const name = format.words.notes;
  const head: TextStyle = { face: 'serifBold', size: HEAD.size, fill: palette.ink };
  const title: TextStyle = { face: 'sansBold', size: TITLE.size, fill: palette.ink };
  const text: TextStyle = { face: 'sans', size: NOTE.size, fill: palette.ink };
  let { pen, top: y, bottom } = writer.begin(name);
  pen.tagged('H2', null, () => pen.text(MARGIN, y + HEAD.size, name, head));
  y += HEAD.size + HEAD.beneath;
  const makeRoom = (height: number) => {
    if (y + height <= bottom) return;
    ({ pen, top: y, bottom } = writer.begin(name));
  };
  for (const [of, said] of notes) {
    const set = said.map((note) => wrapText(ruler, note, text, writer.sheet.inner));
    const titled = wrapText(ruler, of, title, writer.sheet.inner);
    makeRoom(TITLE.above + titled.length * TITLE.leading + NOTE.above + set[0]!.length * NOTE.leading);
    y += TITLE.above;
    const above = y;
    pen.tagged('H3', null, () => putLines(pen, titled, (i) => [MARGIN, above + TITLE.size + i * TITLE.leading], title));
    y += titled.length * TITLE.leading;
    for (const lines of set) {
      makeRoom(NOTE.above + lines.length * NOTE.leading);
      for (let at = 0; at < lines.length; ) {
        const room = Math.max(1, Math.floor((bottom - y - NOTE.above) / NOTE.leading));
        const now = lines.slice(at, at + room);
        const begin = y + NOTE.above;
        pen.tagged('P', null, () => putLines(pen, now, (i) => [MARGIN, begin + NOTE.size + i * NOTE.leading], text));
        y = begin + now.length * NOTE.leading;
        at += now.length;
        if (at < lines.length) ({ pen, top: y, bottom } = writer.begin(name));
      }
    }
  }
}
