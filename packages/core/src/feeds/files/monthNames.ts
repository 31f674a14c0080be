/** Languages in which files write months and weekdays: those of reports. */
const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pl', 'ru', 'he'];

const plain = (word: string): string => word.normalize('NFC').toLowerCase().replace(/[.׳]$/, '');

let known: { months: Map<string, number>; fillers: Set<string> } | null = null;

/** Names of months with their number, and words that stand beside them and say nothing: weekdays, “de”, “г”. */
function names() {
  if (known) return known;
  const months = new Map<string, number>();
  const fillers = new Set(['de', 'del', 'of', 'the', 'г', 'года', 'r', 'roku', 'le', 'den', 'el', 'il']);
  for (const language of LANGUAGES) {
    const parts = (options: Intl.DateTimeFormatOptions, type: 'month' | 'weekday', at: Date) =>
      new Intl.DateTimeFormat(language, { timeZone: 'UTC', ...options }).formatToParts(at).find((p) => p.type === type)
        ?.value ?? '';
    for (let m = 0; m < 12; m++) {
      const at = new Date(Date.UTC(2026, m, 15));
      for (const month of ['long', 'short'] as const) {
        // Beside a day, some languages decline the name.
        for (const options of [{ month }, { month, day: 'numeric', year: 'numeric' } as const]) {
          const name = plain(parts(options, 'month', at));
          // A name that stands for two months says neither.
          if (name !== '' && (months.get(name) ?? m + 1) === m + 1) months.set(name, m + 1);
          if (language === 'he' && name !== '') months.set(`ב${name}`, m + 1);
        }
      }
    }
    for (let d = 0; d < 7; d++) {
      const at = new Date(Date.UTC(2026, 0, 4 + d));
      for (const weekday of ['long', 'short'] as const) {
        for (const word of plain(parts({ weekday }, 'weekday', at)).split(/\s+/)) fillers.add(word);
      }
    }
  }
  // As they are written beside the short forms of `Intl`.
  const more: [string, number][] = [
    ['sept', 9],
    ['mrz', 3],
    ['maerz', 3],
    ['marz', 3],
    ['fevr', 2],
    ['fev', 2],
    ['aout', 8],
    ['decembre', 12],
    ['fevrier', 2],
  ];
  for (const [name, month] of more) if (!months.has(name)) months.set(name, month);
  known = { months, fillers };
  return known;
}

/**
 * The month that a word names in any language of reports, from 1; 0 for any other word.
 *
 * @example monthNamed('Okt.') // 10
 */
export const monthNamed = (word: string): number => names().months.get(plain(word)) ?? 0;

/** Whether a word beside a date says nothing of it: a weekday, “de”, “of”. */
export const saysNothing = (word: string): boolean => names().fillers.has(plain(word));
