import { closeSync, openSync, readdirSync, readSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { addDays } from '@chronicon/core/calendar';
import Database from 'better-sqlite3';
import { furnish, openTestFixture, scheduleFor } from './harness.ts';

/** How a data folder grows: a shop's report each week to three readers, for half a year. Prints what one edition of it takes. */
const FIRST = '2026-11-02';
const WEEKS = 26;
const READERS = 3;
/** Shares below this are told together. */
const SMALL = 0.5;

type Bytes = Map<string, number>;

/** Of each table with its indexes. */
function ofTables(path: string, before = ''): Bytes {
  const db = new Database(path, { readonly: true });
  const rows = db
    .prepare(
      `select s.tbl_name as name, sum(d.pgsize) as bytes from dbstat d join sqlite_schema s on s.name = d.name
       where d.aggregate = 1 group by s.tbl_name`,
    )
    .all() as { name: string; bytes: number }[];
  db.close();
  return new Map(rows.map((r) => [before + r.name, r.bytes]));
}

/** What a file is by its first bytes. */
function kindOf(path: string): string {
  const handle = openSync(path, 'r');
  const begin = Buffer.alloc(4);
  readSync(handle, begin, 0, 4, 0);
  closeSync(handle);
  if (begin.toString('latin1') === '%PDF') return 'files: PDFs';
  return begin[0] === 0x89 ? 'files: pictures in mails' : 'files: figures and pages as they were drawn';
}

function ofFiles(folder: string): Bytes {
  const found: Bytes = new Map();
  for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
    const path = join(folder, name);
    const stat = statSync(path);
    if (!stat.isFile()) continue;
    const kind = kindOf(path);
    found.set(kind, (found.get(kind) ?? 0) + stat.size);
  }
  return found;
}

const fixture = await openTestFixture();
const { data } = fixture.config;
const f = await furnish(fixture);
const readers = [{ contact: f.contact }];
for (let n = 1; n < READERS; n++) {
  const { body } = await fixture.owner.ask('POST /api/clients/:client/contacts', {
    params: { client: f.client },
    body: { firstName: 'Ottilie', lastName: `Lund ${n}`, email: `reader${n}@tarnbeck.example` },
  });
  readers.push({ contact: body.id });
}
await fixture.owner.ask('POST /api/clients/:client/schedules', {
  params: { client: f.client },
  body: scheduleFor(f, {
    rule: { freq: 'weekly', every: 1, weekdays: [2] },
    period: { kind: 'unit', unit: 'week', offset: -1 },
    readers,
  }),
});

const measure = (): Bytes =>
  new Map([
    ...ofTables(join(data, 'chronicon.db')),
    ...ofTables(join(data, 'facts.db'), 'facts: '),
    ...ofFiles(join(data, 'files')),
  ]);
const sent = async (): Promise<number> => {
  const count = fixture.server.store.selectFrom('edition').select((q) => q.fn.countAll<number>().as('n'));
  return (await count.where('state', '=', 'sent').executeTakeFirstOrThrow()).n;
};
/** A week: its data, its mails, and the hours in which files that nothing points to are swept. */
async function passWeek(week: number): Promise<void> {
  const tuesday = addDays(FIRST, week * 7 + 1);
  for (const time of ['05:10', '08:01', '23:00']) await fixture.moveTo(`${tuesday}T${time}:00Z`);
}

await passWeek(0);
const [before, none] = [measure(), await sent()];
for (let week = 1; week <= WEEKS; week++) await passWeek(week);
const editions = (await sent()) - none;
const grown = [...measure()]
  .map(([name, bytes]): [string, number] => [name, (bytes - (before.get(name) ?? 0)) / editions / 1024])
  .sort((a, b) => b[1] - a[1]);
await fixture.close();

const large = grown.filter(([, kB]) => kB >= SMALL);
const rest = grown.filter(([, kB]) => kB < SMALL).reduce((sum, [, kB]) => sum + kB, 0);
const whole = grown.reduce((sum, [, kB]) => sum + kB, 0);
console.log(`${editions} editions to ${READERS} readers each, with a feed read every day\n`);
console.log('| Where | kB for each edition |\n| --- | ---: |');
for (const [name, kB] of [...large, ['the rest', rest], ['all', whole]] as [string, number][])
  console.log(`| ${name} | ${kB.toFixed(1)} |`);
const yearly = (each: number) => `${((each * whole) / 1024 / 1024).toFixed(1)} GB`;
console.log(`\nA year of 1,000 clients: ${yearly(12_000)} with monthly reports, ${yearly(52_000)} with weekly ones.`);
