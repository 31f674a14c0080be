import { lengthOf } from '../calendar/index.ts';
import { type Answers, type FeedLack, isKnown, rangeKey } from '../figures/index.ts';
import {
  type Block,
  blockKind,
  type Laid,
  type LayoutContext,
  type ReportPage,
  type Scope,
  scopeOf,
} from '../report/index.ts';
import { shareRow } from '../set/index.ts';
import { feedLackWords, fill } from '../words/index.ts';
import { layoutLineChart } from './charts/lineChart.ts';
import { layoutSparkline } from './charts/sparkline.ts';
import type { ComposeInput } from './composeInput.ts';
import { oddMarker } from './oddNotes.ts';
import { setFoot } from './pageFoot.ts';
import { drawHead } from './pageHead.ts';
import { paletteOf } from './palette.ts';
import { createPen } from './pen.ts';
import { widthOf } from './ruler.ts';
import type { Scene, ScenePage } from './scene.ts';
import { MARGIN, SHEET, WIDTH } from './sheet.ts';
import { fitText, wrapText } from './textFit.ts';

/** Raised whenever the same input would be drawn differently; kept with every edition. */
export const COMPOSE_VERSION = 5;

const ROW_GAP = 16;
const COLUMN_GAP = 24;
const NOTE = { face: 'sans', size: 7.5 } as const;
const NOTE_LEADING = 10;

/** Writes pages one after the other, each with its head; feet come last, when the number of pages is known. */
function pageWriter(input: ComposeInput) {
  const { ruler, brand } = input;
  const palette = paletteOf(brand);
  const pages: ScenePage[] = [];
  let y = 0;

  const foot = setFoot(input, palette);
  const start = (title: string, first: boolean): void => {
    const page: ScenePage = { title, ...SHEET, ops: [], blocks: [] };
    pages.push(page);
    y = drawHead(input, palette, createPen(page.ops, ruler), page.ops, first);
  };

  return {
    palette,
    pages,
    start,
    room: () => foot.top - 10 - y,
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
      const room = () => Math.floor((foot.top - 6 - (y - ROW_GAP + 4)) / NOTE_LEADING);
      if (lines.length > room()) start(title, false);
      const now = lines.slice(0, room());
      const top = foot.top - 6 - now.length * NOTE_LEADING;
      const pen = createPen(pages.at(-1)!.ops, ruler);
      pen.tagged('P', null, () => {
        now.forEach((line, i) => {
          pen.text(MARGIN, top + 8 + i * NOTE_LEADING, line, style);
        });
      });
      if (now.length < lines.length) this.putNotes(lines.slice(now.length), title);
    },
    feet(): void {
      pages.forEach((page, i) => {
        foot.draw(createPen(page.ops, ruler), i + 1, pages.length);
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
  /** The blocks of a row that say anything, in as many rows as they need to live. */
  const layRow = (row: ReportPage['rows'][number]) => {
    const even = (WIDTH - COLUMN_GAP * (row.blocks.length - 1)) / row.blocks.length;
    const lay = (block: Block, width: number) => blockKind(block).lay(block, context(scopeOf(block, input), width));
    const said = row.blocks.filter((block) => lay(block, even).height > 0);
    const leasts = said.map((block) => blockKind(block).least(block, context(scopeOf(block, input), even)));
    return shareRow(leasts, WIDTH, COLUMN_GAP).map((places) =>
      places.map(({ index, x, width }) => ({ id: said[index]!.id, x, width, laid: lay(said[index]!, width) })),
    );
  };
  input.document.pages.forEach((page, i) => {
    writer.start(page.title, i === 0);
    for (const row of page.rows) for (const placed of layRow(row)) placeRow(writer, placed, page.title);
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
