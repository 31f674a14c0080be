import type { Range } from '@chronicon/core/calendar';
import { civilDate, zoneName } from '@chronicon/core/report';
import { z } from 'zod';
import type { DatasetSpec, FactRow } from '../facts/factStore.ts';
import { FeedError, type FeedKind } from './connector.ts';
import { getJson } from './http.ts';

const account = z.object({ id: z.string(), name: z.string(), site: z.string(), zone: zoneName, currency: z.string() });

const catalogue = z.object({
  completeThrough: civilDate,
  datasets: z.array(
    z.object({
      key: z.string().regex(/^[a-z][a-zA-Z0-9]*$/),
      name: z.string(),
      firstDay: civilDate,
      dimensions: z.array(z.string()),
      measures: z.array(z.string()),
    }),
  ),
});

const totalReply = z.object({ value: z.number() });

const rowsPage = z.object({
  columns: z.array(z.string()),
  rows: z.array(z.array(z.union([z.string(), z.number()]))),
  next: z.int().nullable(),
});

/** One row by column name, in the dataset's own order. */
function readRow(row: readonly (string | number)[], columns: string[], dataset: DatasetSpec, range: Range): FactRow {
  const at = (name: string) => row[columns.indexOf(name)];
  const day = at('day');
  if (typeof day !== 'string' || day < range.from || day > range.to) {
    throw new FeedError('broken', `The service sent a row of ${String(day)}, which was not asked for.`);
  }
  return {
    day,
    dims: dataset.dimensions.map((d) => String(at(d) ?? '')),
    measures: dataset.measures.map((m) => {
      const value = at(m);
      if (typeof value !== 'number' || !Number.isFinite(value)) {
        throw new FeedError('broken', `The service sent ${m} of ${day} that is no number.`);
      }
      return value;
    }),
  };
}

/** A kind of feed whose service speaks the protocol of docs/feed-protocol.md. */
export const protocolFeed = (about: Omit<FeedKind, 'open'>): FeedKind => ({
  ...about,
  open({ address, account: id, token, timeout }) {
    const base = `${address.replace(/\/$/, '')}/accounts/${encodeURIComponent(id)}`;
    return {
      account: () => getJson(new URL(base), token, account, timeout),
      catalogue: () => getJson(new URL(`${base}/datasets`), token, catalogue, timeout),
      async rows(dataset, range) {
        const rows: FactRow[] = [];
        for (let cursor: number | null = 0; cursor !== null; ) {
          const url = new URL(`${base}/datasets/${encodeURIComponent(dataset.key)}/rows`);
          url.searchParams.set('from', range.from);
          url.searchParams.set('to', range.to);
          url.searchParams.set('cursor', String(cursor));
          const page: z.infer<typeof rowsPage> = await getJson(url, token, rowsPage, timeout);
          for (const row of page.rows) rows.push(readRow(row, page.columns, dataset, range));
          if (page.next !== null && page.next <= cursor)
            throw new FeedError('broken', 'The service pages in a circle.');
          cursor = page.next;
        }
        return rows;
      },
      async total(dataset, measure, range, filter) {
        const url = new URL(`${base}/datasets/${encodeURIComponent(dataset)}/totals`);
        url.searchParams.set('from', range.from);
        url.searchParams.set('to', range.to);
        url.searchParams.set('measure', measure);
        for (const [dimension, values] of Object.entries(filter)) {
          for (const value of values) url.searchParams.append(dimension, value);
        }
        return (await getJson(url, token, totalReply, timeout)).value;
      },
    };
  },
});
