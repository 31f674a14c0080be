import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing, pageOf } from '../test/editing.ts';
import {
  CLIENT,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  type TestFixture,
  type Visitor,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let other: string;
let report: ReturnType<typeof editing>;

/** One pixel of red (PNG, RFC 2083). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGP4z8AAAAMBAQDJ/pLvAAAAAElFTkSuQmCC',
  'base64',
);

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  report = editing(fixture, f);
  other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Cycle Works' } })).body.id;
});
afterAll(() => fixture.close());

async function put(bytes: Buffer, client = f.client, who: Visitor = fixture.owner) {
  const response = await who.raw(`/api/clients/${client}/pictures`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream' },
    body: new Uint8Array(bytes),
  });
  const body = (await response.json()) as { file: string; fields: Record<string, string> };
  return { status: response.status, body };
}
const block = (picture: unknown) => ({ kind: 'picture', id: 'pic', picture, caption: 'The kiln', alt: 'A kiln' });

describe('a picture in a report', () => {
  it('is drawn whole on its page, read out by what it shows, and served to who sees the client', async () => {
    const { status, body: picture } = await put(PNG);
    expect(status).toBe(200);
    const field = { ...block(picture) };
    const added = await report.edit(pageOf('pictures', field));
    expect(added.fields).toEqual({});
    expect((await report.shows()).texts).toContain('The kiln');
    const served = await fixture.owner.raw(`/api/clients/${f.client}/pictures/${picture.file}`);
    expect(served.status).toBe(200);
    expect(served.headers.get('content-type')).toBe('image/png');
  });

  it('of another client is neither drawn nor served, whoever knows its name', async () => {
    const red = Buffer.from(PNG);
    const { body: theirs } = await put(Buffer.concat([red]), other);
    // The same bytes are the same file: each client has its own right to it.
    const stranger = await memberOf(fixture, 'other@fernglass.example', 'manager', [other]);
    expect((await stranger.raw(`/api/clients/${f.client}/pictures/${theirs.file}`)).status).toBe(404);
    expect((await put(PNG, f.client, stranger)).status).toBe(404);
    const unknown = { ...theirs, file: '0'.repeat(64) };
    const refused = await report.edit({ op: 'setBlock', block: 'pic', set: { picture: unknown } });
    expect(refused.status).toBe(422);
    expect(refused.fields.document).toMatch(
      /A picture of the report isn’t available for this client\. Upload it again\./,
    );
  });

  it('that is none, or too large, is refused in words', async () => {
    expect((await put(Buffer.from('not a picture'))).body.fields.picture).toBeTruthy();
    expect((await put(Buffer.concat([PNG.subarray(0, 20), Buffer.alloc(64)]))).status).toBe(422);
    expect((await put(Buffer.alloc(0))).status).toBe(422);
    expect((await put(Buffer.alloc(9_000_000, 1))).status).toBeGreaterThanOrEqual(413);
  });
});
