import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { DEMO_TOKEN } from '@chronicon/simulators';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { knownPictures, pictureTroubles } from '../store/itemPictures.ts';
import { editing, OCTOBER, pageOf } from '../test/editing.ts';
import { CLIENT, type Furnished, furnish, openTestFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { fetchPictures, picturesAt } from '../workers/itemPictures.ts';

const SOCIAL = 'so-4502';
const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

let fixture: TestFixture;
let f: Furnished;
let report: ReturnType<typeof editing>;

/** A client whose report is its posts that stand out. */
beforeEach(async () => {
  fixture = await openTestFixture();
  f = await furnish(fixture, false);
  await fixture.owner.ask('POST /api/clients/:client/feeds', {
    params: { client: f.client },
    body: { kind: 'social', account: SOCIAL, token: DEMO_TOKEN },
  });
  await fixture.server.scheduler.settle();
  report = editing(fixture, f);
  const { document } = await report.load();
  const block = {
    kind: 'standouts',
    id: 'best',
    metric: 'postEngagements',
    dimension: 'post',
    ends: 'best',
    n: 3,
    title: '',
  };
  await report.edit(pageOf('posts', block));
  for (const { id } of document.pages) await report.edit({ op: 'removePage', page: id });
  await report.release();
});
afterEach(() => fixture.close());

const params = () => ({ report: f.report });
const preview = async () =>
  (await fixture.owner.ask('POST /api/reports/:report/preview', { params: params(), body: { look: OCTOBER } })).body;
const count = async () =>
  (await fixture.owner.ask('POST /api/reports/:report/count', { params: params(), body: { look: OCTOBER } })).body
    .asked;
type Pages = Awaited<ReturnType<typeof preview>>['pages'];
const imagesOn = (pages: Pages) =>
  pages.flatMap((p) => p.page!.ops.flatMap((op) => (op.k === 'image' ? [op as { file: string; alt: string }] : [])));

/** How many pictures are painted in the PDF of the only mail. */
async function picturesMailed(): Promise<number> {
  const mail = await fixture.simulators.mails.read(fixture.simulators.mails.list()[0]!.id);
  const pdf = await getDocument({ data: new Uint8Array(mail!.parsed.attachments[0]!.content) }).promise;
  let n = 0;
  for (let i = 1; i <= pdf.numPages; i++) {
    const { fnArray } = await (await pdf.getPage(i)).getOperatorList();
    n += fnArray.filter((op) => op === OPS.paintImageXObject).length;
  }
  return n;
}
const send = async () => {
  const made = await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, { message: 'Hello {{contact.firstName}}.' }),
  });
  expect(made.fields).toEqual({});
  await fixture.moveTo(DRAWN);
  await fixture.moveTo(SENT);
};

describe('pictures of posts', () => {
  it('are fetched beside the page that is edited, once, and stand on it', async () => {
    const first = await preview();
    expect(imagesOn(first.pages)).toEqual([]);
    expect(first.uncounted).toBe(true);
    expect(await count()).toBeGreaterThanOrEqual(3);
    const second = await preview();
    expect(second.uncounted).toBe(false);
    const images = imagesOn(second.pages);
    expect(images).toHaveLength(3);
    expect(images[0]!.alt).toMatch(/^Picture: .*2026/);
    fixture.simulators.faults.set(SOCIAL, 'down');
    expect(await count()).toBe(0);
    expect(imagesOn((await preview()).pages)).toHaveLength(3);
    const { file } = images[0]!;
    const route = (client: string) => fixture.owner.raw(`/api/clients/${client}/pictures/${file}`);
    const shown = await route(f.client);
    expect(shown.headers.get('content-type')).toBe('image/jpeg');
    expect(await sharp(Buffer.from(await shown.arrayBuffer())).metadata()).toMatchObject({ width: 240, height: 240 });
    const other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Hollin Dairy' } })).body.id;
    expect((await route(other)).status).toBe(404);
  });

  it('are in the edition that is sent, whoever looked at it before', async () => {
    await send();
    expect(await picturesMailed()).toBe(3);
  });

  it('that are not to be had are left blank: the report goes, and its editor is told why', async () => {
    fixture.simulators.faults.set(SOCIAL, 'down');
    await preview();
    expect(await count()).toBe(0);
    const told = await preview();
    expect(told.uncounted).toBe(false);
    expect(told.lacks.join(' ')).toContain('A picture couldn’t be loaded and is left blank. Its server answered 500.');
    fixture.simulators.faults.set(SOCIAL, 'none');
    await send();
    // By then they are looked for again.
    expect(await picturesMailed()).toBe(3);
  });

  it('hold no edition while their place has none', async () => {
    // Its figures were fetched the minute before, and are not asked for again.
    await fixture.moveTo('2026-11-03T05:00:00Z');
    fixture.simulators.faults.set(SOCIAL, 'refused');
    await fixture.server.store.updateTable('feed').set({ last_success: DRAWN }).execute();
    await send();
    expect(fixture.simulators.mails.list()).toHaveLength(1);
    expect(await picturesMailed()).toBe(0);
  });
});

