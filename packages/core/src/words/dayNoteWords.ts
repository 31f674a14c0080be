import type { Range } from '../calendar/index.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './said.ts';

/** What somebody noted of certain days, with their dates: `8 Oct: a strike at the port`. */
export function dayNoteWords(note: Range & { text: string }, format: Formatter): string {
  const dates = note.from === note.to ? format.shortDate(note.from) : format.shortRange(note);
  return fill(format.words.labelled, { label: dates, text: note.text });
}
