import { fill } from '../../words/index.ts';
import type { LayoutContext, Pen, SheetSize, TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { fewLines } from './fewLines.ts';
import { textField } from './fields.ts';
import { putLines } from './putLines.ts';

/** Of the band at the side, and the narrow one beside it. */
const BAND = 26;
const STRIPE = 5;
const INDENT = 30;
const LOGO = { width: 230, height: 84 };
const TITLE = [38, 32, 26, 21];
const TITLE_LINES = 5;
/** Where the title begins, as a part of the sheet's height. */
const TITLE_AT = 0.36;
const LEADING = 1.18;
/** Of the picture: points above and beneath it, lower than which it is left out, and the part of the sheet that it may have. */
const AROUND = 34;
const LOWEST = 70;
const HIGHEST = 0.34;
/** Points that the foot takes at most. */
const FOOT = 78;

/** The largest size in which a text keeps to so many lines. */
function sized(
  context: LayoutContext,
  text: string,
  style: TextStyle,
  sizes: readonly number[],
  width: number,
  most: number,
) {
  const size = sizes.find((s) => context.wrap(text, { ...style, size: s }, width).length <= most) ?? sizes.at(-1)!;
  const set = { ...style, size };
  return { style: set, lines: fewLines(context, text, '', set, width, most) };
}

function drawCover(pen: Pen, context: LayoutContext, said: string, { width, height, margin }: SheetSize): void {
  const { palette, format, imprint, clientName, logo } = context;
  const { words } = format;
  pen.rect(0, 0, BAND, height, palette.main);
  pen.rect(BAND, 0, STRIPE, height, palette.second);
  const x = margin + INDENT;
  const room = width - x - margin;
  const top = margin + 18;
  if (logo)
    pen.picture(
      logo,
      { x, y: top, maxWidth: Math.min(LOGO.width, room), maxHeight: LOGO.height },
      clientName,
      palette.main,
    );
  const ink: TextStyle = { face: 'serifBold', size: TITLE[0]!, fill: palette.ink };
  const quiet: TextStyle = { face: 'sans', size: 11, fill: palette.muted };
  const client = sized(
    context,
    clientName,
    { ...quiet, face: 'sansBold', size: 14, fill: palette.main },
    [14, 12, 10.5],
    room,
    3,
  );
  const title = sized(context, imprint.title, ink, TITLE, room, TITLE_LINES);
  const dates = sized(context, format.range(context.period), { ...ink, face: 'serif' }, [20, 17, 14], room, 3);
  const beneath = said === '' ? [] : context.wrap(said, quiet, Math.min(room, 380));
  let y = height * TITLE_AT;
  const put = (tag: 'H1' | 'P', { lines, style }: { lines: readonly string[]; style: TextStyle }, above: number) => {
    const leading = style.size * LEADING;
    y += above;
    const from = y;
    pen.tagged(tag, null, () => putLines(pen, lines, (i) => [x, from + style.size + i * leading], style));
    y += lines.length * leading;
  };
  put('P', client, 0);
  put('H1', title, 8);
  put('P', dates, 10);
  pen.rect(x, y + 18, 64, 3, palette.second);
  if (beneath.length > 0) put('P', { lines: beneath, style: quiet }, 34);
  const footTop = height - margin - FOOT;
  const { coverPicture } = context;
  const left = footTop - y - 2 * AROUND;
  // Where a long title leaves no room, words are worth more.
  if (coverPicture && left >= LOWEST)
    pen.picture(
      coverPicture,
      { x, y: y + AROUND, maxWidth: room, maxHeight: Math.min(left, height * HIGHEST) },
      `${words.blocks.picture}: ${clientName}`,
      palette.main,
    );
  const small: TextStyle = { face: 'sans', size: 9, fill: palette.muted };
  const { manager } = imprint;
  const foot = [fill(words.preparedBy, { agency: imprint.agencyName, client: clientName })];
  if (manager) foot.push(`${manager.name} · ${manager.email}`);
  if (imprint.asOf) foot.push(fill(words.asOf, { date: format.date(imprint.asOf) }));
  const lines = foot.map((t) => fewLines(context, t, '', small, room, 2));
  let at = height - margin - lines.flat().length * 13;
  for (const of of lines) {
    const from = at;
    pen.tagged('P', null, () => putLines(pen, of, (i) => [x, from + 9 + i * 13], small));
    at += of.length * 13;
  }
}

/** A sheet before the others: whose report it is, what it is, and what it covers. */
export const cover = defineBlock({
  kind: 'cover',
  fields: { text: textField({ label: 'Words beneath', hint: 'Empty: none', most: 300 }) },
  make: () => ({ text: '' }),
  drawSheet: (block, context, pen, size) => drawCover(pen, context, block.text.trim(), size),
  lay: () => ({ height: 0, draw() {} }),
});
