import { isKnown, keyOf, type Question, valueOfAnswer } from '../../figures/index.ts';
import { dayNoteWords, fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { choiceField, metricsField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { layWords } from './layWords.ts';
import { notePartly } from './notePartly.ts';
import { partlyText } from './partly.ts';
import { underHead } from './subtitle.ts';

const fields = {
  metrics: metricsField({ label: 'Counted from the feeds', hint: 'Updates, backups, scans', least: 0, most: 8 }),
  dayNotes: choiceField({
    label: 'Notes on days',
    options: [
      { value: 'show', label: 'Shown' },
      { value: 'leave', label: 'Hidden' },
    ],
  }),
  title: titleField,
};

type WorkLog = BlockOf<'workLog', typeof fields>;

const ask = (metric: string, { period: range, filter }: Scope): Question => ({ op: 'total', metric, range, filter });

/** What was written for the period, line by line; each line is an entry, whether or not it begins as one. */
const linesOf = ({ written }: LayoutContext): string[] =>
  written
    .split('\n')
    .map((line) => line.replace(/^\s*-\s*/, '').trim())
    .filter((line) => line !== '');

/** What the feeds counted, as far as anything was done. */
function counted(block: WorkLog, context: LayoutContext): string[] {
  return block.metrics.flatMap((key) => {
    const value = valueOfAnswer(context.answers[keyOf(ask(key, context))]);
    if (!value || !isKnown(value)) return [];
    const { unit } = context.book.of(key);
    const text = partlyText({ say: (v) => context.format.figure(v, unit) }, value);
    return [fill(context.format.words.labelled, { label: context.labelOf(key), text })];
  });
}

/** What was done in the period: typed in, counted by feeds, and noted of its days. */
export const workLog = defineBlock({
  kind: 'workLog',
  fields,
  make: () => ({ metrics: [], dayNotes: 'show' as const, title: '' }),
  mayBeWritten: 'lines',
  questions: (block, scope) => block.metrics.map((m) => ask(m, scope)),
  least: () => 120,
  lay(block, context) {
    const { words } = context.format;
    const title = block.title.trim() || words.workLog.title;
    const noted = block.dayNotes === 'show' ? context.dayNotes.map((n) => dayNoteWords(n, context.format)) : [];
    const entries = [...linesOf(context), ...counted(block, context), ...noted];
    if (entries.length === 0) return layReason(context, title, words.workLog.nothing);
    for (const key of block.metrics) notePartly(context, key, valueOfAnswer(context.answers[keyOf(ask(key, context))]));
    const laid = layWords(context, entries.map((e) => `- ${e}`).join('\n'));
    return { ...underHead(setTitle(context, title), laid), name: title };
  },
});
