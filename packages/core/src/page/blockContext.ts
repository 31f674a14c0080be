import { ownOf } from '../bounds/index.ts';
import { lengthOf } from '../calendar/index.ts';
import { answersAnything, keyOf, SEGMENT } from '../figures/index.ts';
import {
  assumedBy,
  type Block,
  blockKind,
  compares,
  comparisonHead,
  dateFields,
  figureFields,
  filterWords,
  goneFor,
  type Laid,
  type LayoutContext,
  layReason,
  type Palette,
  type Scope,
  type Shown,
  scopeOf,
  shownIn,
} from '../report/index.ts';
import { atHead, fill } from '../words/index.ts';
import { layoutLineChart } from './charts/lineChart.ts';
import { layoutSparkline } from './charts/sparkline.ts';
import type { PageInput } from './composeInput.ts';
import { dayMarker } from './dayMarks.ts';
import { paragraphDirection } from './direction.ts';
import type { Flowing } from './flow.ts';
import { logoOnDark } from './logo.ts';
import { nothingCompared } from './nothingCompared.ts';
import { widthOf } from './ruler.ts';
import { fitText, wrapText } from './textFit.ts';

const NOTHING: Laid = { height: 0, draw() {} };

/** What a block has of its own, in words: its dates, what it is held against, what it counts. */
function subtitleOf(block: Block, input: PageInput): string {
  const own = input.own?.[block.id];
  const { format } = input;
  const filter = block.filter && filterWords(block.filter, input.segments ?? [], format);
  const against = own && compares(block) ? comparisonHead({ ...own, format }) : '';
  return [own ? format.range(own.period) : '', against, filter ?? ''].filter((t) => t !== '').join(' · ');
}

/** A metric's name in a note: with what the block counts, where that is another thing than what the page does. */
function noteLabelOf(key: string, block: Block, input: PageInput): string {
  const label = input.book.labelOf(key, input.format.words.metrics);
  const kept = block.filter ? filterWords(block.filter, input.segments ?? [], input.format) : '';
  return kept === '' ? label : fill(input.format.words.aside, { text: label, aside: kept });
}

const ADDRESS = /^https?:\/\/[^\s]+$/;

/** Where a value of a dimension leads: as its feed says, as an address of its own, or on the client's website. */
function linkOf(input: PageInput, block: Block, dimension: string, label: string): string | undefined {
  const scope = scopeOf(input.document, block, input);
  for (const q of blockKind(block).questions(block, scope)) {
    const found = q.op === 'links' && q.dimension === dimension ? input.answers[keyOf(q)] : undefined;
    const link = found?.op === 'links' ? ownOf(found.links, label) : undefined;
    if (link && ADDRESS.test(link)) return link;
  }
  if (ADDRESS.test(label)) return label;
  return dimension === 'landingPage' && input.site && /^\/\S*$/.test(label)
    ? `https://${input.site}${label}`
    : undefined;
}

/** Kinds of blocks that say how a whole divides among the values of their dimension. */
const DIVIDING: ReadonlySet<Block['kind']> = new Set(['ranking', 'share', 'drivers']);

/** Whether a schedule's filter leaves a block a single value of what it divides by: one row, one bar, the whole once more. */
function isUndivided(block: Block, input: PageInput): boolean {
  if (!DIVIDING.has(block.kind) || !('dimension' in block) || !input.filter?.length) return false;
  const isOne = (rule: unknown) => Array.isArray(rule) && rule.length === 1;
  const ownScope = scopeOf(input.document, block, { ...input, filter: undefined });
  return (
    isOne(scopeOf(input.document, block, input).filter[block.dimension]) && !isOne(ownScope.filter[block.dimension])
  );
}

type Fixed = Omit<LayoutContext, 'width' | 'note' | 'dayMark'>;

/** What `make` gives for a block, asked once. */
function once<V>(known: Map<Block, V>, block: Block, make: (block: Block) => V): V {
  const found = known.get(block) ?? make(block);
  known.set(block, found);
  return found;
}

interface BlocksIn extends Pick<Flowing, 'contextOf' | 'layBlock' | 'leastOf'> {
  /** Metrics that any block of the report shows, each once. */
  shownMetrics: readonly string[];
  /** Whether a block is left out, since it stands only with figures. */
  isSilent(block: Block): boolean;
  /** What a block names that is no more, in a sentence; empty for nothing. */
  goneOf(block: Block): string;
}

