import type { ScheduleInput } from '@chronicon/core/contract';

export type Mail = ScheduleInput['mail'];
export type Part = Mail['parts'][number];
export type Kind = Part['kind'];

/** What parts of a mail are called, and what each is for. */
export const PART_WORDS: Record<Kind, { label: string; about: string }> = {
  message: { label: 'Message', about: 'the text above, in every email' },
  text: { label: 'More words', about: 'another paragraph' },
  sentence: { label: 'The answer', about: 'the report’s opening sentence: how it went, and why' },
  figures: { label: 'Headline figures', about: 'with their changes, as on the page' },
  table: { label: 'Table', about: 'a ranking, its first rows' },
  chart: { label: 'Chart', about: 'as a picture in the email' },
  note: { label: 'Note', about: 'what you write for one edition before it’s sent' },
  button: { label: 'Button', about: 'links to any address: a recording, a page' },
  signature: { label: 'Signature', about: 'the manager, the agency, the address' },
};

/** Kinds that show something of the report. */
export const SHOWN = ['sentence', 'figures', 'table', 'chart'] as const;
export const isShownKind = (kind: Kind): kind is (typeof SHOWN)[number] => (SHOWN as readonly string[]).includes(kind);

/** Kinds of which a mail has one at most. */
const ONCE: readonly Kind[] = ['message', 'chart', 'note', 'signature', 'sentence'];

/** What can be added to a mail. */
export const addable = (parts: readonly Part[]): Kind[] =>
  (Object.keys(PART_WORDS) as Kind[]).filter((k) => !ONCE.includes(k) || !parts.some((p) => p.kind === k));

/** A new part of a kind. */
export const freshPart = (kind: Kind): Part =>
  kind === 'text' ? { kind, text: '' } : kind === 'button' ? { kind, label: '', link: '' } : { kind };

/** The parts with one of them moved up or down by a place. */
export function moved<T>(parts: readonly T[], at: number, by: -1 | 1): T[] {
  const to = at + by;
  if (to < 0 || to >= parts.length) return [...parts];
  const all = [...parts];
  [all[at], all[to]] = [all[to]!, all[at]!];
  return all;
}

/** Where each part stood of errors of the server: `mail.parts.2.link`. */
export const partField = (at: number, field: string): string => `mail.parts.${at}.${field}`;
