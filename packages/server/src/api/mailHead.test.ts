import { rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

/** A photograph that is larger than any mail. */
const photograph = () =>
  sharp({ create: { width: 2_400, height: 600, channels: 3, background: '#3a6ea5' } })
    .png()
    .toBuffer();

async function bring(): Promise<string> {
  const route = `/api/clients/${f.client}/logo?as=mailHead`;
  const reply = await fixture.owner.raw(route, { method: 'PUT', body: await photograph() });
  const { brand } = (await reply.json()) as { brand: { mailHead: { file: string } } };
  return brand.mailHead.file;
}
const look = () =>
  fixture.owner.ask('PUT /api/clients/:client/brand', {
    params: { client: f.client },
    body: { main: '#2f6b3a', second: '#b8862d', footer: '', mailLook: 'sheet', follows: [] },
  });
const schedule = () =>
  fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: scheduleFor(f) });
const onlyMail = async () => (await fixture.simulators.mails.read(fixture.simulators.mails.list()[0]!.id))!.parsed;

describe('the picture at the head of a mail', () => {
  it('goes with it, as wide as mails are, beside the report', async () => {
    const file = await bring();
    await look();
    await schedule();
    await fixture.moveTo(DRAWN);
    await fixture.moveTo(SENT);
    const mail = await onlyMail();
    // The reader of mails puts the picture in its place: it was named there, and is there.
    expect(mail.html).toContain('<img src="data:image/jpeg;base64,');
    expect(mail.html).toContain('Tarnbeck Pottery</td>');
    const [head, report] = mail.attachments;
    expect(head).toMatchObject({ contentType: 'image/jpeg', cid: `${file}@mail`, related: true });
    expect(await sharp(head!.content).metadata()).toMatchObject({ format: 'jpeg', width: 1_120, height: 280 });
    expect(report!.contentType).toBe('application/pdf');
  });

  it('that is lost from the disk holds the mail, says so, and lets it go once it is back', async () => {
    const file = await bring();
    await look();
    await schedule();
    await fixture.moveTo(DRAWN);
    rmSync(join(fixture.config.data, 'files', file.slice(0, 2), file));
    await fixture.moveTo(SENT);
    expect(fixture.simulators.mails.list()).toEqual([]);
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition).toMatchObject({
      state: 'held',
      reason: expect.stringContaining(
        'A picture of its email is missing or damaged. Restore the data folder’s files from backup, or upload the picture again under Brand, then try again.',
      ),
    });
    expect(await bring()).toBe(file);
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: edition!.id } });
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.mails.list()).toHaveLength(1);
    expect((await onlyMail()).attachments).toHaveLength(2);
  });

  it('is a picture: no drawing, and nothing else', async () => {
    const route = `/api/clients/${f.client}/logo?as=mailHead`;
    const drawing = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2 2"><path d="M0 0h2v2z"/></svg>',
    );
    const reply = await fixture.owner.raw(route, { method: 'PUT', body: drawing });
    expect(reply.status).toBe(422);
    expect(((await reply.json()) as { fields: { logo: string } }).fields.logo).toContain('PNG or JPEG');
  });
});
