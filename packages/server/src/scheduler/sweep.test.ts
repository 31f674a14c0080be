import { readdirSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { sweepLeftFiles } from './sweep.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const pathsOf = () => {
  const root = join(fixture.config.data, 'files');
  return readdirSync(root).flatMap((part) => readdirSync(join(root, part)).map((hash) => join(root, part, hash)));
};

it('takes away what was drawn before and is no longer any edition’s, a week later, and nothing else', async () => {
  const body = scheduleFor(f);
  await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
  await fixture.moveTo('2026-11-03T05:10:00Z');
  const before = pathsOf();
  // A correction in the morning: it is drawn anew, and what was drawn first is nobody's.
  const brand = { main: '#884400', second: '#222222', footer: 'Corrected' };
  await fixture.owner.ask('PUT /api/clients/:client/brand', { params: { client: f.client }, body: brand });
  await fixture.server.scheduler.settle();
  const left = before.length;
  expect(pathsOf().length).toBe(left + 2);
  expect(await sweepLeftFiles(fixture.server)).toBe(0);
  // A file that this database knows nothing of: what was put back may be an older copy of it.
  const strange = fixture.server.files.write(Buffer.from('%PDF-1.7 sent after the copy was made'));
  const long = new Date(Date.now() - 8 * 86_400_000);
  for (const path of pathsOf()) utimesSync(path, long, long);
  expect(await sweepLeftFiles(fixture.server)).toBe(2);
  expect(fixture.server.files.read(strange).toString()).toContain('after the copy');
  const [edition] = await fixture.server.store.selectFrom('edition').select(['id', 'pdf', 'frozen']).execute();
  expect(fixture.server.files.read(edition!.pdf!).subarray(0, 5).toString()).toBe('%PDF-');
  expect(fixture.server.files.read(edition!.frozen!).length).toBeGreaterThan(100);
  expect(await sweepLeftFiles(fixture.server)).toBe(0);
  const pdf = await fixture.owner.raw(`/api/editions/${edition!.id}/pdf`);
  expect(pdf.status).toBe(200);
});
