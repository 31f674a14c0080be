import type { Cell } from './cell.ts';

/** Words of headings that stand over rates and averages, in the languages that files come in. */
const WORDS =
  /(^|[^\p{L}])(rate|rates|ratio|avg|average|mean|median|ctr|cpc|cpm|cpa|cpl|roas|position|rank|percent|percentage|pct|quote|anteil|durchschnitt\p{L}*|schnitt|taux|moyen\p{L}*|media|medio|tasa|promedio|porcentaje|tasso|percentuale|gemiddeld\p{L}*|percentage|średni\p{L}*|wskaźnik|средн\p{L}*|доля|процент)([^\p{L}]|$)|%|\bper\b/iu;
const CAMEL = /[a-z](Rate|Ratio|Average|Avg|Position|Percent|Share)$/;

const isPercent = (cell: Cell): boolean => typeof cell === 'string' && cell.trim().endsWith('%');

/** Whether a column seems to hold rates or averages, by its heading or its cells: such are never added up (SEMANTICS §4). */
export function looksLikeRates(name: string, samples: readonly Cell[]): boolean {
  if (WORDS.test(name.replaceAll('_', ' ')) || CAMEL.test(name)) return true;
  return samples.length > 0 && samples.filter(isPercent).length >= samples.length * 0.8;
}
