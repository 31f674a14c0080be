import { isKnown, keyOf, type Peer, type Question, type Value } from '../../figures/index.ts';
import { dimensionName, fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable } from './blockTable.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { dimensionField, metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { mailTableOf } from './mailTable.ts';
import { partlyNote } from './notePartly.ts';
import { PARTLY, partlyText } from './partly.ts';

const fields = {
  metric: metricField({ label: 'Our own' }),
  theirs: metricField({ label: 'Of the others' }),
  dimension: dimensionField({ label: 'The others are' }),
  title: titleField,
};

type PeersBlock = BlockOf<'peers', typeof fields>;
type Lacking = Extract<Value, { na: unknown }>['na'];

const ask = ({ metric, theirs, dimension }: PeersBlock, { period: range, filter }: Scope): Question => ({
  op: 'peers',
  metric,
  theirs,
  dimension,
  range,
  filter,
});

interface Told {
  table: BlockTable;
  /** Over which days they are compared. */
  note: string;
  dates: string;
  isPartly: boolean;
}

function toldOf(block: PeersBlock, context: LayoutContext): Told | { title: string; na: Lacking } {
  const { format, palette } = context;
  const { words } = format;
  const metric = context.book.of(block.metric);
  const title = block.title.trim() || fill(words.peers.title, { metric: context.labelOf(block.metric) });
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'peers' ? answer.peers : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  const { days, rows } = found;
  const most = Math.max(0, ...rows.map(({ value }) => (isKnown(value) ? value.value : 0)));
  const values = rows.flatMap(({ value }) => (isKnown(value) ? [value.value] : []));
  const column = format.column(values, metric.unit);
  const hasGrown = rows.some((r) => r.grown !== null);
  const grown = format.differences(
    rows.flatMap(({ grown: g }) => (g && isKnown(g) ? [g.value] : [])),
    metric.unit,
  );
  const lineOf = ({ label, value, grown: g }: Peer) => ({
    label: label === null ? context.clientName : format.valueName(block.dimension, label),
    bar: isKnown(value) ? value.value / (most || 1) : null,
    isOwn: label === null,
    cells: [
      { text: partlyText(column, value), fill: palette.ink },
      ...(hasGrown ? [{ text: g ? partlyText(grown, g) : '–', fill: palette.muted }] : []),
    ],
  });
  return {
    table: {
      title,
      mark: context.dayMark(block.metric),
      head: dimensionName(block.dimension, context.format),
      heads: [
        { text: context.labelOf(block.metric), mark: '' },
        ...(hasGrown ? [{ text: words.change, mark: '' }] : []),
      ],
      lines: rows.map(lineOf),
    },
    dates: format.range(days),
    isPartly: rows.some((r) => [r.value, r.grown].some((v) => v && isKnown(v) && v.partial)),
    note: format.count(words.peers.note, days.count, {
      metric: context.labelOf(block.metric),
      dates: format.range(days),
    }),
  };
}

/** What has to be said of the table's figures. */
function noteTable(block: PeersBlock, context: LayoutContext, { note, dates, isPartly }: Told): void {
  context.note(note);
  if (isPartly)
    context.note(`${PARTLY} ${partlyNote(context.noteLabelOf(block.metric), dates, undefined, context.format)}`);
}

/** Competitors beside the client, over the days that are known of all; what is not known of one is marked (SEMANTICS §12). */
export const peers = defineBlock({
  kind: 'peers',
  fields,
  make: () => ({
    metric: 'followers',
    theirs: 'competitorFollowers',
    dimension: 'competitor' as const,
    title: '',
  }),
  about: 'metric',
  questions: (block, scope) => [ask(block, scope)],
  least(block, context) {
    const told = toldOf(block, context);
    return 'na' in told ? 0 : leastOfTable(context, told.table);
  },
  lay(block, context) {
    const told = toldOf(block, context);
    if ('na' in told) return layReason(context, told.title, context.format.words.reasons[told.na]);
    noteTable(block, context, told);
    return layTable(context, told.table);
  },
  mail: {
    as: 'table',
    piece(block, context) {
      const told = toldOf(block, context);
      if ('na' in told) return { kind: 'reason', title: told.title, text: context.format.words.reasons[told.na] };
      noteTable(block, context, told);
      return mailTableOf(context, told.table);
    },
  },
});
