import { type FilterPart, SEGMENT, type Segment } from '../figures/index.ts';
import { dimensionName, type Formatter, fill } from '../words/index.ts';

/** The values of a filter's part, one after the other, as many as a reader takes in. */
const FEW = 4;

function listed(values: readonly string[]): string {
  const shown = values.slice(0, FEW).join(', ');
  return values.length > FEW ? `${shown}, +${values.length - FEW}` : shown;
}

/** What a filter keeps, in the report's language: segments by their names, the rest by dimension and values. */
export function filterWords(parts: readonly FilterPart[], segments: readonly Segment[], format: Formatter): string {
  const { words } = format;
  return parts
    .map(({ dimension, how, values }) => {
      if (dimension === SEGMENT) return values.map((id) => segments.find((s) => s.id === id)?.name ?? '–').join(', ');
      const said = how === 'only' || how === 'except' ? values.map((v) => format.valueName(dimension, v)) : values;
      return fill(words.narrowed[how], { dimension: dimensionName(dimension, format), values: listed(said) });
    })
    .reduce((first, second) => (first === '' ? second : fill(words.semicolon, { first, second })), '');
}
