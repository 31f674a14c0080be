import { fill } from '../../words/index.ts';
import type { LayoutContext, Pen, SheetSize, TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { fewLines } from './fewLines.ts';
import { laterChoiceField, textField } from './fields.ts';
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
/** Of the sheet's height, how far a coloured ground reaches; and what is kept free above its lower end. */
const GROUND = 0.66;
const ABOVE_END = 26;
const WHITE = '#ffffff';
/** Around a logo that stands on white. */
const PLATE = 8;
/** Of the picture: points above and beneath it, lower than which it is left out, and the part of the sheet that it may have. */
const AROUND = 34;
const LOWEST = 70;
const HIGHEST = 0.34;
/** Points that the foot takes at most. */
const FOOT = 78;

/** Between the words above and the foot at least, and between the logo and what stands beneath it. */
const APART = 14;
const ABOVE = { client: 0, title: 8, dates: 10, said: 34 };
const SMALL_LEADING = 13;

interface Set {
  style: TextStyle;
  lines: readonly string[];
}
const heightOf = ({ style, lines }: Set): number => lines.length * style.size * LEADING;

/** A text in each of the sizes in which it keeps to so many lines, largest first; cut in the smallest where it keeps in none. */
function settings(
  context: LayoutContext,
  text: string,
  style: TextStyle,
  sizes: readonly number[],
  width: number,
  most: number,
): Set[] {
  const fits = sizes.filter((size) => context.wrap(text, { ...style, size }, width).length <= most);
  return (fits.length > 0 ? fits : sizes.slice(-1)).map((size) => {
    const sized = { ...style, size };
    return { style: sized, lines: fewLines(context, text, '', sized, width, most) };
  });
}

/** The logo where a cover begins: on a coloured ground the one that is made for it. */
function drawMark(pen: Pen, context: LayoutContext, isDark: boolean, x: number, y: number, room: number): void {
  const { palette, clientName, logo, logoOnDark } = context;
  const onDark = isDark ? logoOnDark : null;
  const shown = isDark ? onDark?.logo : logo;
  if (!shown) return;
  const box = { x, y, maxWidth: Math.min(LOGO.width, room), maxHeight: LOGO.height };
  if (onDark?.onWhite) {
    const scale = Math.min(box.maxWidth / shown.width, box.maxHeight / shown.height);
    const [w, h] = [shown.width * scale, shown.height * scale];
    pen.rect(x - PLATE, y - PLATE, w + 2 * PLATE, h + 2 * PLATE, WHITE);
  }
  pen.picture(shown, box, clientName, palette.main);
}

function drawCover(
  pen: Pen,
  context: LayoutContext,
  said: string,
  isDark: boolean,
  { width, height, margin }: SheetSize,
): void {
  const { palette, format, imprint, clientName, logo } = context;
  const { words } = format;
  const groundEnd = height * GROUND;
  if (isDark) {
    pen.rect(0, 0, width, groundEnd, palette.main);
    pen.rect(0, groundEnd, width, STRIPE, palette.second);
  } else {
    pen.rect(0, 0, BAND, height, palette.main);
    pen.rect(BAND, 0, STRIPE, height, palette.second);
  }
  const x = margin + INDENT;
  const room = width - x - margin;
  const top = margin + 18;
  drawMark(pen, context, isDark, x, top, room);
  const small: TextStyle = { face: 'sans', size: 9, fill: palette.muted };
  const { manager } = imprint;
  const foot = [fill(words.preparedBy, { agency: imprint.agencyName, client: clientName })];
  if (manager) foot.push(`${manager.name} · ${manager.email}`);
  if (imprint.asOf) foot.push(fill(words.asOf, { date: format.date(imprint.asOf) }));
  const footLines = foot.map((t) => fewLines(context, t, '', small, room, 2));
  const footTop = height - margin - footLines.flat().length * SMALL_LEADING;

  // The main colour of a page is dark enough for white to be read on it.
  const tones = isDark
    ? { ink: WHITE, quiet: WHITE, own: WHITE }
    : { ink: palette.ink, quiet: palette.muted, own: palette.main };
  const ink: TextStyle = { face: 'serifBold', size: TITLE[0]!, fill: tones.ink };
  const quiet: TextStyle = { face: 'sans', size: 11, fill: tones.quiet };
  const ofClient: TextStyle = { face: 'sansBold', size: 14, fill: tones.own };
  const client = settings(context, clientName, ofClient, [14, 12, 10.5], room, 3)[0]!;
  const dates = settings(context, format.range(context.period), { ...ink, face: 'serif' }, [20, 17, 14], room, 3)[0]!;
  const measure = Math.min(room, 380);
  const beneath = { style: quiet, lines: said === '' ? [] : context.wrap(said, quiet, measure) };
  const saidHeight = beneath.lines.length > 0 ? ABOVE.said + heightOf(beneath) : 0;
  const heightWith = (title: Set) =>
    heightOf(client) + ABOVE.title + heightOf(title) + ABOVE.dates + heightOf(dates) + saidHeight;
  // On a low sheet a long title is smaller before it begins higher, and begins higher before words are left out.
  const least = logo || (isDark && context.logoOnDark) ? top + LOGO.height + APART : top;
  const lowest = isDark ? Math.min(groundEnd - ABOVE_END, footTop - APART) : footTop - APART;
  const titles = settings(context, imprint.title, ink, TITLE, room, TITLE_LINES);
  const title = titles.find((t) => height * TITLE_AT + heightWith(t) <= lowest) ?? titles.at(-1)!;
  let y = Math.max(least, Math.min(height * TITLE_AT, lowest - heightWith(title)));

  const put = (tag: 'H1' | 'P', { lines, style }: Set, above: number) => {
    const leading = style.size * LEADING;
    y += above;
    const from = y;
    pen.tagged(tag, null, () => putLines(pen, lines, (i) => [x, from + style.size + i * leading], style));
    y += lines.length * leading;
  };
  put('P', client, ABOVE.client);
  put('H1', title, ABOVE.title);
  put('P', dates, ABOVE.dates);
  const linesLeft = Math.floor((lowest - y - ABOVE.said) / (quiet.size * LEADING));
  if (lowest - y > 21) pen.rect(x, y + 18, 64, 3, isDark ? WHITE : palette.second);
  if (said !== '' && linesLeft > 0)
    put('P', { lines: fewLines(context, said, '', quiet, measure, linesLeft), style: quiet }, ABOVE.said);
  const { coverPicture } = context;
  if (isDark) y = Math.max(y, groundEnd - AROUND / 2);
  const left = height - margin - FOOT - y - 2 * AROUND;
  // Where a long title leaves no room, words are worth more.
  if (coverPicture && left >= LOWEST)
    pen.picture(
      coverPicture,
      { x, y: y + AROUND, maxWidth: room, maxHeight: Math.min(left, height * HIGHEST) },
      fill(words.labelled, { label: words.blocks.picture!, text: clientName }),
      palette.main,
    );
  let at = footTop;
  for (const lines of footLines) {
    const from = at;
    pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, from + 9 + i * SMALL_LEADING], small));
    at += lines.length * SMALL_LEADING;
  }
}

/** A sheet before the others: whose report it is, what it is, and what it covers. */
export const cover = defineBlock({
  kind: 'cover',
  fields: {
    text: textField({ label: 'Subtitle', hint: 'Empty: none', most: 300 }),
    ground: laterChoiceField({
      label: 'Background',
      options: [
        { value: 'paper', label: 'white' },
        { value: 'colour', label: 'the main colour' },
      ],
    }),
  },
  make: () => ({ text: '' }),
  drawSheet: (block, context, pen, size) => drawCover(pen, context, block.text.trim(), block.ground === 'colour', size),
  lay: () => ({ height: 0, draw() {} }),
});
