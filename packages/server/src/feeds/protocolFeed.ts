import { isObjectName } from '@chronicon/core/bounds';
import type { Range } from '@chronicon/core/calendar';
import { TOLD_BESIDE } from '@chronicon/core/figures';
import { civilDate, zoneName } from '@chronicon/core/report';
import { z } from 'zod';
import type { DatasetSpec, FactRow } from '../facts/factStore.ts';
import { FeedError, type FeedKind, type FeedSession, type ServiceSetup } from './connector.ts';
import { ask, type HttpAnswer, parseJson, retryAfterOf } from './http.ts';

/** What is read of a service's answers: `npm run conformance` holds a service to the same. */
const text = z.string().max(300);
export const account = z.object({ id: text.min(1), name: text, site: text, zone: zoneName, currency: text });
export const accounts = z.object({ accounts: z.array(account).max(10_000) });

const name = z
  .string()
  .regex(/^[a-zA-Z][a-zA-Z0-9]*$/)
  .refine((n) => !isObjectName(n));
export const catalogue = z.object({
  completeThrough: civilDate,
  datasets: z.array(
    z.object({
      key: name.regex(/^[a-z]/),
      name: text,
      firstDay: civilDate,
      dimensions: z.array(name),
      measures: z.array(name).min(1),
    }),
  ),
});

export const totalReply = z.object({ value: z.number() });

export const rowsPage = z.object({
  columns: z.array(z.string()),
  rows: z.array(z.array(z.union([z.string(), z.number()]))),
  next: z.int().nullable(),
});

/** Dimensions whose values are addresses; one that begins with a slash lies on the service's own server. */
const ADDRESSES: ReadonlySet<string> = new Set(
  Object.values(TOLD_BESIDE).flatMap(({ link, picture }) => (picture ? [link, picture] : [link])),
);
const wholeAddress = (value: string, service: string): string =>
  value.startsWith('/') && URL.canParse(value, service) ? new URL(value, service).href : value;

/** Reads rows by column name, in the dataset's own order. */
function rowReader(columns: readonly string[], dataset: DatasetSpec, range: Range, service: string) {
  const placeOf = (column: string) => {
    const at = columns.indexOf(column);
    if (at < 0) throw new FeedError('changed', `The service sent rows of ${dataset.name} without ${column}.`);
    return at;
  };
  const dayAt = placeOf('day');
  const dimsAt = dataset.dimensions.map(placeOf);
  const measuresAt = dataset.measures.map(placeOf);
  return (row: readonly (string | number)[]): FactRow => {
    const day = row[dayAt];
    if (typeof day !== 'string' || day < range.from || day > range.to) {
      throw new FeedError('broken', `The service sent a row for ${String(day)}, which we didn’t ask for.`);
    }
    return {
      day,
      dims: dimsAt.map((at, d) => {
        const value = String(row[at] ?? '');
        return ADDRESSES.has(dataset.dimensions[d]!) ? wholeAddress(value, service) : value;
      }),
      measures: measuresAt.map((at, m) => {
        const value = row[at];
        if (typeof value !== 'number' || !Number.isFinite(value)) {
          throw new FeedError('broken', `The service sent ${dataset.measures[m]} for ${day} that is not a number.`);
        }
        return value;
      }),
    };
  };
}

/** What the service says of its quota: limit, rest, and seconds until it counts anew. */
function noteQuota({ headers }: HttpAnswer, { meter, now }: ServiceSetup): void {
  const number = (header: string) => {
    const value = headers[header];
    return typeof value === 'string' && /^\d+$/.test(value) ? Number(value) : null;
  };
  const [limit, left, reset] = ['ratelimit-limit', 'ratelimit-remaining', 'ratelimit-reset'].map(number);
  if (limit == null || left == null || reset == null) return;
  meter.told({ limit, used: limit - left, resets: new Date(now() + reset * 1000).toISOString() });
}

/** Asks once, with a new token a second time when the service refuses the old one. */
async function askWithAccess(setup: ServiceSetup, url: URL): Promise<HttpAnswer> {
  const { access, meter, timeout, network } = setup;
  const send = async (token: string) => {
    meter.before();
    const answer = await ask({ url, headers: { authorization: `Bearer ${token}` }, timeout, network });
    noteQuota(answer, setup);
    return answer;
  };
  const token = await access.token();
  const answer = await send(token);
  if (answer.status !== 401) return answer;
  const other = await access.renew(token);
  return other === null ? answer : send(other);
}

async function getJson<T>(setup: ServiceSetup, url: URL, schema: z.ZodType<T>): Promise<T> {
  const answer = await askWithAccess(setup, url);
  switch (answer.status) {
    case 200:
      return parseJson(answer.body, schema);
    case 401:
    case 403:
      throw new FeedError('refused', 'The service rejected the access token.');
    case 404:
      throw new FeedError('unknown-account', 'The service doesn’t know this account.');
    case 429:
      throw new FeedError(
        'busy',
        'The service asked us to retry later.',
        retryAfterOf(answer.headers['retry-after'], setup.now()),
      );
    default:
      throw new FeedError('down', `The service answered ${answer.status}.`);
  }
}

function sessionOf(setup: ServiceSetup, id: string): FeedSession {
  const base = `${setup.address.replace(/\/$/, '')}/accounts/${encodeURIComponent(id)}`;
  const datasetUrl = (key: string, what: string, range: Range): URL => {
    const url = new URL(`${base}/datasets/${encodeURIComponent(key)}/${what}`);
    url.searchParams.set('from', range.from);
    url.searchParams.set('to', range.to);
    return url;
  };
  return {
    account: () => getJson(setup, new URL(base), account),
    catalogue: () => getJson(setup, new URL(`${base}/datasets`), catalogue),
    async rows(dataset, range) {
      const rows: FactRow[] = [];
      for (let cursor: number | null = 0; cursor !== null; ) {
        const url = datasetUrl(dataset.key, 'rows', range);
        url.searchParams.set('cursor', String(cursor));
        const page: z.infer<typeof rowsPage> = await getJson(setup, url, rowsPage);
        const read = rowReader(page.columns, dataset, range, setup.address);
        for (const row of page.rows) rows.push(read(row));
        if (page.next !== null && page.next <= cursor)
          throw new FeedError('broken', 'The service returned repeating pages.');
        cursor = page.next;
      }
      return rows;
    },
    async total(dataset, measure, range, filter) {
      const url = datasetUrl(dataset, 'totals', range);
      url.searchParams.set('measure', measure);
      for (const [dimension, values] of Object.entries(filter)) {
        for (const value of values) url.searchParams.append(dimension, value);
      }
      return (await getJson(setup, url, totalReply)).value;
    },
  };
}

/** A kind of feed whose service speaks the protocol of docs/feeds.md. */
export const protocolFeed = (about: Omit<FeedKind, 'open' | 'atOnce'> & { atOnce?: number }): FeedKind => ({
  atOnce: 4,
  ...about,
  open: (setup) => ({
    accounts: async () =>
      (await getJson(setup, new URL(`${setup.address.replace(/\/$/, '')}/accounts`), accounts)).accounts,
    of: (id) => sessionOf(setup, id),
  }),
});
