import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays } from '../../calendar/index.ts';
import { type Cell, guessDates, inspectRows, readDate, rowReader, tallNames, tallRows, wideTable } from './index.ts';

const ZONE = 'Europe/London';
const inspect = (rows: Cell[][]) => inspectRows(rows, ZONE, null, null, 'GBP');
/** What a whole table comes to: day, labels and values of each row of one day. */
function readAll(rows: Cell[][]) {
  const { mapping, wide } = inspect(rows);
  const reader = rowReader(tallNames(wide!), mapping, {
    today: '2026-12-01',
    zone: ZONE,
    counts: () => false,
    currency: 'GBP',
  });
  return rows.slice(wide!.headerAt + 1).flatMap((row) =>
    tallRows(wide!, row).map(({ cells, fault }) => {
      const problem = fault ?? reader.read(cells);
      return problem ?? [reader.day, ...reader.labels, ...reader.values];
    }),
  );
}

describe('a table with a column for each day', () => {
  it('is read as a row for each day, whatever stands above and beside', () => {
    const rows = [
      ['Shop takings', null, null, null, null],
      ['Shop', '2026-10-01', '2026-10-02', '2026-10-03', 'Total'],
      ['Quay', '3', '4', null, '7'],
      ['Hill', '1', null, '2', '3'],
      ['Total', '4', '4', '2', '10'],
    ];
    const found = inspect(rows);
    expect(found.columns.map((c) => [c.name, c.use])).toEqual([
      ['Shop', { as: 'dimension', key: 'shop' }],
      ['Day', { as: 'date' }],
      ['Value', { as: 'measure', key: 'value' }],
    ]);
    expect(found).toMatchObject({ headerAt: 1, totals: [4], doubts: [], mapping: { dates: 'ymd' } });
    expect(found.notices[0]).toContain('3 date columns');
    expect(readAll(rows).slice(0, 4)).toEqual([
      [20727, 'Quay', 3],
      [20728, 'Quay', 4],
      [20727, 'Hill', 1],
      [20729, 'Hill', 2],
    ]);
    expect(readAll(rows)[4]).toContain('is a total');
  });

  it('whose rows are figures has a column for each of them', () => {
    const rows = [
      ['Metric', '1 Oct 2026', '2 Oct 2026'],
      ['Visits', '1.2K', '900'],
      ['Orders', '12', '9'],
    ];
    expect(inspect(rows).columns.map((c) => [c.name, c.use.as])).toEqual([
      ['Day', 'date'],
      ['Visits', 'measure'],
      ['Orders', 'measure'],
    ]);
    expect(readAll(rows)).toEqual([
      [20727, 1200, 0],
      [20728, 900, 0],
      [20727, 0, 12],
      [20728, 0, 9],
    ]);
    // Without such a heading, the figures themselves tell.
    expect(inspect([['', '1 Oct 2026', '2 Oct 2026'], ...rows.slice(1)]).columns.map((c) => c.name)).toEqual([
      'Day',
      'Visits',
      'Orders',
    ]);
  });

  it('asks which comes first where the days over its columns do not tell', () => {
    const rows = [
      ['Shop', '01/10/2026', '02/10/2026'],
      ['Quay', '3', '4'],
    ];
    expect(inspect(rows)).toMatchObject({ doubts: ['dates'] });
  });

  it('is none where days stand below days, or a day is one label among others', () => {
    expect(
      wideTable(
        [
          ['2026-10-01', '2026-10-02', '5'],
          ['2026-10-02', '2026-10-05', '6'],
        ],
        ZONE,
      ),
    ).toBeNull();
    expect(
      wideTable(
        [
          ['day', 'shop', 'sold'],
          ['2026-10-01', 'Quay', '3'],
        ],
        ZONE,
      ),
    ).toBeNull();
    // Years are no days.
    expect(
      wideTable(
        [
          ['Shop', '2025', '2026'],
          ['Quay', '3', '4'],
        ],
        ZONE,
      ),
    ).toBeNull();
  });

  it('sets a figure aside that none of its first rows has', () => {
    const table = wideTable(
      [
        ['Metric', '2026-10-01', '2026-10-02'],
        ['Visits', '1', '2'],
      ],
      ZONE,
    )!;
    expect(tallRows(table, ['Bounces', '3', null])).toMatchObject([{ fault: expect.stringContaining('“Bounces”') }]);
    expect(tallRows(table, ['', '3', null])).toMatchObject([{ fault: expect.stringContaining('which metric') }]);
    expect(tallRows(table, ['Total', '3', '5'])).toEqual([]);
  });

  it('comes to the same figures as the table of its rows of one day', () => {
    const sold = fc.array(fc.array(fc.integer({ min: 0, max: 9_999 }), { minLength: 3, maxLength: 3 }), {
      minLength: 1,
      maxLength: 6,
    });
    fc.assert(
      fc.property(sold, fc.integer({ min: 0, max: 200 }), (values, shift) => {
        const days = [0, 1, 2].map((i) => addDays('2026-01-01', shift + i));
        const rows = [['Shop', ...days], ...values.map((v, i) => [`Shop ${i}`, ...v.map(String)])];
        const read = readAll(rows) as [number, string, number][];
        expect(read.map(([, , n]) => n)).toEqual(values.flat());
        expect(new Set(read.map(([day]) => day)).size).toBe(3);
      }),
    );
  });
});

describe('whole weeks', () => {
  it('are read by their Monday (ISO 8601), however they are written', () => {
    for (const text of ['2026-W40', '2026W40', '2026 W40', 'W40 2026', 'KW 40/2026', 'Week 40, 2026', '2026-40']) {
      expect(readDate(text, 'weeks', ZONE), text).toBe('2026-09-28');
    }
    expect(readDate('2026-W53', 'weeks', ZONE)).toBe('2026-12-28');
    expect(readDate('2025-W53', 'weeks', ZONE)).toBeNull();
    expect(readDate('2026-W00', 'weeks', ZONE)).toBeNull();
  });

  it('are no months where the heading says so, and months are no weeks where it does not', () => {
    const samples = ['2026-09', '2026-10', '2026-11'];
    expect(guessDates(samples, ZONE, 'Month')).toMatchObject({ fits: [{ style: 'month' }], doubtful: false });
    expect(guessDates(samples, ZONE, 'Kalenderwoche')).toMatchObject({ fits: [{ style: 'weeks' }], doubtful: false });
  });
});
