import { addDays, type CivilDate, civilDateAt, maxDate, type Range } from '@chronicon/core/calendar';
import type { z } from 'zod';
import { ask, type HttpAnswer } from './http.ts';
import { account as accountSchema, accounts, catalogue, rowsPage, totalReply } from './protocolFeed.ts';

/** What is tested: a service, one of its accounts, and a token that may read it. */
export interface Candidate {
  /** As `https://place.example/feeds/calls/v1`. */
  address: string;
  account: string;
  token: string;
  /** Instant, for what is complete by now. */
  now: string;
  timeout?: number;
}

export interface Finding {
  rule: string;
  /** What is wrong; null when the rule is kept. */
  fault: string | null;
}

class Fault extends Error {}

const NAME = /^[a-zA-Z][a-zA-Z0-9]*$/;
/** Days of rows that are compared. */
const DAYS = 14;

interface Dataset {
  key: string;
  name: string;
  firstDay: CivilDate;
  dimensions: string[];
  measures: string[];
}

interface Known {
  zone: string;
  through: CivilDate;
  datasets: Dataset[];
}

const isRecord = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x);
const isDate = (x: unknown): x is CivilDate =>
  typeof x === 'string' && /^\d{4}-\d\d-\d\d$/.test(x) && !Number.isNaN(Date.parse(x));

function must(holds: boolean, otherwise: string): asserts holds {
  if (!holds) throw new Fault(otherwise);
}