describe('a place where pictures are found', () => {
  let place: Server;
  let at: string;
  const asked: string[] = [];

  beforeAll(async () => {
    const plain = { width: 900, height: 600, channels: 3 as const, background: '#5c8567' };
    const webp = await sharp({ create: plain }).webp().toBuffer();
    const gif = await sharp({ create: plain }).gif().toBuffer();
    const through = await sharp({ create: { ...plain, channels: 4, background: '#00000000' } })
      .png()
      .toBuffer();
    const wide = await sharp({ create: { ...plain, width: 13_000, height: 2 } })
      .png()
      .toBuffer();
    const answers: Record<string, [number, Buffer | string]> = {
      '/a.webp': [200, webp],
      '/a.gif': [200, gif],
      '/through.png': [200, through],
      '/wide.png': [200, wide],
      '/cut.webp': [200, webp.subarray(0, 60)],
      '/words.html': [200, '<html>Sign in to see this picture</html>'],
      '/drawing.svg': [200, '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"><path d="M0 0L4 4"/></svg>'],
      '/large.jpg': [200, Buffer.alloc(5 * 1024 * 1024 + 1, 0xff)],
      '/gone.jpg': [404, ''],
    };
    place = createServer((req, res) => {
      asked.push(req.url!);
      if (req.url === '/away.jpg') {
        res.writeHead(302, { location: 'http://169.254.169.254/latest.jpg' }).end();
        return;
      }
      const [status, body] = answers[req.url!] ?? [404, ''];
      res.writeHead(status).end(body);
    });
    await new Promise<void>((resolve) => place.listen(0, '127.0.0.1', resolve));
    at = `http://127.0.0.1:${(place.address() as AddressInfo).port}`;
  });
  afterAll(() => place.close());

  it('may bring them as JPEG, PNG, WebP or GIF, and as nothing else', async () => {
    const good = ['/a.webp', '/a.gif', '/through.png'].map((p) => at + p);
    const bad: [string, RegExp][] = [
      ['/wide.png', /13000 × 2 points large/],
      ['/cut.webp', /damaged/],
      ['/words.html', /damaged|no picture/],
      ['/drawing.svg', /Unsupported|damaged/],
      ['/large.jpg', /larger than 5 MB/],
      ['/gone.jpg', /answered 404/],
      ['/away.jpg', /This server isn’t allowed to fetch from/],
    ];
    const addresses = [
      ...good,
      ...bad.map(([p]) => at + p),
      'http://10.0.0.1/x.jpg',
      'file:///etc/passwd',
      'no address',
    ];
    const found = await picturesAt(fixture.server, f.client, addresses);
    expect(Object.keys(found).filter((a) => found[a] !== null)).toEqual(good);
    for (const address of good) expect(found[address]).toMatchObject({ type: 'image/jpeg', width: 240, height: 240 });
    for (const [path, why] of bad)
      expect((await pictureTroubles(fixture.server.store, f.client, [at + path])).join()).toMatch(why);
    expect(found['file:///etc/passwd']).toBeNull();
  });

  it('is asked again for what it did not have, ever more seldom, and not for what it had', async () => {
    asked.length = 0;
    const wanted = [`${at}/a.webp`, `${at}/gone.jpg`];
    const look = () => fetchPictures(fixture.server, f.client, wanted);
    expect(await look()).toBe(1);
    expect(await look()).toBe(0);
    expect(asked.sort()).toEqual(['/a.webp', '/gone.jpg']);
    await fixture.moveTo('2026-11-02T08:58:00Z');
    await look();
    expect(asked.filter((p) => p === '/gone.jpg')).toHaveLength(2);
    await fixture.moveTo('2026-11-02T09:20:00Z');
    await look();
    expect(asked.filter((p) => p === '/gone.jpg')).toHaveLength(2);
    await fixture.moveTo('2026-11-02T09:30:00Z');
    await look();
    expect(asked.filter((p) => p === '/gone.jpg')).toHaveLength(3);
    expect(asked.filter((p) => p === '/a.webp')).toHaveLength(1);
  });

  it('is known for so many pictures of a client, the newest of them', async () => {
    const { store } = fixture.server;
    const row = (i: number) => ({
      client_id: f.client,
      address: `${at}/old-${i}.jpg`,
      file: null,
      type: null,
      width: null,
      height: null,
      trouble: 'x',
      tries: 1,
      next_at: '2030-01-01T00:00:00.000Z',
      at: `2026-01-01T00:00:00.${String(i).padStart(4, '0')}Z`,
    });
    await store
      .insertInto('item_picture')
      .values(Array.from({ length: 1_000 }, (_, i) => row(i)))
      .execute();
    await store
      .insertInto('item_picture')
      .values(Array.from({ length: 1_000 }, (_, i) => row(1_000 + i)))
      .execute();
    await fetchPictures(fixture.server, f.client, [`${at}/a.gif`]);
    const addresses = [`${at}/a.gif`, `${at}/old-0.jpg`, `${at}/old-1.jpg`, `${at}/old-1999.jpg`];
    expect(Object.keys(await knownPictures(store, f.client, addresses, fixture.server.clock.now())).sort()).toEqual(
      [`${at}/a.gif`, `${at}/old-1.jpg`, `${at}/old-1999.jpg`].sort(),
    );
  });
});
