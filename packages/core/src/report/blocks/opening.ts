import { keyOf, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { type Direction, fill, fullStop, openingSentence, withoutDaysWords } from '../../words/index.ts';
import { excludedIn } from '../excludedIn.ts';
import type { Laid, LayoutContext, Scope, TextStyle } from './block.ts';
import { againstOf, beforeOf, noteTypical } from './comparison.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { dimensionField, metricField } from './fields.ts';
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

/** The sentence that the figures make. */
function sentenceOf(block: Opening, context: LayoutContext): string {
  const { format, answers } = context;
  const asked = asks(block, context);
  const valueFor = (q: Question | null): Value | null => q && (valueOfAnswer(answers[keyOf(q)]) ?? { na: 'no-data' });
  const parts = asked.parts && answers[keyOf(asked.parts)];
  return openingSentence(
    {
      metric: context.book.of(block.metric),
      label: context.labelOf(block.metric),
      current: valueFor(asked.current)!,
      before: valueFor(asked.before),
      against: { ...againstOf(context), isTarget: context.yardstick?.kind === 'target' },
      drivers: parts?.op === 'drivers' && !('na' in parts.drivers) ? parts.drivers : null,
      dimension: block.dimension,
    },
    format,
  );
}

/** What a person wrote in place of the sentence; empty for nothing. */
const writtenIn = ({ written }: LayoutContext): string => written.replace(/[ \t\r\n]+/g, ' ').trim();

/** The sentence with the days that it leaves out: `… fell by 4.0% (without 19 Oct).` */
function withoutDays(sentence: string, block: Opening, context: LayoutContext): string {
  const left = withoutDaysWords(excludedIn(block.metric, context, context.book).period, context.format);
  const { aside } = context.format.words;
  return left === '' ? sentence : fullStop(fill(aside, { text: sentence.replace(/\.$/, ''), aside: left }));
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
