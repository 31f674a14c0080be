import { type Palette, type Pen, putLines, type TextStyle } from '../report/index.ts';
import { fill } from '../words/index.ts';
import type { PageInput } from './composeInput.ts';
import { widthOf } from './ruler.ts';
import { MARGIN, type Sheet } from './sheet.ts';
import { wrapText } from './textFit.ts';

const SIZE = 7.5;
const LEADING = 9;
const APART = 14;
/** Of the width, what either side may take of a long other one. */
const SHARE = 0.5;

/** What stands left and right in one line of a foot, in as many lines as it needs. */
interface Pair {
  left: string[];
  right: string[];
}

/** Each side has what the other leaves, and half of the width at least. */
function pairOf({ ruler }: PageInput, { inner }: Sheet, style: TextStyle, left: string, right: string): Pair {
  const width = (text: string) => widthOf(ruler, style.face, style.size, text);
  const least = inner * SHARE - APART / 2;
  const [leftRoom, rightRoom] = [width(right), width(left)].map((other) => Math.max(least, inner - APART - other));
  return { left: wrapText(ruler, left, style, leftRoom!), right: wrapText(ruler, right, style, rightRoom!) };
}

/** RFC 6068: what means something in an address of a link is written out. */
const mailTo = (address: string): string => `mailto:${address.split('@').map(encodeURIComponent).join('@')}`;

const linesIn = ({ left, right }: Pair): number => Math.max(left.length, right.length);

/**
 * The foot of every page: who made it and for whom, what it is, and which page of how many; beneath, whom one may ask, and
 * the day of the figures. On the first page that is a part of the report; what repeats on the others is not read again.
 */
export function setFoot(input: PageInput, palette: Palette, sheet: Sheet) {
  const { format, manager, asOf, brand, agencyName: agency, clientName: client } = input;
  const { words } = format;
  const style: TextStyle = { face: 'sans', size: SIZE, fill: palette.muted };
  const madeBy = brand.footer.trim() || fill(words.preparedBy, { agency, client });
  const runningOf = (n: number, of: number) =>
    pairOf(
      input,
      sheet,
      style,
      madeBy,
      `${input.title} · ${format.range(input.period)} · ${fill(words.page, { n, of })}`,
    );
  const asked = [manager ? `${manager.name} · ${manager.email}` : '', (brand.address ?? '').trim()]
    .filter((t) => t !== '')
    .join(' · ');
  const known = asOf === null ? '' : fill(words.asOf, { date: format.date(asOf) });
  const imprint = pairOf(input, sheet, style, asked, known);
  // However many pages there will be.
  const lines = linesIn(runningOf(888, 888));
  const top = sheet.height - MARGIN - 12 - (lines + linesIn(imprint) - 1) * LEADING;
  return {
    /** Where it begins, in points from the top of the sheet. */
    top,
    draw(pen: Pen, n: number, of: number): void {
      const put = (texts: string[], from: number, x: number, align: 'left' | 'right') =>
        putLines(pen, texts, (i) => [x, top + 11 + (from + i) * LEADING], style, align);
      const drawn = runningOf(n, of);
      const putImprint = () => {
        const mail = manager ? { link: mailTo(manager.email), about: manager.email } : undefined;
        const putLeft = () => put(imprint.left, lines, MARGIN, 'left');
        if (n !== 1) {
          putLeft();
          put(imprint.right, lines, sheet.right, 'right');
          return;
        }
        if (mail) pen.tagged('P', null, () => pen.tagged('Link', null, putLeft, mail));
        if (known !== '') pen.tagged('P', null, () => put(imprint.right, lines, sheet.right, 'right'));
      };
      if (n === 1) putImprint();
      pen.tagged('PageFoot', null, () => {
        pen.line(MARGIN, top, sheet.right, top, palette.rule, 0.6);
        put(drawn.left, 0, MARGIN, 'left');
        put(drawn.right, 0, sheet.right, 'right');
        if (n !== 1) putImprint();
      });
    },
  };
}
