import { addDays, type CivilDate, daysOf, type Range } from '../calendar/index.ts';
import {
  type Answer,
  type Answers,
  type CountedRange,
  changeOf,
  countedFor,
  isKnown,
  isTold,
  keyOf,
  type MetricBook,
  partOf,
  type Question,
  type Value,
  valueOfAnswer,
} from '../figures/index.ts';
import {
  type Block,
  blockKind,
  excludedIn,
  filterWords,
  goneFor,
  partsOf,
  type ReportDocument,
  type ReportScope,
  type Scope,
  scopeOf,
  standing,
} from '../report/index.ts';
import { type Formatter, fill, type SheetColumn, withoutDaysWords } from '../words/index.ts';

/** One figure of a report as it goes along with it: numbers unrounded, changes in percent and, of rates, in points. */
export type FigureRow = Record<SheetColumn, string | number | null>;

interface Told {
  document: ReportDocument;
  dates: ReportScope;
  answers: Answers;
  book: MetricBook;
  format: Formatter;
}

/** What of a row is the same for all figures of a block. */
type Where = Pick<FigureRow, 'page' | 'block'>;

/**
 * The figures that stand on a report's pages, one a row, in reading order: totals, rows of tables, days of charts and parts
 * of changes, each with its dates, what it is held against, and what is lacking. Questions that several kinds of blocks
 * ask are told alike, whatever the block.
 */
export function figureRows(told: Told): FigureRow[] {
  const { document, dates } = told;
  return standing(document).pages.flatMap((page) =>
    page.rows.flatMap(({ blocks }) =>
      blocks
        .filter((block) => goneFor(document, block, dates, told.book).length === 0)
        .flatMap((block) => rowsOfBlock(told, page.title, block, scopeOf(document, block, dates))),
    ),
  );
}

function rowsOfBlock(
  { answers, book, format, document, dates }: Told,
  page: string,
  block: Block,
  scope: Scope,
): FigureRow[] {
  const { words } = format;
  const { period, compared } = scope;
  const where: Where = { page, block: words.blocks[block.kind] ?? block.kind };
  const kept = filterWords(partsOf(document, block, dates), dates.segments ?? [], format);
  const questions = blockKind(block).questions(block, scope);
  const answerTo = (q: Question): Answer | undefined => answers[keyOf(q)];
  const nameOf = (metric: string) => book.labelOf(metric, words.metrics);

  const row = (
    metric: string,
    label: string,
    at: CountedRange,
    current: Value,
    over: CountedRange | null,
    before: Value | null,
  ) => {
    const { unit, polarity } = book.of(metric);
    const change = before && changeOf(current, before, unit, polarity);
    const told = change && isTold(change) ? change : null;
    const lackOf = (v: Value): string[] =>
      isKnown(v) ? (v.partial ? [words.reasons.partial] : []) : [words.reasons[v.na]];
    // What the other side lacks is said of that side.
    const lacksBefore = before ? lackOf(before) : [];
    const ofBefore = over
      ? lacksBefore.map((text) => fill(words.labelled, { label: format.range(over), text }))
      : scope.yardstick?.kind === 'target' && before && !isKnown(before)
        ? [words.noTarget]
        : lacksBefore;
    // What both sides lack alike is said once.
    const own = lackOf(current);
    const lacks = own.join() === lacksBefore.join() ? own : [...own, ...ofBefore];
    const left = excludedIn(metric, { period: at, compared: over }, book);
    const without = withoutDaysWords([...left.period, ...left.compared], format);
    return {
      ...where,
      figure: nameOf(metric),
      label,
      from: at.from,
      to: at.to,
      value: isKnown(current) ? current.value : null,
      comparedFrom: over?.from ?? null,
      comparedTo: over?.to ?? null,
      comparedValue: before && isKnown(before) ? before.value : null,
      // A position has no percentage: half as far down is not half as good.
      change: typeof told?.rel === 'number' && unit !== 'position' ? told.rel * 100 : null,
      points: told?.points ?? null,
      note: [kept, without, ...new Set(lacks)]
        .filter((t) => t !== '')
        .reduce((first, second) => (first === '' ? second : fill(words.semicolon, { first, second })), ''),
    } satisfies FigureRow;
  };

  /** What a total of the period is held against: another total, a usual level, a target. */
  const beforeOf = (metric: string): Value | null => {
    const q = questions.find(
      (x) =>
        (x.op === 'total' && x.metric === metric && x.range !== period && x.range === compared) ||
        ((x.op === 'typical' || x.op === 'target') && x.metric === metric),
    );
    return q ? valueOfAnswer(answerTo(q)) : null;
  };
  const dailyOf = (metric: string, range: Range): (number | null)[] => {
    const q = questions.find((x) => x.op === 'byDay' && x.metric === metric && x.range === range);
    const found = q && answerTo(q);
    return found?.op === 'byDay' && Array.isArray(found.values) ? found.values : [];
  };
  /** A day's value; of one that is left out, that it is. */
  const known = (value: number | null | undefined, metric: string, day: CountedRange): Value =>
    typeof value === 'number'
      ? { value }
      : { na: countedFor(day, [metric], book).without ? 'excluded' : 'not-covered' };

  return questions.filter(blockKind(block).hands).flatMap((q): FigureRow[] => {
    const found = answerTo(q);
    if (q.op === 'total' && q.range === period) {
      return [row(q.metric, '', period, valueOfAnswer(found) ?? { na: 'no-data' }, compared, beforeOf(q.metric))];
    }
    if (q.op === 'byDay' && q.range === period) {
      const days = daysOf(period);
      const before = compared ? dailyOf(q.metric, compared) : [];
      const dayOf = (i: number): CountedRange | null => {
        if (!compared || i >= before.length) return null;
        const day: CivilDate = addDays(compared.from, i);
        return partOf(compared, { from: day, to: day });
      };
      return dailyOf(q.metric, period).map((value, i) => {
        const day = partOf(period, { from: days[i]!, to: days[i]! });
        const over = dayOf(i);
        return row(q.metric, '', day, known(value, q.metric, day), over, over && known(before[i], q.metric, over));
      });
    }
    if (q.op === 'top' && found?.op === 'top' && !('na' in found.breakdown)) {
      const { rows, other, total } = found.breakdown;
      const lines = [
        ...rows.map((r) => ({ label: format.valueName(q.dimension, r.label), cells: r.cells })),
        ...(other ? [{ label: words.other, cells: other }] : []),
        { label: words.all, cells: total },
      ];
      return lines.flatMap(({ label, cells }) =>
        cells.map((cell, i) => row(q.metrics[i]!, label, period, cell.current, q.compared, cell.compared)),
      );
    }
    if (q.op === 'drivers' && found?.op === 'drivers' && !('na' in found.drivers)) {
      return found.drivers.items.map((item) => ({
        ...row(q.metric, format.valueName(q.dimension, item.label), period, { value: item.by }, q.compared, null),
        figure: fill(words.labelled, { label: words.change, text: nameOf(q.metric) }),
      }));
    }
    return [];
  });
}
