import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown, rangeKey } from '../figures/index.ts';
import { type Block, type LayoutContext, type Palette, type Pen, scopeOf } from '../report/index.ts';
import { feedLackWords, fill } from '../words/index.ts';
import { layoutLineChart } from './charts/lineChart.ts';
import { layoutSparkline } from './charts/sparkline.ts';
import type { ComposeInput } from './composeInput.ts';
import { type SetPage, setPages } from './flow.ts';
import { oddMarker } from './oddNotes.ts';
import { setFoot } from './pageFoot.ts';
import { drawHead } from './pageHead.ts';
import { paletteOf } from './palette.ts';
import { createPen } from './pen.ts';
import { widthOf } from './ruler.ts';
import type { Op, Scene, ScenePage } from './scene.ts';
import { MARGIN, SHEET, WIDTH } from './sheet.ts';
import { fitText, wrapText } from './textFit.ts';

/** Raised whenever the same input would be drawn differently; kept with every edition. */
export const COMPOSE_VERSION = 5;

const NOTE = { face: 'sans', size: 7.5 } as const;
const NOTE_LEADING = 10;
/** Between the flow and the notes beneath it, and between notes and foot. */
const NOTE_GAP = 8;
const ABOVE_FOOT = 6;
/** Of a line: what sums of measures may be off by. */
const HAIR = 1e-6;

/** Writes pages one after the other, each with its head; feet come last, when the number of pages is known. */
function pageWriter(input: ComposeInput, palette: Palette) {
  const { ruler } = input;
  const pages: ScenePage[] = [];
  const foot = setFoot(input, palette);
  const bottom = foot.top - ABOVE_FOOT;
  const style = { ...NOTE, fill: palette.muted };
  const linesOf = (notes: readonly string[]) => notes.flatMap((n) => wrapText(ruler, n, style, WIDTH));

  const start = (title: string): { page: ScenePage; pen: Pen; top: number } => {
    const page: ScenePage = { title, ...SHEET, ops: [], blocks: [] };
    const pen = createPen(page.ops, ruler);
    pages.push(page);
    return { page, pen, top: drawHead(input, palette, pen, page.ops, pages.length === 1) };
  };
  // What a head leaves is found by drawing one: the first is another one than those that follow.
  const roomBeneath = (first: boolean): number => {
    const ops: Op[] = [];
    return bottom - drawHead(input, palette, createPen(ops, ruler), ops, first);
  };
  /** Sets notes just above the foot; those that have no room beneath `y` get pages of their own. */
  const putNotes = (pen: Pen, y: number, lines: readonly string[], title: string): void => {
    const now = lines.slice(0, Math.max(0, Math.floor((bottom - y) / NOTE_LEADING + HAIR)));
    const top = bottom - now.length * NOTE_LEADING;
    if (now.length > 0) {
      pen.tagged('P', null, () => {
        now.forEach((line, i) => {
          // Lines end with the space that parts their words when the text is copied.
          pen.text(MARGIN, top + 8 + i * NOTE_LEADING, i < now.length - 1 ? `${line} ` : line, style);
        });
      });
    }
    if (now.length === lines.length) return;
    const next = start(title);
    putNotes(next.pen, next.top, lines.slice(now.length), title);
  };

  return {
    pages,
    rooms: (first: boolean) => ({ first: roomBeneath(first), further: roomBeneath(false), noteGap: NOTE_GAP }),
    heightOfNote: (text: string) => linesOf([text]).length * NOTE_LEADING,
    write({ rows, gap, notes }: SetPage, title: string): void {
      const { page, pen, top } = start(title);
      let y = top;
      for (const row of rows) {
        for (const b of row) {
          b.laid.draw(pen, MARGIN + b.x, y);
          page.blocks.push({ id: b.id, x: MARGIN + b.x, y, w: b.width, h: b.laid.height });
        }
        y += Math.max(...row.map((b) => b.laid.height)) + gap;
      }
      if (notes.length > 0) putNotes(pen, rows.length > 0 ? y - gap + NOTE_GAP : y, linesOf(notes), title);
    },
    feet(): void {
      pages.forEach((page, i) => {
        foot.draw(createPen(page.ops, ruler), i + 1, pages.length);
      });
    },
  };
}

/** What the page has to say about its dates: unequal lengths, and compared days before measuring began. */
function dateNotes({ period, compared, answers, format }: ComposeInput): string[] {
  if (!compared) return [];
  const notes: string[] = [];
  const [days, others] = [lengthOf(period), lengthOf(compared)];
  if (days !== others) notes.push(fill(format.words.noteLengths, { days, compared: others }));
  // Of figures that began later each says so by itself; the note stands where nothing at all is compared.
  const before = Object.entries(answers).flatMap(([key, a]) =>
    a.op === 'total' && key.includes(rangeKey(compared)) ? [a.value] : [],
  );
  if (before.length > 0 && before.every((v) => !isKnown(v) && v.na === 'before-start'))
    notes.push(fill(format.words.noteBeforeStart, { range: format.dates(compared) }));
  return notes;
}

/** The feeds that any total is without in some of its days. */
const feedLacksIn = (answers: Answers): FeedLack[] =>
  Object.values(answers).flatMap((a) => (a.op === 'total' && isKnown(a.value) ? (a.value.feeds ?? []) : []));

/**
 * Lays a report out as pages of primitives: a pure function of its input, byte for byte. Where pages end is chosen for
 * each page of the design as a whole; what is divided is divided where it allows it, and nothing is cut.
 */
export function compose(input: ComposeInput): Scene {
  const { format, ruler } = input;
  const palette = paletteOf(input.brand);
  const writer = pageWriter(input, palette);
  const contextOf = (block: Block, width: number, note: (text: string) => void): LayoutContext => {
    const scope = scopeOf(block, input);
    return {
      ...scope,
      width,
      answers: input.answers,
      book: input.book,
      dayNotes: input.dayNotes.filter((n) => n.from <= scope.period.to && n.to >= scope.period.from),
      commentary: input.commentary,
      labelOf: (key) => input.book.labelOf(key, format.words.metrics),
      format,
      palette,
      measure: (text, style) => widthOf(ruler, style.face, style.size, text),
      wrap: (text, style, w) => wrapText(ruler, text, style, w),
      fit: (text, style, w, after = '') =>
        fitText(ruler, text, style, w - widthOf(ruler, style.face, style.size, after)) + after,
      lineChart: (chart) => layoutLineChart(chart, palette, format, ruler),
      sparkline: (values, w, h) => layoutSparkline(values, w, h, palette),
      oddMark: (metric) => oddMarker(input, note)(metric, scope),
      note,
    };
  };
  const flowing = { contextOf, heightOfNote: writer.heightOfNote };
  const { pages } = input.document;
  const said = [...new Set([...dateNotes(input), ...feedLacksIn(input.answers).map((l) => feedLackWords(l, format))])];
  pages.forEach((page, i) => {
    const last = i === pages.length - 1 ? said : [];
    for (const set of setPages(page, writer.rooms(i === 0), last, flowing)) writer.write(set, page.title);
  });
  writer.feet();
  return {
    version: 1,
    lang: format.locale,
    title: `${input.title} · ${format.range(input.period)}`,
    author: input.agencyName,
    pages: writer.pages,
  };
}
