import type { FilterHow, Reason } from '../figures/index.ts';

/** Which way a language is written. */
export type Direction = 'ltr' | 'rtl';

/** Columns of figures that are handed over with a report, in their order. */
export const SHEET_COLUMNS = [
  'page',
  'block',
  'figure',
  'label',
  'from',
  'to',
  'value',
  'comparedFrom',
  'comparedTo',
  'comparedValue',
  'change',
  'points',
  'note',
] as const;
export type SheetColumn = (typeof SHEET_COLUMNS)[number];

/**
 * What a report says in one language. One file a language, registered in registry.ts.
 * `{name}` in a text stands for a value that the composer puts there.
 */
export interface Words {
  /** Places whose clients may have reports in this language (BCP 47), as they are offered. */
  locales: readonly { value: string; label: string }[];
  direction: Direction;
  /** Patterns by which its words are divided at the ends of lines, as `hyphen` names them; null where none is divided. */
  hyphenation: string | null;
  /** Metric labels by key, as a reader would say them. */
  metrics: Record<string, string>;
  /** What is counted and no metric shows by itself, by the names of measures. */
  measures: Record<string, string>;
  dimensions: Record<string, string>;
  /** Values of dimensions that the trade names alike (channels, devices), by their English names in small letters. */
  values: Record<string, string>;
  /** Whether nouns within a sentence begin small. */
  smallNouns: boolean;
  /** What each kind of block is called. */
  blocks: Record<string, string>;
  /** Headings and page titles that a new report begins with, by key. */
  starters: Record<string, string>;
  better: string;
  worse: string;
  steady: string;
  changed: string;
  fresh: string;
  /** `{value}` */
  from: string;
  /** `{label}` */
  comparedWith: string;
  /** Percentage points, and one of them: which of the two a number takes is the language's own rule. */
  points: string;
  point: string;
  /** `{metric}` */
  perDay: string;
  /** Beside the title of a trend whose points are averages of weeks, of months. */
  byWeek: string;
  byMonth: string;
  other: string;
  /** What is counted for no value of a dimension. */
  unnamed: string;
  /** `{dimension}`: the head of a total row. */
  all: string;
  change: string;
  /** `{agency}`, `{client}` */
  preparedBy: string;
  /** `{n}`, `{of}` */
  page: string;
  /** `{date}`: the day on which the figures were read. */
  asOf: string;
  /** `{n}`: a quarter's name without its year. */
  quarter: string;
  notes: string;
  /** `{days}`, `{compared}` */
  noteLengths: string;
  /** `{range}` */
  noteBeforeStart: string;
  noteRounding: string;
  /** `{dimension}`, `{metric}`: the title of a ranking that has none of its own. */
  rankingTitle: string;
  /** `{metric}`, `{dimension}`: of what part of the whole each value has. */
  shareTitle: string;
  /** `{metric}`: what an average hour of each weekday brings. */
  rhythmTitle: string;
  /** `{hour}`: weekday, hour and value of the busiest. */
  busiest: string;
  /** `{metric}`: what brought its change. */
  driversTitle: string;
  driversNote: string;
  /** `{title}`, `{low}`, `{high}`: alternative text of a line chart. */
  chartText: string;
  reasons: Record<Reason, string>;
  /** `{value}`: a figure's target, and what it usually is. */
  target: string;
  /** In place of a target where none is set. */
  noTarget: string;
  typical: string;
  /** `{dates}`: of a figure that leaves these days out. */
  without: string;
  /** `{dates}`, `{change}`: a change with some odd days left out on both sides. */
  withoutDays: string;
  /** What a period is held against when it is no range of dates, as {@link comparedWith} says it of a range. */
  comparedTarget: string;
  comparedTypical: string;
  /** `{count}`: of how many periods a usual level is made. */
  periods: string;
  /** `{metric}`, `{count}`, `{of}` */
  noteTypical: string;
  /** `{dates}`, `{text}`: what somebody noted of certain days. */
  noteDay: string;
  /** By which rate money of another currency was converted: `{currency}`, `{rate}`, `{range}`. */
  converted: string;
  driversNoteRatio: string;
  /** `{share}`: of a figure whose days were not all delivered. */
  partial: string;
  /** Of a change that would be made from such a figure. */
  notComparable: string;
  /** `{covered}`, `{days}` */
  coveredDays: string;
  /** `{metric}`, `{dates}`, `{share}` */
  notePartial: string;
  /** `{feed}`, `{date}`: of one of several feeds that is not known in all of the days. */
  noteFeedSince: string;
  noteFeedUntil: string;
  /**
   * How the sentence at the top of a report begins: a metric's figure, and against what. `{change}` is without its sign;
   * `{compared}` is one of the phrases above.
   */
  opening: { up: string; down: string; level: string; alone: string };
  /**
   * Pieces of the sentence that tells why a figure changed. `{metric}` and `{label}` stand as names, so that no
   * piece has to agree with them; `{by}` is an amount, `{share}` a part of the whole change.
   */
  why: {
    rose: string;
    fell: string;
    level: string;
    /** `{value}`: from nothing, and to nothing. */
    began: string;
    ended: string;
    ofRise: string;
    ofFall: string;
    /** A part that brought more than the whole. */
    alone: string;
    /** What moved against the change: one part, or `{count}` of them by so much together; of a ratio with its sign. */
    partRose: string;
    partFell: string;
    othersRose: string;
    othersFell: string;
    others: string;
    /** Of a ratio: what a part brought by its own rate, and by its weight among the parts. */
    ownRate: string;
    weight: string;
    /** `{reason}` */
    unknown: string;
  };
  /**
   * A range of dates within running text, from its two ends as the language writes them: `du 18 au 24 novembre 2026`.
   * Null where the form of headings serves there, too.
   */
  between: ((from: string, to: string) => string) | null;
  /** `{count}`: rows of a table that are left out for what they are. */
  /** Beneath shares of which some parts are below zero. */
  noteNegative: string;
  leftZeroes: string;
  leftFalling: string;
  /** Over the table of contents. */
  contents: string;
  /** Steps from a first to a last: the title (`{first}`, `{last}`), and what stands over the columns. */
  stages: { title: string; step: string; ofFirst: string; ofBefore: string };
  /** How a figure stands on its way (`{metric}`), and how far from its target (`{value}`, `{count}`). */
  pace: {
    title: string;
    soFar: string;
    atThisPace: string;
    target: string;
    reached: string;
    over: string;
    short: string;
    days: string;
    never: string;
  };
  /** Figures as they are assumed to be, and as they usually are. */
  whatIf: { title: string; under: string; usual: string; nothing: string };
  /** `{metric}`: items that stand out; the day of each. */
  standouts: { best: string; worst: string; day: string };
  /** `{metric}`, `{dates}`, `{count}`: ourselves beside others, and over which days. */
  peers: { title: string; note: string };
  /** Of topics: how much is written a day, and was before. */
  topics: { title: string; aDay: string; before: string };
  workLog: { title: string; nothing: string };
  /** How the figure of a period is made from its days; `{weight}` is a measure. */
  made: { sum: string; level: string; net: string; unique: string; weighted: string; min: string; max: string };
  /** What a filter keeps of a dimension. `{dimension}`, `{values}` */
  narrowed: Record<FilterHow, string>;
  /** `{what}`: metrics and segments that a block asks for. */
  gone: string;
  aSegment: string;
  /** Heads of the columns of figures that are handed over with a report. */
  sheet: Record<SheetColumn, string>;
  mail: {
    /** `{title}`, `{period}` */
    attached: string;
    /** What a mail says when nobody worded it; with merge fields (SEMANTICS §11). */
    subject: string;
    greeting: string;
    /** Stands above the manager's name. */
    closing: string;
    /** `{subject}`: of a mail that goes to the asker alone. */
    test: string;
    /** Rows of a table that the mail leaves out. */
    more: string;
    /** Above what the manager wrote for one edition. */
    noteFrom: string;
    /** Of the link by which a reader wants no more of them. */
    noMore: string;
    /** The page that it leads to. */
    leave: {
      title: string;
      /** `{name}`, `{client}`, `{agency}` */
      who: string;
      /** `{email}` */
      press: string;
      /** `{email}`, `{agency}` */
      done: string;
      address: string;
      wrong: string;
    };
  };
}
