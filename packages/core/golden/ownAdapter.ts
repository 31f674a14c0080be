import { addDays, daysOf, fromDayNumber, type Range } from '../src/calendar/index.ts';
import { inspectRows } from '../src/feeds/files/inspect.ts';
import { readNumber } from '../src/feeds/files/numbers.ts';
import { rowReader } from '../src/feeds/files/rowReader.ts';
import { tallNames, tallRows } from '../src/feeds/files/wide.ts';
import { excludeDays, isKnown, paceOver, targetOf } from '../src/figures/index.ts';
import { periodPoints, pointsOf } from '../src/report/blocks/trendSpan.ts';

/** What the vectors of `own.json` ask: see README.md. */
type OwnIn =
  | {
      op: 'pace';
      asOf: string;
      weekStart: number;
      range: Range;
      history: { from: string; values: number[] };
      excluded: string[];
    }
  | { op: 'target'; range: Range; targets: { month: string; value: number }[]; excluded: string[] }
  | { op: 'weeks'; range: Range; weekStart: number; values: (number | null)[]; excluded: string[] }
  | { op: 'number'; text: string; scale: number }
  | { op: 'unpivot'; rows: string[][] };

const without = (range: Range, excluded: readonly string[]) =>
  excludeDays(
    range,
    null,
    excluded.map((day) => ({ from: day, to: day })),
  ).period;

/** A number as a file's column of that scale is read. */
function written(text: string, scale: number): unknown {
  const names = ['Day', 'Figure'];
  const columns = { Day: { as: 'date' }, Figure: { as: 'measure', key: 'figure', scale } } as const;
  const reader = rowReader(
    names,
    { dates: 'ymd', numbers: 'point', gaps: 'missing', columns },
    { today: '2026-11-02', zone: 'UTC', currency: 'EUR', counts: () => false },
  );
  const fault = reader.read(['2026-11-01', text]);
  return fault === null ? { value: reader.values[0] } : { fault, read: readNumber(text, 'point') };
}

/** The rows of one day each that a table with a column for each day comes to: day, labels, figures. */
function unpivoted(rows: readonly string[][]): unknown[] {
  const { mapping, wide } = inspectRows(rows, 'UTC', null, null, 'EUR');
  const reader = rowReader(tallNames(wide!), mapping, {
    today: '2026-12-31',
    zone: 'UTC',
    currency: 'EUR',
    counts: () => false,
  });
  return rows.slice(wide!.headerAt + 1).flatMap((row) =>
    tallRows(wide!, row).flatMap(({ cells, fault }) => {
      if (fault !== null || reader.read(cells) !== null) return [];
      return [[fromDayNumber(reader.day), ...reader.labels, ...reader.values]];
    }),
  );
}

export function own(c: OwnIn): unknown {
  switch (c.op) {
    case 'pace': {
      const values = c.history.values.map((v, i) => (c.excluded.includes(addDays(c.history.from, i)) ? null : v));
      const found = paceOver({ from: c.history.from, values }, c.asOf, without(c.range, c.excluded), c.weekStart);
      return isKnown(found) ? { value: found.value } : found;
    }
    case 'target': {
      const targets = c.targets.map(
        ({ month, value }) => ({ metric: 'm', value, span: 'month', from: month, repeats: false }) as const,
      );
      const found = targetOf(true, targets, without(c.range, c.excluded));
      return isKnown(found) ? { value: found.value } : found;
    }
    case 'weeks': {
      const range = without(c.range, c.excluded);
      const daily = daysOf(c.range).map((day, i) => (c.excluded.includes(day) ? null : c.values[i]!));
      const { values } = periodPoints(daily, range, 'week', c.weekStart);
      return { weeks: pointsOf(range, 'week', c.weekStart).map((from, i) => ({ from, average: values[i] })) };
    }
    case 'number':
      return written(c.text, c.scale);
    case 'unpivot':
      return { rows: unpivoted(c.rows) };
  }
}
