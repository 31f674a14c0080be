/** How a change went: what colours and words say of it. */
export type Tone = 'better' | 'worse' | 'plain';

/** A headline figure as a mail says it: the very words of the page. */
export interface MailFigure {
  label: string;
  figure: string;
  /** With its sign; empty where none is told. */
  change: string;
  /** What stands beside it in words; empty for nothing. */
  verdict: string;
  tone: Tone;
  /** What it is held against, and what is lacking. */
  lines: string[];
}

/** A table as a mail shows it. */
export interface MailTable {
  title: string;
  /** Over the labels, and over each column of figures. */
  head: string;
  heads: string[];
  lines: { label: string; link?: string | undefined; isTotal: boolean; cells: { text: string; tone: Tone }[] }[];
  /** Rows of the page that the mail leaves out. */
  more: number;
}

/** What a mail can show of a block: words, which are set anew, or its drawing as a picture. */
export type MailPiece =
  | { kind: 'sentence'; text: string }
  | { kind: 'figures'; figures: MailFigure[] }
  | ({ kind: 'table' } & MailTable)
  /** Why there is nothing to show. */
  | { kind: 'reason'; title: string; text: string };

/** As what a mail shows a block. */
export const MAIL_SHOWS = ['sentence', 'figures', 'table', 'chart'] as const;
export type MailShow = (typeof MAIL_SHOWS)[number];

/** Rows of a table that a mail shows at most, beside “Other” and the total, and columns of figures: it is read on a phone. */
export const MOST_MAIL_ROWS = 10;
export const MOST_MAIL_COLUMNS = 3;