/** How the blocks of a report are laid out: each with its own dates and filter, or with what stands in its place. */
export function blocksIn(input: PageInput, palette: Palette): BlocksIn {
  const { document, format, ruler, book, answers } = input;
  const shownMetrics = [...new Set(shownIn(document, input, book).map((s) => s.metric))];
  const now = assumedBy(document.assumptions, input.assumed);
  const assumptions = (document.assumptions ?? []).map(({ key, label, unit, value }) => ({
    key,
    label,
    unit,
    now: now[key]!,
    usual: value,
  }));
  const fieldValue = (field: string, scope: Scope) => {
    const [kind, key] = [field.slice(0, field.indexOf('.')), field.slice(field.indexOf('.') + 1)];
    if (kind === 'figure' || kind === 'change') return book.has(key) ? figureFields(key, scope, input)[kind] : null;
    const said: Record<string, string | null> = {
      ...dateFields(scope, format),
      'client.name': input.clientName,
      'report.title': input.title,
      'agency.name': input.agencyName,
      'manager.name': input.manager?.name ?? null,
    };
    return ownOf(said, field) ?? null;
  };
  /** What hangs neither on its width nor on where its notes go: a block is laid out more than once. */
  const fixed = new Map<Block, Fixed>();
  const fixedOf = (block: Block): Fixed => {
    const scope = scopeOf(document, block, input);
    return {
      ...scope,
      answers,
      book,
      shownMetrics,
      clientName: input.clientName,
      logo: input.brand.logo,
      logoOnDark: logoOnDark(input.brand.logo, input.brand.logoDark, palette.main),
      coverPicture: input.brand.cover ?? null,
      imprint: { title: input.title, agencyName: input.agencyName, manager: input.manager, asOf: input.asOf },
      assumptions,
      fieldValue: (field) => fieldValue(field, scope),
      pictureOf: (address) => (address === null ? null : (ownOf(input.pictures, address) ?? null)),
      linkOf: (dimension, label) => linkOf(input, block, dimension, label),
      subtitle: blockKind(block).reads ? subtitleOf(block, input) : '',
      dayNotes: input.dayNotes.filter((n) => n.from <= scope.period.to && n.to >= scope.period.from),
      labelOf: (key) => book.labelOf(key, format.words.metrics),
      noteLabelOf: (key) => noteLabelOf(key, block, input),
      nothingCompared: !input.own?.[block.id] && nothingCompared(input),
      format,
      palette,
      measure: (text, style) => widthOf(ruler, style.face, style.size, text),
      wrap: (text, style, w) => wrapText(ruler, text, style, w),
      fit: (text, style, w, after = '') =>
        fitText(ruler, text, style, w - widthOf(ruler, style.face, style.size, after)) + after,
      lineChart: (chart) => layoutLineChart(chart, palette, format, ruler),
      sparkline: (values, w, h) => layoutSparkline(values, w, h, palette),
      directionOf: (text) => paragraphDirection(text, ruler.direction),
    };
  };
  const pageOf = new Map(document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks.map((b) => [b, p] as const))));
  const beside = new Map<Block, Shown[]>();
  /** What stands on the page of a block. */
  const besideOf = (block: Block): Shown[] =>
    once(beside, block, () => {
      const page = pageOf.get(block);
      return page ? shownIn({ ...document, pages: [page] }, input, book) : [];
    });
  const contextOf = (block: Block, width: number, note: (text: string) => void): LayoutContext => {
    const known = once(fixed, block, fixedOf);
    return {
      ...known,
      width,
      note,
      dayMark: (metric) =>
        dayMarker({ ...input, beside: besideOf(block) }, note)(metric, known, known.noteLabelOf(metric)),
    };
  };
  const gone = new Map<Block, string[]>();
  const goneOf = (block: Block): string[] => once(gone, block, (b) => goneFor(document, b, input, book));
  /** Whether one has nothing to say: it stands only with figures and has none, or divides what is one part. What is gone is said, all the same. */
  const isSilent = (block: Block): boolean => {
    if (isUndivided(block, input)) return true;
    if (block.when !== 'withFigures' || goneOf(block).length > 0) return false;
    const questions = blockKind(block).questions(block, scopeOf(document, block, input));
    return questions.length > 0 && !questions.some((q) => answersAnything(answers[keyOf(q)]));
  };
  const saysGone = (block: Block): string => {
    const gone = goneOf(block).map((w) => (w === SEGMENT ? format.words.aSegment : w));
    return gone.length > 0 ? fill(format.words.gone, { what: gone.join(', ') }) : '';
  };
  return {
    shownMetrics,
    isSilent,
    goneOf: saysGone,
    contextOf,
    leastOf: (block, context) => (goneOf(block).length > 0 ? 0 : blockKind(block).least(block, context)),
    layBlock(block, context) {
      const gone = saysGone(block);
      if (gone !== '') return layReason(context, format.words.blocks[block.kind] ?? block.kind, gone);
      if (isSilent(block)) return NOTHING;
      const own = input.own?.[block.id];
      if (own?.compared && compares(block)) {
        const [days, compared] = [lengthOf(own.period), lengthOf(own.compared)];
        const period = atHead(format.range(own.period), format.locale);
        const said = { period, days: format.count(format.words.days, days), compared };
        if (days !== compared) context.note(fill(format.words.noteLengthsOf, said));
      }
      return blockKind(block).lay(block, context);
    },
  };
}
