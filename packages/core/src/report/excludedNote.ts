import { type Exclusion, exclusionsFor, isExcluded, type MetricBook } from '../figures/index.ts';
import { type Formatter, fill, fullStop, withoutDaysWords } from '../words/index.ts';
import type { ExcludedIn } from './excludedIn.ts';

/** An exclusion as readers see it: with its reason, where that is printed. */
export type ToldExclusion = Exclusion & { reason?: string | undefined };

/**
 * What readers are told of a figure that leaves days out: which, why where the reason is printed, and how many days each side
 * has where one went without its partner. `Visits – without 19 Oct, 19 Sept: a tracking fault.`
 */
export function excludedNote(
  { key, label }: { key: string; label: string },
  { period, compared, counted }: ExcludedIn,
  excluded: readonly ToldExclusion[],
  { book, format }: { book: MetricBook; format: Formatter },
): string {
  const days = [...period, ...compared];
  const concern = exclusionsFor(excluded, key, book).filter((e) => days.some((day) => isExcluded(day, [e])));
  const reasons = [...new Set(concern.flatMap((e) => (e.reason ? [e.reason] : [])))];
  const which = withoutDaysWords(days, format);
  const { labelled, aside, semicolon, days: dayForms, noteLengths } = format.words;
  const head = fill(aside, { text: label, aside: which });
  const why = reasons.reduce((first, second) => (first === '' ? second : fill(semicolon, { first, second })), '');
  const said = fullStop(fill(labelled, { label: head, text: why }));
  const plain = fullStop(fill(labelled, { label, text: which }));
  const lengths =
    counted && period.length !== compared.length
      ? ` ${fill(noteLengths, { days: format.count(dayForms, counted.period), compared: counted.compared })}`
      : '';
  return (reasons.length > 0 ? said : plain) + lengths;
}
