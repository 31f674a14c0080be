import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown, type MetricBook, rangeKey } from '../figures/index.ts';
import {
  type Brand,
  blockKind,
  type Dates,
  type DayNote,
  type Laid,
  type LayoutContext,
  type ReportDocument,
  type ReportPage,
  type Scope,
  scopeOf,
} from '../report/index.ts';
import { type Formatter, feedLackWords, fill } from '../words/index.ts';
import { layoutLineChart } from './charts/lineChart.ts';
import { layoutSparkline } from './charts/sparkline.ts';
import { drawLogo } from './logo.ts';
import { oddMarker } from './oddNotes.ts';
import { paletteOf } from './palette.ts';
import { createPen } from './pen.ts';
import { type Ruler, widthOf } from './ruler.ts';
import type { Scene, ScenePage } from './scene.ts';
import { fitText, wrapText } from './textFit.ts';

/** Raised whenever the same input would be drawn differently; kept with every edition. */
export const COMPOSE_VERSION = 4;

/** Everything a page is made of. Composing is pure over it. */
export interface ComposeInput extends Dates {
  title: string;
  clientName: string;
  agencyName: string;
  document: ReportDocument;
  answers: Answers;
  book: MetricBook;
  dayNotes: readonly DayNote[];
  /** What was written for the period, by the id of its block. */
  commentary: Readonly<Record<string, string>>;
  brand: Brand;
  format: Formatter;
  ruler: Ruler;
}

const A4 = { width: 595.28, height: 841.89 };
const MARGIN = 42.52;
const WIDTH = A4.width - 2 * MARGIN;
const FOOTER_TOP = A4.height - MARGIN - 12;
const ROW_GAP = 16;
const COLUMN_GAP = 24;
const NOTE = { face: 'sans', size: 7.5 } as const;
const NOTE_LEADING = 10;

/** What the period is held against, in words; null for nothing. */
function heldAgainst({ compared, yardstick, format }: ComposeInput): string | null {
  if (compared) return format.dates(compared);
  if (!yardstick) return null;
  if (yardstick.kind === 'target') return format.words.theTarget;
  return fill(format.words.theTypical, { count: yardstick.ranges.length });
}

/** Writes pages one after the other, each with its head; feet come last, when the number of pages is known. */
function pageWriter(input: ComposeInput) {
  const { format, ruler, brand } = input;
  const palette = paletteOf(brand);
  const pages: ScenePage[] = [];
  let y = 0;

  const start = (title: string, first: boolean): void => {
    const page: ScenePage = { title, ...A4, ops: [], blocks: [] };
    pages.push(page);
    const pen = createPen(page.ops, ruler);
    const right = A4.width - MARGIN;
    const name = { face: 'sansBold', size: first ? 12 : 9, fill: palette.ink } as const;
    const label = format.range(input.period);
    if (brand.logo) {
      const box = { x: MARGIN, y: MARGIN, maxWidth: 170, maxHeight: first ? 34 : 18 };
      const width = drawLogo(page.ops, brand.logo, box, input.clientName, palette.main);
      // A mark without a name says little: the name stands beside it.
      if (width < box.maxHeight * 1.8)
        pen.text(MARGIN + width + 9, MARGIN + box.maxHeight / 2 + 4, input.clientName, name);
    } else {
      pen.tagged('P', null, () => pen.text(MARGIN, MARGIN + (first ? 22 : 12), input.clientName, name));
    }
    const big = { face: 'serifBold', size: first ? 17 : 10, fill: palette.ink } as const;
    if (first) {
      const small = { face: 'sans', size: 8.5, fill: palette.muted } as const;
      const dates = format.dates(input.period);
      const against = heldAgainst(input);
      const compared = against === null ? '' : fill(format.words.comparedWith, { label: against });
      const label2 = [label === dates ? '' : dates, compared].filter((s) => s !== '').join(', ');
      pen.tagged('P', null, () => pen.text(right, MARGIN + 15, label, big, 'right'));
      pen.tagged('P', null, () => pen.text(right, MARGIN + 30, fitText(ruler, label2, small, 330), small, 'right'));
    } else {
      pen.text(right, MARGIN + 12, `${input.title} · ${label}`, { ...big, face: 'sans', size: 8.5 }, 'right');
    }
    const rule = MARGIN + (first ? 44 : 25);
    pen.line(MARGIN, rule, right, rule, palette.main, first ? 1.5 : 0.8);
    if (first) pen.rect(MARGIN, rule - 0.75, 40, 3, palette.second);
    y = rule + (first ? 18 : 14);
  };

  return {
    palette,
    pages,
    start,
    room: () => FOOTER_TOP - 10 - y,
    /** Draws blocks side by side at the present height. */
    put(blocks: { id: string; laid: Laid; x: number; width: number }[]): void {
      const page = pages.at(-1)!;
      const pen = createPen(page.ops, ruler);
      for (const b of blocks) {
        b.laid.draw(pen, MARGIN + b.x, y);
        page.blocks.push({ id: b.id, x: MARGIN + b.x, y, w: b.width, h: b.laid.height });
      }
      y += Math.max(...blocks.map((b) => b.laid.height)) + ROW_GAP;
    },
    /** Sets the notes just above the foot of the last page, or of as many fresh ones as they need. */
    putNotes(lines: readonly string[], title: string): void {
      const style = { ...NOTE, fill: palette.muted };
      const room = () => Math.floor((FOOTER_TOP - 6 - (y - ROW_GAP + 4)) / NOTE_LEADING);
      if (lines.length > room()) start(title, false);
      const now = lines.slice(0, room());
      const top = FOOTER_TOP - 6 - now.length * NOTE_LEADING;
      const pen = createPen(pages.at(-1)!.ops, ruler);
      pen.tagged('P', null, () => {
        now.forEach((line, i) => {
          pen.text(MARGIN, top + 8 + i * NOTE_LEADING, line, style);
        });
      });
      if (now.length < lines.length) this.putNotes(lines.slice(now.length), title);
    },
    feet(): void {
      const style = { face: 'sans', size: 7.5, fill: palette.muted } as const;
      pages.forEach((page, i) => {
        const pen = createPen(page.ops, ruler);
        const left =
          brand.footer.trim() || fill(format.words.preparedBy, { agency: input.agencyName, client: input.clientName });
        const of = fill(format.words.page, { n: i + 1, of: pages.length });
        const right = `${input.title} · ${format.range(input.period)} · ${of}`;
        const rightWidth = widthOf(ruler, style.face, style.size, right);
        pen.line(MARGIN, FOOTER_TOP, A4.width - MARGIN, FOOTER_TOP, palette.rule, 0.6);
        pen.text(MARGIN, FOOTER_TOP + 11, fitText(ruler, left, style, WIDTH - rightWidth - 12), style);
        pen.text(A4.width - MARGIN, FOOTER_TOP + 11, right, style, 'right');
      });
    },
  };
}

