import type { FilterHow, Reason } from '../figures/index.ts';
import type { DateRules, PeriodParts, PeriodWords } from './periodWords.ts';
import type { Forms, Said } from './said.ts';

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

/** A change without its sign, as a sentence takes it. */
export interface Moved {
  kind: 'percent' | 'points';
  /** The number with its sign of percent, or with {@link Words.points}. */
  text: string;
  value: number;
}

/**
 * What a report says in one language. One file a language, registered in registry.ts; a region of it may lay a few words over.
 * A text is whole: nothing outside a language file joins words with marks of its own.
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
  /** Dimensions as they stand in {@link rankingTitle}, where that is another form than their name. */
  dimensionsBy?: Record<string, string>;
  /** Values of dimensions that the trade names alike (channels, devices), by their English names in small letters. */
  values: Record<string, string>;
  /** Whether nouns within a sentence begin small. */
  smallNouns: boolean;
  /** What each kind of block is called. */
  blocks: Record<string, string>;
  /** Headings and page titles that a new report begins with, by key. */
  starters: Record<string, string>;
  dates: DateRules;
  /** What a range of dates is called, and how sentences take it. */
  period(parts: PeriodParts): PeriodWords;
  /** The same of what is no range: a target, and the mean of earlier periods. */
  yardsticks: Record<'target' | 'typical', PeriodWords>;
  /** `{title}`, `{count}`: of how many periods a typical one is the mean. */
  typicalOf: Forms;
  /** `{label}`: a heading that says what a page is compared with. */
  comparison: Said;
  /** Marks that join: `{label}` and `{text}`; `{text}` and `{aside}`; `{first}` and `{second}`. */
  labelled: Said;
  /** `{metric}`, `{dates}`: names a figure and its dates before a statement about them. */
  ofDates: Said;
  aside: Said;
  semicolon: Said;
  /** Beside a number. A change that is neither good nor bad has no word. */
  better: string;
  worse: string;
  steady: string;
  /** In place of a change from nothing. */
  fresh: string;
  /** `{value}`: what a figure was. */
  from: Said;
  /** Percentage points: `{number}`, as it stands in tables and in sentences. */
  points: { cell: Forms; sentence: Forms };
  /** Places in a ranking: `{number}`; and `{places}` up or down. */
  places: Forms;
  placesBetter: Said;
  placesWorse: Said;
  /** `{metric}`: the title of its line by days: of sums, and of what does not add up. */
  perDay: Said;
  byDay: Said;
  /** The same for lines of a dimension's values: `{metric}`, `{dimension}`. */
  perDayBy: Said;
  byDayBy: Said;
  /** Beside the title of a trend whose points are averages of weeks, of months. */
  byWeek: string;
  byMonth: string;
  other: string;
  /** What is counted for no value of a dimension: in a table, and in a sentence. */
  unnamed: string;
  unnamedPart: string;
  /** The head of a total row. */
  all: string;
  change: string;
  /** `{agency}`, `{client}` */
  preparedBy: Said;
  /** `{n}`, `{of}` */
  page: Said;
  /** `{date}`: the day on which the figures were read. */
  asOf: Said;
  notes: string;
  /** `{count}` days. */
  days: Forms;
  /** `{days}` with their word, `{compared}` as a number: periods of unequal length; with `{period}`, of one block. */
  noteLengths: Said;
  noteLengthsOf: Said;
  /** `{title}`, `{during}`, `{against}` of a period that lies before measuring began. */
  noteBeforeStart: Said;
  noteRounding: string;
  /** `{dimension}`, `{metric}`: the title of a ranking that has none of its own. */
  rankingTitle: Said;
  /** `{metric}`, `{dimension}`: of what part of the whole each value has. */
  shareTitle: Said;
  /** `{metric}`: what an average hour of each weekday brings. */
  rhythmTitle: Said;
  /** `{hour}`, `{value}`: the busiest of the week. */
  busiest: Said;
  /** `{metric}`: what brought its change. */
  driversTitle: Said;
  driversNote: string;
  driversNoteRatio: string;
  /** `{title}`, `{low}`, `{high}`: alternative text of a line chart. */
  chartText: Said;
  reasons: Record<Reason, string>;
  /** `{value}`: a figure's target, and what it usually is. */
  target: Said;
  /** In place of a target where none is set. */
  noTarget: string;
  typical: Said;
  /** `{dates}`: of a figure that leaves these days out. */
  without: Said;
  /** `{count}` days more than are named. */
  moreDays: Forms;
  /** What is told of days that weekday and season do not explain. */
  odd: {
    /** `{metric}`, `{value}`, `{usual}`: what came on one day, and on one where nothing came. */
    came: Said;
    nothing: Said;
    /** `{dates}`, `{came}`: what came on the days, one figure after another. */
    day: Said;
    /** `{metric}`, `{change}` with its sign; and of one that does not change. */
    moved: Said;
    steady: Said;
    /** `{moved}`: what changes without the days just told (`count` of them), or without `{dates}`, and the days they are compared with. */
    withoutIt: Forms;
    without: Forms;
  };
  /** `{count}`: in place of more notes than stand at the foot of a sheet. */
  moreNotes: Said;
  /** `{metric}`, `{count}`, `{of}` */
  noteTypical: Said;
  /** By which rate money of another currency was converted: `{currency}`, `{rate}`, `{range}`. */
  converted: Said;
  /** `{share}`: of a figure whose days were not all delivered. */
  partial: Said;
  /** Of a change that would be made from such a figure. */
  notComparable: string;
  /** `{covered}` of `{count}` days. */
  coveredDays: Forms;
  /** `{metric}`, `{dates}`, `{share}` */
  notePartial: Said;
  /** `{metric}`, `{dates}`: the same where the share is not known. */
  noteSomeDays: Said;
  /** `{feed}`, `{date}`: of one of several feeds that is not known in all of the days. */
  noteFeedSince: Said;
  noteFeedUntil: Said;
  /** A change as sentences take it after `{by}`: with an article, in a case. */
  by(moved: Moved): string;
  /**
   * The sentence at the top of a report: `{metric}`, `{value}`, `{by}` how much, `{places}`, `{before}` what it was, and `{title}`,
   * `{against}`, `{during}` of what it is compared with.
   */
  opening: {
    up: Said;
    down: Said;
    level: Said;
    alone: Said;
    /** From nothing, and to nothing. */
    began: Said;
    ended: Said;
    /** Of a figure that is nothing, beside its target. */
    endedTarget: Said;
    /** Of a position in a ranking. */
    better: Said;
    worse: Said;
  };
  /** The sentence that tells why a figure changed. Parts are named as they stand in tables, so that nothing has to agree with them. */
  why: {
    /** `{metric}`, `{by}` */
    rose: Said;
    fell: Said;
    level: Said;
    /** `{metric}`, `{value}`, `{zero}` */
    began: Said;
    ended: Said;
    /** `{metric}`, `{places}`, `{from}`, `{to}` */
    better: Said;
    worse: Said;
    /** `{head}`, `{parts}`: the change, and what brought it. */
    because: Said;
    /** `{list}` of what brought most of it; and `{label}` of the one that brought all. */
    mainly: Said;
    allOf: Said;
    /** `{label}` with its `{share}`: the first of the list, and the others. */
    ofRise: Said;
    ofFall: Said;
    ofSame: Said;
    /** `{label}`, `{amount}`: what a part brought; of a ratio by its own rate, and by its weight among the parts. */
    amount: Said;
    ownRate: Said;
    weight: Said;
    /** What moved against it: `{part}` as the list has it, or `{count}` of them with their `{amount}`. */
    against: Said;
    othersAgainst: Forms;
    /** `{along}`, `{against}` */
    both: Said;
    /** `{metric}`, `{reason}` */
    unknown: Said;
  };
  /** Beneath shares of which some parts are below zero. */
  noteNegative: string;
  /** `{count}`: rows of a table that are left out for what they are. */
  leftZeroes: Forms;
  leftFalling: Forms;
  /** Over the table of contents. */
  contents: string;
  /** Steps from a first to a last: the title (`{first}`, `{last}`), and what stands over the columns. */
  stages: { title: Said; step: string; ofFirst: string; ofBefore: string };
  /** How a figure stands on its way (`{metric}`), and how far from its target (`{value}`, `{count}` days). */
  pace: {
    title: Said;
    soFar: string;
    atThisPace: string;
    target: string;
    reached: string;
    over: Said;
    short: Said;
    days: Forms;
    never: string;
  };
  /** Figures as they are assumed to be, and as they usually are. */
  whatIf: { title: string; under: string; usual: string; nothing: string };
  /** `{metric}`: items that stand out; the day of each. */
  standouts: { best: Said; worst: Said; day: string };
  /** `{metric}`, `{dates}`, `{count}`: ourselves beside others, and over which days. */
  peers: { title: Said; note: Forms };
  /** Of topics: how much is written a day, and was before. */
  topics: { title: string; aDay: string; before: string };
  workLog: { title: string; nothing: string };
  /** How the figure of a period is made from its days; `{weight}` is a measure. */
  made: { sum: string; level: string; net: string; unique: string; weighted: Said; min: string; max: string };
  /** What a filter keeps of a dimension. `{dimension}`, `{values}` */
  narrowed: Record<FilterHow, Said>;
  /** `{what}`: metrics and segments that a block asks for. */
  gone: Said;
  aSegment: string;
  /** Heads of the columns of figures that are handed over with a report. */
  sheet: Record<SheetColumn, string>;
  mail: {
    /** `{title}`, `{period}` */
    attached: Said;
    /** What a mail says when nobody worded it; with merge fields (SEMANTICS §11). */
    subject: string;
    greeting: string;
    /** Stands above the manager's name. */
    closing: string;
    /** `{subject}`: of a mail that goes to the asker alone. */
    test: Said;
    /** `{count}` rows of a table that the mail leaves out. */
    more: Forms;
    /** `{name}`: above what the manager wrote for one edition. */
    noteFrom: Said;
    /** Of the link by which a reader wants no more of them. */
    noMore: string;
    /** The page that it leads to. */
    leave: {
      title: string;
      /** `{name}`, `{client}`, `{agency}` */
      who: Said;
      /** `{email}` */
      press: Said;
      /** `{email}`, `{agency}` */
      done: Said;
      address: string;
      wrong: string;
    };
  };
}
