import { changeOf, isKnown, keyOf, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable, type TableCell } from './blockTable.ts';
import { beforeOf, noteComparedTotal } from './comparison.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricsField, titleField } from './fields.ts';
import { notePartly } from './notePartly.ts';
import { PARTLY, partlyText } from './partly.ts';

const fields = {
  metrics: metricsField({ label: 'Steps', hint: 'From the first to the last', least: 2, most: 7 }),
  title: titleField,
};

type Stages = BlockOf<'stages', typeof fields>;

const asks = (metric: string, scope: Scope) => ({
  current: { op: 'total', metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(metric, scope),
});

/** A part of another figure; null where it cannot be told. */
const partOf = (value: Value, of: Value | undefined): number | null =>
  of && isKnown(value) && isKnown(of) && of.value > 0 ? value.value / of.value : null;

const isPartial = (value: Value | undefined): boolean => !!value && isKnown(value) && !!value.partial;

function tableOf(block: Stages, context: LayoutContext): BlockTable {
  const { format, palette, answers } = context;
  const { words } = format;
  const steps = block.metrics.map((key) => {
    const asked = asks(key, context);
    const valueFor = (q: Question | null) => q && (valueOfAnswer(answers[keyOf(q)]) ?? ({ na: 'no-data' } as const));
    return { metric: context.book.of(key), value: valueFor(asked.current)!, before: valueFor(asked.before) };
  });
  const values = steps.map((s) => s.value);
  const hasChange = steps.some((s) => s.before && isKnown(s.before));
  const [first] = values;
  const share = (value: Value, of: Value | undefined): TableCell => {
    const part = partOf(value, of);
    const mark = isPartial(value) || isPartial(of) ? ` ${PARTLY}` : '';
    return { text: part === null ? '–' : `${format.percent(part)}${mark}`, fill: palette.muted };
  };
  const changeCell = ({ metric, value, before }: (typeof steps)[number]): TableCell => {
    const change = before && changeOf(value, before, metric.unit, metric.polarity);
    const tones = { better: palette.good, worse: palette.wrong };
    const fill = tones[change?.verdict as 'better' | 'worse'] ?? palette.muted;
    return { text: (change && format.change(change)) ?? '–', fill };
  };
  const names = [block.metrics[0]!, block.metrics.at(-1)!].map((key) => context.labelOf(key));
  return {
    title: block.title.trim() || fill(words.stages.title, { first: names[0]!, last: names[1]! }),
    head: words.stages.step,
    heads: [
      { text: words.sheet.value, mark: '' },
      ...(hasChange ? [{ text: words.change, mark: '' }] : []),
      { text: words.stages.ofFirst, mark: '' },
      { text: words.stages.ofBefore, mark: '' },
    ],
    lines: steps.map((step, i) => ({
      label: context.labelOf(step.metric.key) + context.dayMark(step.metric.key),
      bar: partOf(step.value, first),
      cells: [
        {
          text: partlyText({ say: (v) => format.figure(v, step.metric.unit) }, step.value),
          fill: palette.ink,
        },
        ...(hasChange ? [changeCell(step)] : []),
        i === 0 ? { text: '', fill: palette.muted } : share(step.value, first),
        i === 0 ? { text: '', fill: palette.muted } : share(step.value, values[i - 1]),
      ],
    })),
  };
}

/** From step to step: what each brings, and what is left of the first and of the one before (SEMANTICS §12). */
export const stages = defineBlock({
  kind: 'stages',
  fields,
  mail: { as: 'chart' },
  make: ({ metric }) => ({ metrics: metric === 'orders' ? ['visits', 'orders'] : [metric, 'orders'], title: '' }),
  questions: (block, scope) =>
    block.metrics.flatMap((m) => Object.values(asks(m, scope)).filter((q): q is Question => q !== null)),
  least: (block, context) => leastOfTable(context, tableOf(block, context)),
  lay(block, context) {
    for (const key of block.metrics) {
      const { current } = asks(key, context);
      notePartly(context, key, valueOfAnswer(context.answers[keyOf(current)]));
      noteComparedTotal(context, key);
    }
    return layTable(context, tableOf(block, context));
  },
});