type Writer = ReturnType<typeof pageWriter>;

function placeRow(writer: Writer, row: { id: string; laid: Laid; x: number; width: number }[], title: string): void {
  const height = Math.max(...row.map((b) => b.laid.height));
  if (height === 0) return;
  if (height <= writer.room()) {
    writer.put(row);
    return;
  }
  const [only] = row;
  const parts = row.length === 1 && only ? only.laid.split?.(writer.room()) : null;
  if (parts && only) {
    writer.put([{ ...only, laid: parts[0] }]);
    writer.start(title, false);
    placeRow(writer, [{ ...only, laid: parts[1] }], title);
    return;
  }
  if (writer.pages.at(-1)!.blocks.length > 0) {
    writer.start(title, false);
    placeRow(writer, row, title);
    return;
  }
  // Taller than a page and indivisible: drawn once, rather than never.
  writer.put(row);
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
 * Lays a report out as pages of primitives: a pure function of its input, byte for byte.
 * Blocks that do not fit move to a fresh page or are divided where they allow it; none is cut.
 */
export function compose(input: ComposeInput): Scene {
  const { format, ruler } = input;
  const writer = pageWriter(input);
  const { palette } = writer;
  const notes = dateNotes(input);
  const note = (text: string): void => {
    if (!notes.includes(text)) notes.push(text);
  };
  for (const lack of feedLacksIn(input.answers)) note(feedLackWords(lack, format));
  const oddMark = oddMarker(input, note);
  const context = (scope: Scope, width: number): LayoutContext => ({
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
    oddMark: (metric) => oddMark(metric, scope),
    note,
  });
  const layRow = (row: ReportPage['rows'][number]) => {
    const n = row.blocks.length;
    const width = (WIDTH - COLUMN_GAP * (n - 1)) / n;
    return row.blocks.map((block, i) => ({
      id: block.id,
      x: i * (width + COLUMN_GAP),
      width,
      laid: blockKind(block).lay(block, context(scopeOf(block, input), width)),
    }));
  };
  input.document.pages.forEach((page, i) => {
    writer.start(page.title, i === 0);
    for (const row of page.rows) placeRow(writer, layRow(row), page.title);
  });
  if (notes.length > 0) {
    const style = { ...NOTE, fill: palette.muted };
    const lines = notes.flatMap((n) => wrapText(ruler, n, style, WIDTH));
    writer.putNotes(lines, input.document.pages.at(-1)!.title);
  }
  writer.feet();
  return {
    version: 1,
    lang: format.locale,
    title: `${input.title} · ${format.range(input.period)}`,
    author: input.agencyName,
    pages: writer.pages,
  };
}
