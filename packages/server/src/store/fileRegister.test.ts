import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { FRESH_MAIL } from '@chronicon/core/report';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing } from '../test/editing.ts';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { FILE_REGISTER, hashesIn, namedFiles } from './fileRegister.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const png = (background: string) =>
  sharp({ create: { width: 8, height: 8, channels: 3, background } })
    .png()
    .toBuffer();
const put = async (path: string, body: Uint8Array) => {
  const answer = await fixture.owner.raw(path, { method: 'PUT', body: new Uint8Array(body) });
  expect(answer.status, await answer.clone().text()).toBe(200);
  return (await answer.json()) as never;
};
const onDisk = (): string[] => {
  const root = join(fixture.config.data, 'files');
  return readdirSync(root)
    .flatMap((part) => readdirSync(join(root, part)))
    .filter((name) => /^[0-9a-f]{64}$/.test(name))
    .sort();
};

/** A file of each kind that anybody can bring, or that is drawn. */
async function everyKind(): Promise<void> {
  const params = { client: f.client };
  await put(`/api/clients/${f.client}/logo`, await png('#224466'));
  await put('/api/agency/logo', await png('#446622'));
  const picture = await put(`/api/clients/${f.client}/pictures`, await png('#662244'));
  const file = await put(`/api/clients/${f.client}/mail-files?name=Prices.pdf`, Buffer.from('%PDF-1.4 prices'));
  const report = editing(fixture, f);
  const [page] = (await report.load()).document.pages;
  const block = { kind: 'picture', id: 'shot', alt: '', caption: '', picture } as never;
  await report.edit({ op: 'addRow', page: page!.id, row: { id: 'shots', blocks: [block] }, after: null });
  const { version } = await report.load();
  await fixture.owner.ask('POST /api/reports/:report/release', { params: { report: f.report }, body: { version } });
  const mail = { ...FRESH_MAIL, files: [file] };
  const made = await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params,
    body: scheduleFor(f, { mail }),
  });
  expect(made.status, JSON.stringify(made.body)).toBe(200);
  await fixture.moveTo('2026-11-03T05:10:00Z');
  await fixture.moveTo('2026-11-03T08:00:30Z');
}

describe('the register of files', () => {
  it('knows of every file on the disk which rows name it, and names none that is not there', async () => {
    await everyKind();
    const named = await namedFiles(fixture.server.store);
    const files = onDisk();
    expect(files.filter((hash) => !named.has(hash))).toEqual([]);
    expect([...named.keys()].filter((hash) => !files.includes(hash))).toEqual([]);
    const tables = new Set([...named.values()].flatMap((t) => [...t]));
    for (const table of ['edition', 'edition_picture', 'picture', 'mail_file', 'client', 'agency', 'report', 'message'])
      expect(tables).toContain(table);
  });

  it('lists every column that holds the hash of a file, and each file in an “owned” column has an owner', async () => {
    await everyKind();
    const { store } = fixture.server;
    const files = new Set(onDisk());
    const listed = new Set(FILE_REGISTER.map((n) => `${n.table}.${n.column}`));
    const found = new Map<string, Set<string>>();
    for (const { name, columns } of await store.introspection.getTables()) {
      const rows = (await store
        .selectFrom(name as 'edition')
        .selectAll()
        .execute()) as Record<string, unknown>[];
      for (const { name: column } of columns)
        for (const value of rows.flatMap((r) => (typeof r[column] === 'string' ? [r[column] as string] : [])))
          for (const hash of [...hashesIn(value), ...(files.has(value) ? [value] : [])])
            if (files.has(hash))
              found.set(`${name}.${column}`, (found.get(`${name}.${column}`) ?? new Set<string>()).add(hash));
    }
    expect([...found.keys()].filter((column) => !listed.has(column))).toEqual([]);
    const of = (as: string[]) =>
      new Set(
        FILE_REGISTER.filter((n) => as.includes(n.as)).flatMap((n) => [...(found.get(`${n.table}.${n.column}`) ?? [])]),
      );
    const owners = of(['hash', 'document']);
    expect(of(['owned']).size).toBeGreaterThan(1);
    expect([...of(['owned'])].filter((hash) => !owners.has(hash))).toEqual([]);
  });
});
