export { isObjectName, ownOf } from './objectNames.ts';

/**
 * How large anything may be that somebody types in, uploads or asks for. Every bound stands here once; schemas of the
 * contract, readers of files and the calendar take it from here. What is stored already may lie outside (it was stored
 * under other bounds): who reads it has to bear that.
 */

/** Dates of periods, schedules, notes and targets: first and last, both included. */
export const FIRST_DATE = '1970-01-01';
export const LAST_DATE = '2200-12-31';

/** Days that one range may hold: twenty years, whatever leap years lie in it. */
export const MOST_DAYS = 20 * 366;

/** Points of a series: days, weeks, months or quarters of a range. */
export const MOST_STEPS = 2_000;

/** How far ahead a schedule is asked for its next run, and how many dates are tried for it. */
export const AHEAD_YEARS = 20;
export const MOST_CANDIDATES = 10_000;

/** A report: columns of a page, pages, rows of a page, blocks side by side, blocks in all. */
export const MOST_COLUMNS = 12;
export const MOST_PAGES = 30;
export const MOST_ROWS = 40;
export const MOST_ABREAST = 6;
export const MOST_BLOCKS = 240;
/** Typed texts of a report that may come along into a template: titles, headings, words beneath pictures. */
export const MOST_TEXTS = 600;
/** Sheets of a report beyond which whoever makes it is asked to think again. */
export const EASY_SHEETS = 40;
/** Rows of one table: with the rest as “Other”, and where all of them are wanted. */
export const MOST_TABLE_ROWS = 50;
export const MOST_ALL_ROWS = 500;

/** Exclusions of days of one client, and days that one of them holds: a quarter of a year. */
export const MOST_EXCLUSIONS = 100;
export const MOST_EXCLUDED_DAYS = 92;

/** Characters of the texts that a person writes. */
export const TEXT = {
  title: 120,
  heading: 120,
  commentary: 4_000,
  subject: 200,
  message: 4_000,
  note: 160,
  about: 200,
} as const;
/** What a template, or a version of a report, is called; a page; a holiday; a named number of a report. */
export const NAME = 80;
export const PAGE_TITLE = 80;
export const HOLIDAY_NAME = 80;
export const ASSUMPTION_NAME = 60;
/** The postal address of a brand. */
export const BRAND_ADDRESS = 240;

/** Readers of one schedule; contacts of one client that are chosen at once. */
export const MOST_READERS = 200;
/** Groups of readers of one schedule; lists of a client; exceptions of a schedule. */
export const MOST_GROUPS = 300;
export const MOST_LISTS = 100;
export const MOST_EXCEPTIONS = 500;
/** Schedules with which something is done at once. */
export const MOST_AT_ONCE = 2_000;
/** From one run to the next: weeks, or months; and the working day of a month on which it runs, from either end. */
export const EVERY_WEEKS = 52;
export const EVERY_MONTHS = 24;
export const MOST_WORKDAY = 23;
/** A session: hours without use, and days in all. */
export const SESSION = { idleHours: 24, longestDays: 30 } as const;
/** Mails that are handed over within a minute, where an agency says how many. */
export const MAILS_A_MINUTE = 6_000;
/** Days by which one run may be moved, either way. */
export const MOST_MOVED = 100;

/** A number that a person types in, either way. */
export const MOST_NUMBER = 1e15;

/** A formula: characters, nesting, and figures read once those that its metrics are made from are counted, too. */
export const FORMULA = { characters: 2_000, depth: 100, metrics: 500 } as const;
/** Metrics of a client's own. */
export const MOST_OWN_METRICS = 200;

/** A file that is brought: bytes, columns, characters of one cell. */
export const FILE = { bytes: 1024 * 1024 * 1024, columns: 2_000, cell: 32_767 } as const;

/** A picture that is brought: bytes, points each way, points in all. */
export const PICTURE = { bytes: 5 * 1024 * 1024, side: 12_000, pixels: 40_000_000 } as const;
/** Typefaces that an agency brings. */
export const MOST_TYPEFACES = 60;
/** Versions of one report without a name; templates of an agency. */
export const MOST_VERSIONS = 400;
export const MOST_TEMPLATES = 200;
/** Reports that are changed, or made, at once. */
export const MOST_FOLLOWING = 500;
/** Reports that follow a template and are shown at once, each with what would change in it. */
export const FOLLOWERS_SHOWN = 50;
/** Pictures of items (posts) that are kept for one client, and those that are fetched for one report. */
export const MOST_ITEM_PICTURES = 2_000;
export const PICTURES_AT_ONCE = 60;
/** A drawing in SVG: bytes, depth of nesting, elements, characters of all its paths. */
export const DRAWING = { bytes: 1024 * 1024, depth: 40, elements: 2_000, path: 200_000 } as const;

/** A file name that is given to somebody, its ending included. */
export const FILE_NAME = 120;

/** Tags of one client; rows of one file of clients; contacts that are pasted at once. */
export const MOST_TAGS = 20;
export const MOST_CLIENT_ROWS = 5_000;
export const MOST_PASTED = 500;

/** Days of one calendar of holidays. */
export const MOST_HOLIDAYS = 1_000;

/** JSON of one request, in bytes. */
export const BODY_BYTES = 2 * 1024 * 1024;

/** A filter: parts, values of each, and the name of one that is kept as a segment. */
export const FILTER_PARTS = 8;
export const FILTER_VALUES = 50;
export const SEGMENT_NAME = 40;
/** Named numbers of one report. */
export const MOST_ASSUMPTIONS = 30;
/** Names of a client's own for what its feeds bring: characters, and how many. */
export const OWN_NAME = 75;
export const MOST_OWN_NAMES = 1_000;
/** Segments of one client, and of the agency. */
export const MOST_SEGMENTS = 100;

/** Edits of a report that are saved together. */
export const MOST_EDITS = 200;

/** Editions that are counted one by one: of more, one is told that there are more. */
export const MOST_COUNTED = 10_000;

/** Names of clients that are offered at once to choose from; beyond, one types. */
export const MOST_NAMES = 60;

/** Bytes of all files that go with the mails of one client. */
export const MOST_CLIENT_MAIL_BYTES = 200_000_000;
