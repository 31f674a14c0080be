import type { z } from 'zod';
import type { CivilDate, Range } from '../../calendar/index.ts';
import type {
  Against,
  Answers,
  CountedRange,
  DimensionKey,
  Filter,
  MetricBook,
  MetricUnit,
  Question,
} from '../../figures/index.ts';
import type { Direction, Formatter, Words } from '../../words/index.ts';
import type { Logo } from '../brand.ts';
import type { Otherwise } from '../mergeFields.ts';
import type { BlockFault, FieldShape } from './fieldShape.ts';
import type { MailPiece, MailShow } from './mailPiece.ts';
import type { OwnChoices } from './ownChoices.ts';

/** A typeface that the renderer carries. */
export type Face = 'sans' | 'sansBold' | 'serif' | 'serifBold';

/** The colours a page is drawn with: the brand's own, their tints, and the house's quiet ones. */
export interface Palette {
  main: string;
  mainTint: string;
  second: string;
  /** What is compared with, and what falls: grey beside the brand's own. */
  compared: string;
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
  /** Of the line as a whole, where its own letters do not say so. */
  direction?: Direction;
  /** Running text, whose words may be divided at the ends of lines. */
  running?: true;
}

/** What a stretch of the page is, for readers that follow the PDF's tags (ISO 32000-1 §14.8.4). */
export type Tag =
  /** Of a report, of a part of it, of a block: levels as they are meant, one beneath the other. */
  | 'H1'
  | 'H2'
  | 'H3'
  | 'P'
  | 'Table'
  | 'TR'
  | 'TH'
  | 'TD'
  | 'Figure'
  | 'L'
  | 'LI'
  | 'Lbl'
  | 'LBody'
  | 'Link'
  /** What repeats on every page and is not read with it. */
  | 'PageHead'
  | 'PageFoot';

/** What a stretch says of itself beside its tag. */
export interface TagMore {
  /** Of the head of a table: what it is the head of. */
  scope?: 'Row' | 'Column';
  /** Of a link: the address that it leads to, or the place of a sheet among all, from 0; and in words. */
  link?: string;
  to?: number;
  about?: string;
}

/** Draws on one page; points, origin top left. Text is placed by its baseline. */
export interface Pen {
  text(x: number, baseline: number, text: string, style: TextStyle, align?: 'left' | 'right' | 'center'): void;
  rect(x: number, y: number, w: number, h: number, fill: string): void;
  line(x1: number, y1: number, x2: number, y2: number, stroke: string, width: number, dash?: number[]): void;
  path(d: string, paint: { fill?: string; stroke?: string; width?: number; dash?: number[]; opacity?: number }): void;
  /**
   * Draws a picture with its top left corner at (x, y), as large as fits; on `ground` where it is too pale for paper.
   * @returns the width it takes
   */
  picture(
    picture: Logo,
    box: { x: number; y: number; maxWidth: number; maxHeight: number },
    alt: string,
    ground: string,
  ): number;
  tagged(tag: Tag, alt: string | null, draw: () => void, more?: TagMore): void;
}

/** Where a block may be divided between pages: its pieces from the top. */
export interface Pieces {
  /** Points. */
  heights: readonly number[];
  /** How bad it is to end a page after each: 0 is as good as any, infinite is never. */
  penalties: readonly number[];
  /** Points that stand above a piece which begins a page: a table's head, once more. */
  again: number;
  /** The pieces from `from` up to, not including, `to`. */
  cut(from: number, to: number): Laid;
}

/** How much lower and higher a block may be than it is by nature, in points; a chart, say. */
export interface Elastic {
  shrink: number;
  grow: number;
  /** The same at another height between those. */
  at(height: number): Laid;
}

/** A block that knows its height and can be drawn with its top left corner anywhere. */
export interface Laid {
  height: number;
  draw(pen: Pen, x: number, y: number): void;
  /** Absent: never divided. */
  pieces?: Pieces;
  /** Absent: of one height. */
  elastic?: Elastic;
  /** Stands on the page of what comes next: a heading is never alone at the foot. */
  keepsWithNext?: true;
  /** What a table of contents calls it; absent where it has no title. */
  name?: string;
}

export interface LineChart {
  title: string;
  width: number;
  height: number;
  unit: MetricUnit;
  /** What a point is of, and the first day of each. */
  span: 'day' | 'week' | 'month';
  points: CivilDate[];
  /** Left out: a line over a pale area. */
  shape?: 'line' | 'area' | 'columns' | undefined;
  current: { values: (number | null)[]; label: string };
  /** Further lines beside the current one, where there is no compared one. */
  others?: readonly { values: (number | null)[]; label: string }[] | undefined;
  compared: { values: (number | null)[]; label: string } | null;
  /** A level line across the chart: what each day should bring, or usually brings. */
  level: { value: number; label: string } | null;
  /** What is told of it to whoever does not see it, beside its lowest and highest point. */
  facts: readonly string[];
  /** Days with a note, by their first and last place among `points`. */
  marks: { from: number; to: number }[];
}

/** What a period is held against when it is no range of dates (SEMANTICS §3). */
export type Yardstick = Against;

/** The settled dates of a page, with the days of them that do not count. */
export interface Dates {
  period: CountedRange;
  compared: CountedRange | null;
  /** Present only where `compared` is null. */
  yardstick?: Yardstick | undefined;
}

/** What a block is asked for: dates, and what of the figures is counted. */
export interface Scope extends Dates {
  /** The as-of date of the run: the days before it have passed (SEMANTICS §1). */
  at: CivilDate;
  /** The client's first day of the week: 1 for Monday to 7 (SEMANTICS §1). */
  weekStart: number;
  /** What was written for the period in the block. */
  written: string;
  filter: Filter;
}

