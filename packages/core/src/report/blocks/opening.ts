import { changeOf, isKnown, keyOf, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { agree, type Direction, driverPieces, fill, fullStop, withoutDaysWords } from '../../words/index.ts';
import { excludedIn } from '../excludedIn.ts';
import type { Laid, LayoutContext, Scope, TextStyle } from './block.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { dimensionField, metricField } from './fields.ts';
import { beforeOf, noteTypical } from './heldAgainst.ts';
import { putLines } from './putLines.ts';
import { withSubtitle } from './subtitle.ts';

const fields = { metric: metricField(), dimension: dimensionField({ label: 'Explained by' }) };

type Opening = BlockOf<'opening', typeof fields>;

const SIZE = 13;
const LEADING = 18;
/** One sentence is hardly ever divided. */
const DIVIDED = 400;
/** Points of a line that an eye follows to its end. */
const MEASURE = 500;

function asks({ metric, dimension }: Opening, scope: Scope) {
  const { period: range, compared, filter } = scope;
  const parts: Question | null = compared && { op: 'drivers', metric, dimension, range, compared, filter };
  return { current: { op: 'total', metric, range, filter } satisfies Question, before: beforeOf(metric, scope), parts };
}

/** Against what, as a phrase that ends a sentence. */
function against({ compared, yardstick, format }: LayoutContext): string {
  const { words } = format;
  if (compared) return fill(words.comparedWith, { label: format.running(compared) });
  return yardstick?.kind === 'target' ? words.comparedTarget : words.comparedTypical;
}

/**
 * How it went, against what, and why: the figure as it stands in the tables, its change as it is judged there, and the parts
 * that brought it by the rules of the drivers (SEMANTICS §12).
 */
function sentenceOf(block: Opening, context: LayoutContext): string {
  const { format, answers } = context;
  const { opening, reasons } = format.words;
  const asked = asks(block, context);
  const valueFor = (q: Question | null): Value | null => q && (valueOfAnswer(answers[keyOf(q)]) ?? { na: 'no-data' });
  const metric = context.book.of(block.metric);
  const label = context.labelOf(block.metric);
  const current = valueFor(asked.current)!;
  if (!isKnown(current)) return fullStop(`${label}: ${reasons[current.na]}`);
  const before = valueFor(asked.before);
  const change = before && changeOf(current, before, metric.unit, metric.polarity);
  const { more, isTold } = agree(current, before, change, metric.unit, format);
  const value = format.figure(current.value, metric.unit, more);
  const told = change && format.change(change, { more, isTold });
  if (!change || told === null) {
    const reason = current.partial ? ` (${reasons.partial})` : '';
    return fullStop(fill(opening.alone, { metric: label, value }) + reason);
  }
  const said = {
    metric: label,
    value,
    compared: against(context),
    change: told.replace(/^[\u200e\u200f]*[+\u2212]/, ''),
  };
  if (change.verdict === 'steady' || !isTold) return fullStop(fill(opening.level, said));
  const abs = current.value - (isKnown(before!) ? before!.value : 0);
  if (change.new) return fullStop(`${fill(opening.alone, said)} (${told})`);
  const head = fill(abs > 0 ? opening.up : opening.down, said);
  const answer = asked.parts && answers[keyOf(asked.parts)];
  const drivers = answer?.op === 'drivers' && !('na' in answer.drivers) ? answer.drivers : null;
  const why = drivers ? driverPieces(drivers, abs, metric, block.dimension, format) : [];
  return fullStop(why.length > 0 ? `${head}; ${why.join(', ')}` : head);
}

/** What a person wrote in place of the sentence; empty for nothing. */
const writtenIn = ({ written }: LayoutContext): string => written.replace(/\s+/g, ' ').trim();

/** The sentence with the days that it leaves out: `… fell by 4.0% (without 19 Oct).` */
function withoutDays(sentence: string, block: Opening, context: LayoutContext): string {
  const left = withoutDaysWords(excludedIn(block.metric, context, context.book).period, context.format);
  return left === '' ? sentence : fullStop(`${sentence.replace(/\.$/, '')} (${left})`);
}

const saidOf = (block: Opening, context: LayoutContext): string =>
  writtenIn(context) || withoutDays(sentenceOf(block, context), block, context) + context.dayMark(block.metric);

/** The answer first: one sentence, made from the figures, or what a person wrote in its place for the period. */
export const opening = defineBlock({
  kind: 'opening',
  fields,
  make: ({ metric, dimension }) => ({ metric, dimension }),
  about: 'metric',
  mayBeWritten: 'over',
  questions(block, scope) {
    const { current, before, parts } = asks(block, scope);
    return [current, before, parts].filter((q) => q !== null);
  },
  least: () => 200,
  mail: {
    as: 'sentence',
    piece(block, context) {
      noteTypical(context, block.metric);
      return { kind: 'sentence', text: saidOf(block, context) };
    },
  },
  lay(block, context) {
    noteTypical(context, block.metric);
    const written = writtenIn(context);
    const text = saidOf(block, context);
    const style: TextStyle = {
      face: 'serif',
      size: SIZE,
      fill: context.palette.ink,
      running: true,
      ...(written !== '' && { direction: context.directionOf(text) }),
    };
    const measure = Math.min(context.width, MEASURE);
    const lines = context.wrap(text, style, measure);
    return withSubtitle(context, layLines(lines, style, measure, context.format.words.direction));
  },
});

function layLines(lines: readonly string[], style: TextStyle, measure: number, page: Direction): Laid {
  const isOther = style.direction !== undefined && style.direction !== page;
  return {
    height: lines.length * LEADING,
    draw(pen, x, y) {
      pen.tagged('P', null, () => {
        const at = (i: number) => [isOther ? x + measure : x, y + SIZE + i * LEADING] as const;
        putLines(pen, lines, at, style, isOther ? 'right' : 'left');
      });
    },
    pieces: {
      heights: lines.map(() => LEADING),
      penalties: lines.map((_, i) => (i === 0 || i >= lines.length - 2 ? Number.POSITIVE_INFINITY : DIVIDED)),
      again: 0,
      cut: (from, to) => layLines(lines.slice(from, to), style, measure, page),
    },
  };
}