/** Tries every rule of docs/feeds.md on a service. Nothing that is asked changes anything there. */
export async function* tryService(c: Candidate): AsyncGenerator<Finding> {
  const base = c.address.replace(/\/$/, '');
  const account = `/accounts/${encodeURIComponent(c.account)}`;
  const get = (path: string, token = c.token): Promise<HttpAnswer> =>
    ask({
      url: new URL(base + path),
      headers: { authorization: `Bearer ${token}` },
      timeout: c.timeout ?? 20_000,
      // Whoever tests a service may run it on their own machine.
      network: { loopback: true, private: true },
    });
  const json = async (path: string, as: z.ZodType): Promise<Record<string, unknown>> => {
    const { status, body: text } = await get(path);
    must(status === 200, `${path} answered ${status}`);
    let body: unknown;
    try {
      body = JSON.parse(text);
    } catch {
      throw new Fault(`${path} is no JSON`);
    }
    must(isRecord(body), `${path} is no JSON object`);
    // What reads a service's answers later reads them here, too: who passes can be connected.
    const read = as.safeParse(body);
    const [issue] = read.error?.issues ?? [];
    must(issue === undefined, `${path} cannot be read: ${issue?.path.join('.')}: ${issue?.message}`);
    return body;
  };
  const finding = async (rule: string, work: () => Promise<void>): Promise<Finding> => {
    try {
      await work();
      return { rule, fault: null };
    } catch (error) {
      return { rule, fault: error instanceof Error ? error.message : String(error) };
    }
  };

  const known: Known = { zone: 'UTC', through: '', datasets: [] };
  yield await finding('GET /accounts lists what the token may read, the account among it', async () => {
    const { accounts: all } = await json('/accounts', accounts);
    must(
      (all as unknown[]).some((a) => isRecord(a) && a.id === c.account),
      `${c.account} is not in the list`,
    );
  });
  yield await finding('a token that was never given is answered with 401', async () => {
    const { status } = await get(account, 'this-token-was-never-given');
    must(status === 401, `it was answered with ${status}`);
  });
  yield await finding('an account that there is not is answered with 404', async () => {
    const { status } = await get('/accounts/there-is-no-such-account');
    must(status === 404, `it was answered with ${status}`);
  });
  yield await finding('an account says who it is: id, name, site, zone, currency', async () => {
    const found = await json(account, accountSchema);
    for (const key of ['id', 'name', 'site', 'zone', 'currency']) {
      must(typeof found[key] === 'string', `"${key}" is no text`);
    }
    must(found.id === c.account, `its id is ${found.id}`);
    known.zone = found.zone as string;
    must(
      Intl.supportedValuesOf('currency').includes(found.currency as string),
      `${found.currency} is no currency (ISO 4217)`,
    );
    civilDateAt(c.now, known.zone);
    const again = await json(account, accountSchema);
    must(JSON.stringify(again) === JSON.stringify(found), 'it says another thing when asked again');
  });
  yield await finding('the catalogue names datasets with first day, dimensions and measures', async () => {
    const { completeThrough, datasets } = await json(`${account}/datasets`, catalogue);
    must(isDate(completeThrough), '"completeThrough" is no date');
    must(
      completeThrough <= civilDateAt(c.now, known.zone),
      `${completeThrough} is not over yet, so it cannot be complete`,
    );
    known.through = completeThrough;
    must(Array.isArray(datasets) && datasets.length > 0, 'there is no dataset');
    for (const d of datasets as unknown[]) {
      must(
        isRecord(d) && typeof d.key === 'string' && /^[a-z][a-zA-Z0-9]*$/.test(d.key),
        'a dataset has no proper key',
      );
      must(typeof d.name === 'string' && d.name !== '', `${d.key} has no name`);
      must(isDate(d.firstDay), `${d.key} has no first day`);
      for (const list of ['dimensions', 'measures'] as const) {
        const names = d[list];
        const proper = Array.isArray(names) && names.every((n) => typeof n === 'string' && NAME.test(n));
        must(proper, `${d.key} has ${list} that are no names`);
        must(new Set(names as string[]).size === (names as string[]).length, `${d.key} has ${list} twice`);
      }
      must((d.measures as string[]).length > 0, `${d.key} measures nothing`);
      known.datasets.push(d as unknown as Dataset);
    }
    must(new Set(known.datasets.map((d) => d.key)).size === known.datasets.length, 'two datasets have one key');
  });

  const rowsOf = async (d: Dataset, range: Range): Promise<string[]> => {
    const rows: string[] = [];
    let cursor: number | null = 0;
    while (cursor !== null) {
      const page = await json(
        `${account}/datasets/${d.key}/rows?from=${range.from}&to=${range.to}&cursor=${cursor}`,
        rowsPage,
      );
      const { columns, rows: found, next } = page;
      must(Array.isArray(columns) && Array.isArray(found), 'a page has no columns or no rows');
      const lacking = ['day', ...d.dimensions, ...d.measures].find((name) => !columns.includes(name));
      must(lacking === undefined, `the rows lack ${lacking}`);
      for (const row of found as unknown[][]) {
        must(row.length === columns.length, 'a row has not as many cells as there are columns');
        const day = row[columns.indexOf('day')];
        must(isDate(day) && day >= range.from && day <= range.to, `a row is of ${day}, which was not asked for`);
        for (const m of d.measures) {
          const value = row[columns.indexOf(m)];
          must(typeof value === 'number' && Number.isFinite(value), `${m} of ${day} is no number`);
        }
        rows.push(JSON.stringify(row));
      }
      must(next === null || (typeof next === 'number' && next > cursor), 'the pages go in a circle');
      cursor = next;
    }
    return rows.sort();
  };
  const lastDays = (d: Dataset): Range => ({
    from: maxDate(d.firstDay, addDays(known.through, 1 - DAYS)),
    to: known.through,
  });

  for (const d of known.datasets) {
    const range = lastDays(d);
    if (range.from > range.to) continue;
    let whole: string[] = [];
    yield await finding(`${d.key}: rows are of the days asked for, with every dimension and number`, async () => {
      whole = await rowsOf(d, range);
    });
    yield await finding(`${d.key}: the same question has the same answer`, async () => {
      must(JSON.stringify(await rowsOf(d, range)) === JSON.stringify(whole), 'the rows are others');
    });
    yield await finding(`${d.key}: the days of a range are those of its parts`, async () => {
      const middle = addDays(range.from, 2);
      if (middle >= range.to) return;
      const parts = [
        ...(await rowsOf(d, { from: range.from, to: middle })),
        ...(await rowsOf(d, { from: addDays(middle, 1), to: range.to })),
      ].sort();
      must(JSON.stringify(parts) === JSON.stringify(whole), 'together they are others');
    });
    yield await finding(`${d.key}: no data for days that are not complete`, async () => {
      const after = { from: addDays(known.through, 1), to: addDays(known.through, 3) };
      must((await rowsOf(d, after)).length === 0, 'there are rows');
    });
    yield await finding(`${d.key}: totals are numbers over a range and filter`, async () => {
      const query = `from=${range.from}&to=${range.to}`;
      for (const m of d.measures) {
        const { value } = await json(`${account}/datasets/${d.key}/totals?${query}&measure=${m}`, totalReply);
        must(typeof value === 'number' && Number.isFinite(value), `the total of ${m} is no number`);
      }
    });
  }
  yield await finding('a range that ends before it begins is answered with 400', async () => {
    const [d] = known.datasets;
    must(d !== undefined, 'there is no dataset');
    const { status } = await get(
      `${account}/datasets/${d.key}/rows?from=${known.through}&to=${addDays(known.through, -3)}`,
    );
    must(status === 400, `it was answered with ${status}`);
  });
  yield await finding('a dataset that there is not is answered with 400 or 404', async () => {
    const { status } = await get(`${account}/datasets/noSuchDataset/rows?from=${known.through}&to=${known.through}`);
    must(status === 400 || status === 404, `it was answered with ${status}`);
  });
  yield await finding('what is said of the quota is whole numbers', async () => {
    const { headers } = await get(account);
    for (const name of ['ratelimit-limit', 'ratelimit-remaining', 'ratelimit-reset']) {
      const value = headers[name];
      must(value === undefined || /^\d+$/.test(String(value)), `${name} is ${value}`);
    }
  });
}
