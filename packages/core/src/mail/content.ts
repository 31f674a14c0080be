import type { MailFile, MailShow, MailTable, Tone } from '../report/index.ts';
import type { Direction } from '../words/index.ts';

/** A picture that goes with a mail, by what its HTML calls it (RFC 2392). */
export interface MailPicture {
  cid: string;
  /** SHA-256 of its file in the data folder. */
  file: string;
  /** As it is shown, in CSS pixels. */
  width: number;
  height: number;
}

/** What is said of something that the mail shows: its own dates and filter, and the notes on its figures. */
interface Said {
  about: string;
  notes: readonly string[];
}

export interface FigureLine {
  label: string;
  figure: string;
  change: string;
  verdict: string;
  tone: Tone;
  lines: readonly string[];
}

/** A part of a mail, filled in for one reader. */
export type MailSection =
  /** With what has to be said of the figures that it names. */
  | { kind: 'text'; text: string; notes?: readonly string[] }
  /** Of which dates the figures are, and what they are held against. */
  | { kind: 'dates'; text: string }
  | ({ kind: Extract<MailShow, 'sentence'>; text: string } & Said)
  | ({ kind: Extract<MailShow, 'figures'>; figures: readonly FigureLine[] } & Said)
  /** `rest` says how many rows are left out; empty for none. */
  | ({ kind: Extract<MailShow, 'table'>; rest: string } & Omit<MailTable, 'more'> & Said)
  | ({ kind: Extract<MailShow, 'chart'>; title: string; alt: string; picture: MailPicture } & Said)
  | ({ kind: 'reason'; title: string; text: string } & Said)
  | { kind: 'note'; text: string; from: string }
  | { kind: 'button'; label: string; link: string }
  | { kind: 'signature'; closing: string; name: string; of: string; email: string };

/** How a mail looks: the colours and faces of its kit, as mail programs have them. */
export interface MailStyle {
  /** Readable on white, and under white. */
  main: string;
  /** Of a ground around the sheet. */
  ground: string;
  isSheet: boolean;
  serif: boolean;
}

/** A mail for one reader, before it is HTML or plain text: both say the same. */
export interface MailContent {
  lang: string;
  direction: Direction;
  subject: string;
  /** What programs show beside the subject. */
  preview: string;
  style: MailStyle;
  /** At its head: a wide picture, or a logo; else the client's name. */
  head: { picture: MailPicture; alt: string; isWide: boolean; onMain: boolean } | null;
  clientName: string;
  sections: readonly MailSection[];
  /** Paragraphs at its foot: what goes with it, and whom it is from. */
  foot: readonly string[];
  /** How its reader has no more of them; null where there is no page for it. */
  unsubscribe: { label: string; link: string } | null;
  fileName: string;
  files: readonly MailFile[];
}

/** The pictures of a mail, each once. */
export function picturesOf({ head, sections }: MailContent): MailPicture[] {
  const shown = sections.flatMap((s) => (s.kind === 'chart' ? [s.picture] : []));
  return [...(head ? [head.picture] : []), ...shown];
}
