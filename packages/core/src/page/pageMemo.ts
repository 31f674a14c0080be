import { type Answer, keyOf } from '../figures/index.ts';
import { blockKind, questionsOfPage, type ReportPage } from '../report/index.ts';
import type { PageInput } from './composeInput.ts';
import type { ScenePage } from './scene.ts';

/** A sheet as it was written, without its foot: which page of how many it is, is told at last. */
export interface WrittenSheet {
  page: ScenePage;
  hasFoot: boolean;
  /** Notes of it that are told at the end of the report. */
  later: readonly string[];
  /** With its foot, as it was drawn last: the very same object for as long as it is the same sheet of as many. */
  finished?: { at: number; of: number; page: ScenePage };
}

interface KeptPage {
  answers: readonly (Answer | undefined)[];
  sheets: readonly WrittenSheet[];
}

/**
 * Sheets that were laid out before, for whoever draws a report over and over while it is edited: what is equal is taken as it
 * was. `basis` names all that a report is made of beside its pages, their blocks' own dates, what was written for them, and its
 * answers.
 */
export interface PageMemo {
  basis: string;
  get(key: string): KeptPage | undefined;
  set(key: string, kept: KeptPage): void;
}

/** All that one page hangs on beside the basis, as text, and the answers that it reads. */
function hangsOn(input: PageInput, page: ReportPage, place: string, shownMetrics: readonly string[]) {
  const blocks = page.rows.flatMap((r) => r.blocks);
  const written = blocks.map((b) => input.commentary[b.id] ?? '');
  // Of a page that explains the figures of all the others.
  const shown = blocks.some((b) => blockKind(b).kind === 'notes') ? shownMetrics : [];
  const own = blocks.map((b) => input.own?.[b.id] ?? null);
  const key = JSON.stringify([place, page, written, shown, own]);
  const asked = questionsOfPage(input.document, page, input, input.book);
  return { key, answers: asked.map((q) => input.answers[keyOf(q)]) };
}

/** The sheets of a page: those that were laid out before from the very same, else as `write` makes them. */
export function sheetsOfPage(
  memo: PageMemo | undefined,
  input: PageInput,
  page: ReportPage,
  place: string,
  shownMetrics: readonly string[],
  write: () => readonly WrittenSheet[],
): readonly WrittenSheet[] {
  if (!memo) return write();
  const { key, answers } = hangsOn(input, page, place, shownMetrics);
  const found = memo.get(memo.basis + key);
  const isSame = found && found.answers.length === answers.length && found.answers.every((a, i) => a === answers[i]);
  if (isSame) return found.sheets;
  const sheets = write();
  memo.set(memo.basis + key, { answers, sheets });
  return sheets;
}
