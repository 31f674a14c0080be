import type { CivilDate, Range } from '../../calendar/index.ts';
import type { Answers, MetricBook, MetricUnit, Question } from '../../figures/index.ts';
import type { Formatter } from '../../words/index.ts';

/** A typeface that the press carries. */
export type Face = 'sans' | 'sansBold' | 'serif' | 'serifBold';

/** The colours a page is drawn with: the brand's own, their tints, and the house's quiet ones. */
export interface Palette {
  main: string;
  mainTint: string;
  second: string;
  ink: string;
  muted: string;
  rule: string;
  good: string;
  wrong: string;
}

/** How a text is set. Sizes are points. */
export interface TextStyle {
  face: Face;
  size: number;
  fill: string;
}

/** What a stretch of the page is, for readers that follow the PDF's tags (ISO 32000-1 §14.8.4). */
export type Tag = 'H1' | 'H2' | 'P' | 'Table' | 'TR' | 'TH' | 'TD' | 'Figure' | 'L' | 'LI';

/** Draws on one page; points, origin top left. Text is placed by its baseline. */
export interface Pen {
  text(x: number, baseline: number, text: string, style: TextStyle, align?: 'left' | 'right' | 'center'): void;
  rect(x: number, y: number, w: number, h: number, fill: string): void;
  line(x1: number, y1: number, x2: number, y2: number, stroke: string, width: number, dash?: number[]): void;
  path(d: string, paint: { fill?: string; stroke?: string; width?: number; dash?: number[]; opacity?: number }): void;
  tagged(tag: Tag, alt: string | null, draw: () => void): void;
}

/** A block that knows its height and can be drawn with its top left corner anywhere. */
export interface Laid {
  height: number;
  draw(pen: Pen, x: number, y: number): void;
  /** Divides at most `room` points off the top; null when that cannot be done well. Absent: never divided. */
  split?(room: number): [Laid, Laid] | null;
}

export interface LineChart {
  title: string;
  width: number;
  height: number;
  unit: MetricUnit;
  days: CivilDate[];
  current: { values: (number | null)[]; label: string };
  compared: { values: (number | null)[]; label: string } | null;
  /** A level line across the chart: what each day should bring. */
  target: { value: number; label: string } | null;
  /** Days with a note, by their first and last place among `days`. */
  marks: { from: number; to: number }[];
}

/** What a period is held against when it is no range of dates (SEMANTICS §3). */
export type Yardstick = { kind: 'typical'; ranges: readonly Range[] } | { kind: 'target' };

/** The settled dates of a page. */
export interface Dates {
  period: Range;
  compared: Range | null;
  /** Present only where `compared` is null. */
  yardstick?: Yardstick | undefined;
}

/** What somebody noted of certain days, both ends included. */
export interface DayNote extends Range {
  text: string;
}

/** Everything a block may use to lay itself out. */
export interface Desk extends Dates {
  width: number;
  answers: Answers;
  book: MetricBook;
  /** What was noted of the period's days for readers to know. */
  dayNotes: readonly DayNote[];
  /** What was written for the page's period, by the id of its block. */
  commentary: Readonly<Record<string, string>>;
  format: Formatter;
  palette: Palette;
  /** A metric's name in the report's language, or the client's own. */
  labelOf(metric: string): string;
  /** Width of a text in points. */
  measure(text: string, style: TextStyle): number;
  /** Lines of at most `width` points; breaks at spaces, and inside a word only when it alone is too long. */
  wrap(text: string, style: TextStyle, width: number): string[];
  /** The text, cut with an ellipsis when wider than `width`. */
  fit(text: string, style: TextStyle, width: number): string;
  lineChart(chart: LineChart): Laid;
  sparkline(values: (number | null)[], width: number, height: number): Laid;
  /** Adds a sentence to the notes on the last page; the same one is said once. */
  note(text: string): void;
}

/** A choice that cannot stand, with a sentence for the person who made it. */
export interface BlockFault {
  field: string;
  message: string;
}

/** One kind of block: its choices, what it asks, how it is laid out. One file a kind, registered in registry.ts. */
export interface BlockKind<B extends { kind: string }> {
  questions(block: B, dates: Dates): Question[];
  /** What of its choices a client's metrics cannot answer, by field; the schema sees to the rest. */
  check(block: B, book: MetricBook): BlockFault[];
  lay(block: B, desk: Desk): Laid;
}
