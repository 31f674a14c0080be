import { type Aggregation, keysOf, parseFormula } from '../figures/index.ts';
import { measureName } from './measureName.ts';
import { fill } from './said.ts';
import type { Words } from './words.ts';

/**
 * How the figure of a period is made, in a report's language: a formula by the names of what it is made from, or the way in
 * which its days become one figure (SEMANTICS §4).
 * @param labelOf a metric's name
 */
export function madeWords(a: Aggregation, labelOf: (key: string) => string, words: Words): string {
  const nameOf = (measure: string): string =>
    Object.hasOwn(words.metrics, measure) ? labelOf(measure) : (words.measures[measure] ?? measureName(measure));
  switch (a.kind) {
    case 'sum':
      return words.made.sum;
    case 'min':
      return words.made.min;
    case 'max':
      return words.made.max;
    case 'unique':
      return words.made.unique;
    case 'level':
      return a.net ? words.made.net : words.made.level;
    case 'ratio':
      return `${nameOf(a.num)} ÷ ${nameOf(a.den)}`;
    case 'weighted':
      return fill(words.made.weighted, { weight: nameOf(a.weight) });
    case 'derived': {
      const parsed = parseFormula(a.formula);
      if (!parsed.ok) return words.reasons['no-data'];
      let text = '';
      let at = 0;
      for (const { key, at: start } of keysOf(parsed.tree)) {
        text += a.formula.slice(at, start) + labelOf(key);
        at = start + key.length;
      }
      return (text + a.formula.slice(at)).replaceAll('*', '×').replaceAll('/', '÷').replaceAll('-', '−');
    }
  }
}
