import { changeOf, keyOf, type Question, valueOfAnswer } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable } from './blockTable.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricsField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { notePartly } from './notePartly.ts';
import { partlyText } from './partly.ts';

const fields = { metrics: metricsField({ hint: 'Formulas that use an assumption', most: 8 }), title: titleField };

type WhatIf = BlockOf<'whatIf', typeof fields>;

function asks(metric: string, { period: range, filter }: Scope) {
  const under: Question = { op: 'total', metric, range, filter };
  return { under, usual: { ...under, usual: true as const } };
}

/** What is assumed, each with its number; where another is usual, with that one too. */
function assumedWords({ assumptions, format }: LayoutContext): string {
  return assumptions
    .map(({ label, unit, now, usual }) => {
      const said = `${label} ${format.figure(now, unit)}`;
      const { typical, aside } = format.words;
      return now === usual
        ? said
        : fill(aside, { text: said, aside: fill(typical, { value: format.figure(usual, unit) }) });
    })
    .join(', ');
}

function tableOf(block: WhatIf, context: LayoutContext): BlockTable {
  const { format, palette, answers, assumptions } = context;
  const { words } = format;
  const differs = assumptions.some((a) => a.now !== a.usual);
  const figures = block.metrics.map((key) => {
    const asked = asks(key, context);
    const [under, usual] = [asked.under, asked.usual].map(
      (q) => valueOfAnswer(answers[keyOf(q)]) ?? ({ na: 'no-data' } as const),
    );
    return { metric: context.book.of(key), under: under!, usual: usual! };
  });
  return {
    title: block.title.trim() || words.whatIf.title,
    beside: assumedWords(context),
    head: words.sheet.figure,
    heads: [
      { text: words.whatIf.under, mark: '' },
      ...(differs
        ? [
            { text: words.whatIf.usual, mark: '' },
            { text: words.change, mark: '' },
          ]
        : []),
    ],
    lines: figures.map(({ metric, under, usual }) => {
      const column = { say: (v: number) => format.figure(v, metric.unit) };
      const change = changeOf(under, usual, metric.unit, metric.polarity);
      const tones = { better: palette.good, worse: palette.wrong };
      return {
        label: context.labelOf(metric.key) + context.dayMark(metric.key),
        bar: null,
        cells: [
          { text: partlyText(column, under), fill: palette.ink },
          ...(differs
            ? [
                { text: partlyText(column, usual), fill: palette.muted },
                {
                  text: format.change(change) ?? '–',
                  fill: tones[change.verdict as 'better' | 'worse'] ?? palette.muted,
                },
              ]
            : []),
        ],
      };
    }),
  };
}

/** Figures under the report's assumptions, beside those under the usual ones (SEMANTICS §12). */
export const whatIf = defineBlock({
  kind: 'whatIf',
  fields,
  make: ({ metric }) => ({ metrics: [metric], title: '' }),
  questions: (block, scope) => block.metrics.flatMap((m) => Object.values(asks(m, scope))),
  least: (block, context) => leastOfTable(context, tableOf(block, context)),
  lay(block, context) {
    const { words } = context.format;
    if (context.assumptions.length === 0)
      return layReason(context, block.title.trim() || words.whatIf.title, words.whatIf.nothing);
    for (const key of block.metrics)
      notePartly(context, key, valueOfAnswer(context.answers[keyOf(asks(key, context).under)]));
    return layTable(context, tableOf(block, context));
  },
});
