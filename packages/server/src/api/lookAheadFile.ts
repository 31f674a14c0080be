import { csvOf } from '../render/tables/csv.ts';
import { type Cell, textCell } from '../render/tables/table.ts';
import { rowsAhead } from './almanac.ts';

/** Rows of one file. */
const MOST = 20_000;
const HEAD = ['Date', 'Time', 'Time zone', 'Client', 'Report', 'Covers', 'Compared with', 'Readers', 'To', 'Look at'];

/** What would go out between two days, one run a row, as CSV. */
export async function lookAheadFile(
  api: Parameters<typeof rowsAhead>[0],
  member: Parameters<typeof rowsAhead>[1],
  asked: Parameters<typeof rowsAhead>[2],
): Promise<Buffer> {
  const found = await rowsAhead(api, member, asked, { offset: 0, limit: MOST });
  const rows = found.rows.map((r): Cell[] => [
    { kind: 'date', date: r.date },
    textCell(r.time),
    textCell(r.zone),
    textCell(r.clientName),
    textCell(r.title),
    textCell(r.period),
    textCell(r.compared),
    { kind: 'number', value: r.readers.length, unit: 'count' },
    textCell(r.readers.join('; ')),
    textCell(r.warnings.join(' ')),
  ]);
  return csvOf({ title: '', author: '', about: [], head: HEAD, rows, currency: 'EUR' }, 'point');
}
