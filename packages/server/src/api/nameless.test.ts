import { unzipSync } from 'node:zlib';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { archiveOf } from '../test/archive.ts';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

/** The bytes of a PDF with its compressed streams laid open. */
function laidOpen(pdf: Buffer): string {
  const parts = [pdf.toString('latin1')];
  for (let at = pdf.indexOf('stream\n'); at >= 0; at = pdf.indexOf('stream\n', at + 7)) {
    const end = pdf.indexOf('endstream', at);
    if (end < 0) break;
    try {
      parts.push(unzipSync(pdf.subarray(at + 7, end)).toString('latin1'));
    } catch {
      // Not a compressed one.
    }
  }
  return parts.join('\n');
}

const NAMES = /chronicon|pdfkit|yazl|nodemailer/i;

it('nothing that a client gets names what made it: the agency stands there', async () => {
  await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f),
  });
  await fixture.moveTo('2026-11-03T08:00:30Z');
  const [mail] = fixture.simulators.mails.list();
  const found = await fixture.simulators.mails.read(mail!.id);
  const pdf = found!.parsed.attachments[0]!.content;
  expect(laidOpen(pdf)).not.toMatch(NAMES);
  const { info } = await (await getDocument({ data: new Uint8Array(pdf) }).promise).getMetadata();
  expect(info).toMatchObject({ Producer: 'Fernglass Media', Creator: 'Fernglass Media', Author: 'Fernglass Media' });
  const headers = found!.parsed.headerLines.map((h) => h.line).join('\n');
  expect(headers + found!.parsed.html + found!.parsed.text).not.toMatch(NAMES);
  const query = new URLSearchParams({ as: 'xlsx', metrics: 'visits', period: 'month.-1' });
  const book = await fixture.owner.raw(`/api/clients/${f.client}/figures/table?${query}`);
  const files = await archiveOf(Buffer.from(await book.arrayBuffer()));
  expect([...files.values()].join('\n')).not.toMatch(NAMES);
  expect(files.get('docProps/core.xml')).toContain('<dc:creator>Fernglass Media</dc:creator>');
});