/** What somebody noted of certain days, both ends included. */
export interface DayNote extends Range {
  text: string;
}

/** A sheet of paper, and what stays free at its edges, in points. */
export interface SheetSize {
  width: number;
  height: number;
  margin: number;
}

/** Everything a block may use to lay itself out. */
export interface LayoutContext extends Scope {
  width: number;
  answers: Answers;
  book: MetricBook;
  /** The metrics that the report shows, in reading order. */
  shownMetrics: readonly string[];
  /** Whose report it is, and its logo. */
  clientName: string;
  logo: Logo | null;
  /** What stands of it on a ground of the main colour, and whether on white there. */
  logoOnDark: { logo: Logo; onWhite: boolean } | null;
  /** What the report says of itself. */
  imprint: {
    title: string;
    agencyName: string;
    manager: { name: string; email: string } | null;
    asOf: CivilDate | null;
  };
  /** What the report assumes: as it is now, and as it is by default. */
  assumptions: readonly { key: string; label: string; unit: MetricUnit; now: number; usual: number }[];
  /** What was noted of the period's days for readers to know. */
  dayNotes: readonly DayNote[];
  /** The block's own dates and filter in words, where they differ from the report's; else nothing. */
  subtitle: string;
  format: Formatter;
  palette: Palette;
  /** A metric's name in the report's language, or the client's own. */
  labelOf(metric: string): string;
  /** The same in a note at the foot of a sheet: with the block's own filter, so that no two notes speak of one name. */
  noteLabelOf(metric: string): string;
  /** Whether the page says already that nothing at all was measured in what it is compared with. */
  nothingCompared: boolean;
  /** What stands after a metric's name where a day of its figures is odd, or left out, with a note that says which; else nothing. */
  dayMark(metric: string): string;
  /** Width of a text in points. */
  measure(text: string, style: TextStyle): number;
  /** Lines of at most `width` points; breaks at spaces, and inside a word only when it alone is too long. */
  wrap(text: string, style: TextStyle, width: number): string[];
  /** The text, cut with an ellipsis when wider than `width`; `after` it stands what is never cut. */
  fit(text: string, style: TextStyle, width: number, after?: string): string;
  lineChart(chart: LineChart): Laid;
  sparkline(values: (number | null)[], width: number, height: number): Laid;
  /** What a merge field says of the report and its figures (SEMANTICS §11); null for nothing. */
  fieldValue(field: string): string | Otherwise | null;
  /** Where a value of a dimension leads: an address of its own, or a page of the client's site; undefined for nowhere. */
  linkOf(dimension: string, label: string): string | undefined;
  /** The brand's picture for covers; null for none. */
  coverPicture: Logo | null;
  /** The picture that is found at an address; null where there is none, or it is not to be had. */
  pictureOf(address: string | null): Logo | null;
  /** The direction of a paragraph that somebody wrote: that of its first letter. */
  directionOf(text: string): Direction;
  /** Adds a sentence to the notes at the foot of the sheet on which the block ends; the same one is said once. */
  note(text: string): void;
}

/** What a new block begins with. */
export interface Fresh {
  /** Of the report's language. */
  words: Words;
  /** A metric and a dimension that the client's feeds bring. */
  metric: string;
  dimension: DimensionKey;
}

/** What every block has. */
export interface AnyBlock extends OwnChoices {
  kind: string;
  id: string;
}

/** What a mail shows of a kind of block: its drawing as a picture, or words that are set anew. */
export type MailOf<B extends AnyBlock> =
  | { as: Extract<MailShow, 'chart'> }
  | { as: Exclude<MailShow, 'chart'>; piece(block: B, context: LayoutContext): MailPiece };

/** One kind of block: all that is known of it. One file a kind, made by {@link defineBlock}, registered in registry.ts. */
export interface BlockKind<B extends AnyBlock> {
  kind: B['kind'];
  schema: z.ZodType<B>;
  /** A new one. */
  make(id: string, fresh: Fresh): B;
  /** Its choices, in the order in which a person is asked for them. */
  fields: readonly FieldShape[];
  /** The field that says what it is about, after the kind's name; null for none. */
  about: string | null;
  /** The metrics that it shows. */
  metricsOf(block: B): readonly string[];
  /** Its words with merge fields: those that stand in it, or what was written for a period. */
  textOf(block: B, written: string): string;
  /** Whether it shows figures, by dates and a filter. */
  reads: boolean;
  /** True for one whose words are written anew for each period, and kept beside the document. */
  isWritten(block: B): boolean;
  /**
   * Words that may be written for a period: in place of those that it makes itself, or as lines before them; false for none.
   */
  mayBeWritten: false | 'over' | 'lines';
  questions(block: B, scope: Scope): Question[];
  /** Whether the answer to one of its questions goes along where figures are handed over: what is drawn without a number does not. */
  hands(question: Question): boolean;
  /** What of its choices a client's metrics cannot answer, by field; the schema sees to the rest. */
  check(block: B, book: MetricBook): BlockFault[];
  /** The narrowest width in points in which it can live; where it has less, it gets a row of its own. */
  least(block: B, context: LayoutContext): number;
  lay(block: B, context: LayoutContext): Laid;
  /** Null for one that mails do not show. */
  mail: MailOf<B> | null;
  /** Draws one that takes a sheet of its own, without head and foot; null for all others. */
  drawSheet: ((block: B, context: LayoutContext, pen: Pen, size: SheetSize) => void) | null;
}
