import {
  isKnown,
  keyOf,
  type Pair,
  type Question,
  type Shares,
  sharesOf,
  targetAdds,
  type Value,
} from '../../figures/index.ts';
import { dimensionName, titleBy } from '../../words/index.ts';
import type { Laid, LayoutContext, Scope } from './block.ts';
import { noteCompared } from './comparison.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { choiceField, countField, dimensionField, metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { notePartly } from './notePartly.ts';
import { layShareBars, leastOfBars } from './shareBars.ts';
import { layShareRing, leastOfRing } from './shareRing.ts';
import type { ShareLine, ShareTable } from './shareTable.ts';

const fields = {
  metric: metricField({ adds: true }),
  dimension: dimensionField(),
  form: choiceField({
    label: 'Chart type',
    options: [
      { value: 'bars', label: 'Bars' },
      { value: 'ring', label: 'A ring' },
    ],
  }),
  limit: countField({ label: 'Group parts below this percentage as “Other”', most: 50 }),
  title: titleField,
};

type ShareBlock = BlockOf<'share', typeof fields>;

/** Parts that are looked at one by one; those beyond are small enough to be Other. Of a ring more than a few are a blur. */
const MOST_PARTS = 50;
const MOST_OF_RING = 8;

const ask = ({ metric, dimension }: ShareBlock, { period, compared, filter }: Scope): Question => ({
  op: 'top',
  metrics: [metric],
  dimension,
  n: MOST_PARTS,
  range: period,
  compared,
  filter,
});

type Lacking = Extract<Value, { na: unknown }>['na'];

const valuesOf = (rows: readonly { label: string; cells: Pair[] }[], side: 'current' | 'compared') =>
  rows.flatMap(({ label, cells }) => {
    const value = cells[0]![side];
    return value && isKnown(value) ? [{ label, value: value.value }] : [];
  });

/** Whether a whole is known in all of its days: of what is partly known no change is told. */
const isWhole = (value: Value | null | undefined): boolean => !!value && isKnown(value) && !value.partial;

/** What the block says before it is known how wide it is. */
function toldOf(block: ShareBlock, context: LayoutContext): ShareTable | { title: string; na: Lacking } {
  const { words } = context.format;
  const label = context.labelOf(block.metric);
  const _head = dimensionName(block.dimension, context.format);
  const title = block.title.trim() || titleBy(words.shareTitle, label, block.dimension, context.format);
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  if (!targetAdds(context.book.lookup(block.metric), context.book.lookup)) return { title, na: 'not-additive' };
  // What is left over beyond the parts that are looked at belongs to the whole all the same.
  const rest = found.other ? [{ label: OTHER, cells: found.other }] : [];
  const rows = [...found.rows, ...rest];
  const shares = sharesOf(valuesOf(rows, 'current'), block.limit / 100);
  if ('na' in shares) return { title, na: shares.na };
  if (valuesOf(rows, 'current').some((v) => v.value < 0)) context.note(words.noteNegative);
  const total = found.total[0]!;
  notePartly(context, block.metric, total.current);
  noteCompared(context, block.metric, total.compared);
  const tells = isWhole(total.current) && isWhole(total.compared);
  const before = tells ? sharesOf(valuesOf(rows, 'compared'), 0) : null;
  return {
    title,
    mark: context.dayMark(block.metric),
    metric: block.metric,
    lines: linesOf(
      fewest(shares, block.form === 'ring' ? MOST_OF_RING : MOST_PARTS),
      before && !('na' in before) ? before : null,
      (part) => context.format.valueName(block.dimension, part),
      words.other,
    ),
    hasChange: before !== null && !('na' in before),
    isPartly: isKnown(total.current) && !!total.current.partial,
  };
}

/** The largest parts, so many with Other among them; what is beyond joins it. */
function fewest(shares: Shares, most: number): Shares {
  const { slices, other } = shares;
  if (slices.length + (other ? 1 : 0) <= most) return shares;
  const beyond = slices.slice(most - 1);
  const sum = (of: 'value' | 'share') => beyond.reduce((n, s) => n + s[of], other?.[of] ?? 0);
  return { slices: slices.slice(0, most - 1), other: { value: sum('value'), share: sum('share') } };
}

/** Stands for what is left over among the labels of parts: no feed brings it. */
const OTHER = '\u0000other';

function linesOf(now: Shares, before: Shares | null, nameOf: (label: string) => string, other: string): ShareLine[] {
  const shareBefore = (labels: readonly string[]): number | null => {
    if (before === null) return null;
    return before.slices.filter((s) => labels.includes(s.label)).reduce((sum, s) => sum + s.share, 0);
  };
  const kept = now.slices.filter((s) => s.label !== OTHER);
  const movedOf = (share: number, was: number | null) => (was === null ? null : share - was);
  const lines = kept.map(
    ({ label, share, value }): ShareLine => ({
      label: nameOf(label),
      share,
      value,
      moved: movedOf(share, shareBefore([label])),
      isOther: false,
    }),
  );
  const left = now.slices.find((s) => s.label === OTHER);
  const share = (left?.share ?? 0) + (now.other?.share ?? 0);
  if (share <= 0) return lines;
  const was = before && 1 - (shareBefore(kept.map((s) => s.label)) ?? 0);
  const value = (left?.value ?? 0) + (now.other?.value ?? 0);
  return [...lines, { label: other, share, value, moved: movedOf(share, was), isOther: true }];
}

/** What each part of a dimension is of the whole, and how that has moved (SEMANTICS §7). */
export const share = defineBlock({
  kind: 'share',
  fields,
  mail: { as: 'chart' },
  make: ({ metric, dimension }) => ({ metric, dimension, form: 'bars' as const, limit: 3, title: '' }),
  about: 'dimension',
  questions: (block, scope) => [ask(block, scope)],
  least(block, context) {
    const told = toldOf(block, context);
    if ('na' in told) return 0;
    return block.form === 'ring' ? leastOfRing(context, told) : leastOfBars(context, told);
  },
  lay(block, context): Laid {
    const told = toldOf(block, context);
    if (!('na' in told)) return block.form === 'ring' ? layShareRing(context, told) : layShareBars(context, told);
    return layReason(context, told.title, context.format.words.reasons[told.na]);
  },
});
