import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { bounceToken, tokenKey } from '../store/mailTokens.ts';
import {
  editionsOf,
  type Furnished,
  mailTo,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
} from '../test/harness.ts';

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';
const HOME = 'https://reports.fernglass.example';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z', {
    CHRONICON_URL: HOME,
    CHRONICON_NOTICES: 'on',
  }));
});
afterEach(() => fixture.close());

const plan = (changes: Parameters<typeof scheduleFor>[1] = {}) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, changes),
  });
async function mailOf(to = 'petra@tarnbeck.example') {
  await fixture.moveTo(DRAWN);
  await fixture.moveTo(SENT);
  const [mail] = fixture.simulators.mails.list(to);
  return (await fixture.simulators.mails.read(mail!.id))!.parsed;
}
type Parsed = Awaited<ReturnType<typeof mailOf>>;
const field = (mail: Parsed, name: string) =>
  mail.headerLines
    .find((h) => h.key === name)
    ?.line.replace(/\r?\n\s+/g, ' ')
    .replace(/^[^:]*: /, '');
const pathIn = (mail: Parsed) => new URL(/<(https:[^>]+)>/.exec(field(mail, 'list-unsubscribe')!)![1]!).pathname;
/** Without cookies, as mail programs and readers come. */
const come = (path: string, form?: Record<string, string>) =>
  fetch(fixture.server.url + path, form ? { method: 'POST', body: new URLSearchParams(form) } : {});
const contact = async () =>
  (await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body.contacts.find(
    (c) => c.id === f.contact,
  )!;
const ONE_CLICK = { 'List-Unsubscribe': 'One-Click' };

describe('a reader who unsubscribed', () => {
  it('presses once in their mail program: nothing goes any more, the manager is told, and nobody is told twice', async () => {
    await plan();
    const mail = await mailOf();
    expect(field(mail, 'list-unsubscribe-post')).toBe('List-Unsubscribe=One-Click');
    expect(field(mail, 'list-unsubscribe')).toMatch(
      /^<https:\/\/reports\.fernglass\.example\/unsubscribe\/[a-z0-9]{20}-[0-9a-f]{16}>, <mailto:[^>]+\?subject=unsubscribe>$/,
    );
    const path = pathIn(mail);
    expect((await come(path, ONE_CLICK)).status).toBe(200);
    expect((await come(path, ONE_CLICK)).status).toBe(200);
    expect((await contact()).standing).toBe('declined');
    const told = await mailTo(fixture, 'ines@fernglass.example', /unsubscribed from reports of/);
    expect(told.subject).toBe('Petra Lund unsubscribed from reports of Tarnbeck Pottery');
    expect(told.text).toContain('with one click in their email app');
    expect(
      fixture.simulators.mails.list('ines@fernglass.example').filter((m) => /unsubscribed from/.test(m.subject)),
    ).toHaveLength(1);
    const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
    expect(needs.map((n) => n.title)).toContain('Tarnbeck Pottery: Petra Lund unsubscribed');
    // The next run goes to nobody, and says so.
    await fixture.moveTo('2026-12-03T05:10:00Z');
    await fixture.moveTo('2026-12-03T08:00:30Z');
    const [next] = await editionsOf(fixture, f.client);
    expect(next).toMatchObject({ state: 'held', reason: expect.stringContaining('unsubscribed') });
    expect(fixture.simulators.mails.list('petra@tarnbeck.example')).toHaveLength(1);
  });

  it('or on a page, in their language: looking at it changes nothing, pressing does', async () => {
    await plan({ language: 'de-DE' });
    const mail = await mailOf();
    expect(mail.text).toContain(`E-Mails abbestellen: ${HOME}/unsubscribe/`);
    const path = pathIn(mail);
    const page = await come(path);
    const html = await page.text();
    expect(page.status).toBe(200);
    expect(html).toContain('<html lang="de-DE"');
    expect(html).toContain('petra@tarnbeck.example abmelden');
    expect(html).not.toContain('<script');
    expect((await contact()).standing).toBe('reads');
    expect(await (await come(path, {})).text()).toContain('Sie sind abgemeldet');
    expect((await contact()).standing).toBe('declined');
    // It is said as it is by then, with nothing left to press.
    expect(await (await come(path)).text()).not.toContain('<button');
  });

  it('has a link of nobody in a mail to many, and a page that asks for the address and tells nothing', async () => {
    const board = await fixture.owner.ask('POST /api/clients/:client/contacts', {
      params: { client: f.client },
      body: { firstName: 'Ada', lastName: '', email: 'ada@tarnbeck.example' },
    });
    await plan({ mailing: 'one', readers: [{ contact: f.contact }, { contact: board.body.id, as: 'cc' }] });
    const first = await mailOf();
    const [copy] = fixture.simulators.mails.list('ada@tarnbeck.example');
    const second = (await fixture.simulators.mails.read(copy!.id))!.parsed;
    expect(field(first, 'list-unsubscribe')).toContain(`<${HOME}/unsubscribe/all/`);
    const page = pathIn(first);
    expect(field(first, 'list-unsubscribe-post')).toBeUndefined();
    // The same bytes for everybody.
    expect(fixture.simulators.mails.list('petra@tarnbeck.example')[0]!.hashes).toEqual(
      fixture.simulators.mails.list('ada@tarnbeck.example')[0]!.hashes,
    );
    expect(second.text).toBe(first.text);
    expect(first.text).toContain(HOME + page);
    expect(await (await come(page)).text()).toContain('type="email"');
    // Who does not hold the mail stops nobody, whatever address they know.
    for (const forged of ['/unsubscribe', `/unsubscribe/all/${'a'.repeat(20)}-${'0'.repeat(16)}`]) {
      expect((await come(forged, { email: 'petra@tarnbeck.example' })).status).toBe(404);
    }
    expect((await contact()).standing).toBe('reads');
    const answers = await Promise.all(
      ['nobody@tarnbeck.example', 'petra@tarnbeck.example'].map(async (email) => {
        const reply = await come(page, { email });
        return (await reply.text()).replaceAll(email, '…');
      }),
    );
    expect(answers[0]).toBe(answers[1]);
    expect((await contact()).standing).toBe('declined');
  });

  it.each(['/unsubscribe/x', `/unsubscribe/${'a'.repeat(20)}-${'0'.repeat(16)}`, '/unsubscribe/%00'])(
    'is nobody whose link was not made here: %s',
    async (path) => {
      for (const reply of [await come(path), await come(path, ONE_CLICK)]) {
        expect(reply.status).toBe(404);
        expect(await reply.text()).toContain('invalid or has expired');
      }
    },
  );

  it('is nobody who holds the address to which the mail comes back: each token has one purpose', async () => {
    await plan();
    const mail = await mailOf();
    const { store, secrets } = fixture.server;
    const [{ id }] = (await store.selectFrom('delivery').select('id').execute()) as [{ id: string }];
    const bounce = bounceToken(await tokenKey(store, secrets), id);
    expect(pathIn(mail)).not.toContain(bounce);
    expect((await come(`/unsubscribe/${bounce}`, ONE_CLICK)).status).toBe(404);
    expect((await contact()).standing).toBe('reads');
  });

  it('has a link that ends after three years, and not before', async () => {
    await plan();
    const path = pathIn(await mailOf());
    fixture.server.clock.moveTo('2029-11-01T08:00:00Z');
    expect((await come(path)).status).toBe(200);
    fixture.server.clock.moveTo('2029-11-10T08:00:00Z');
    expect((await come(path, ONE_CLICK)).status).toBe(404);
  });

  it('may be marked as reading again, and reads the next one', async () => {
    await plan();
    await come(pathIn(await mailOf()), ONE_CLICK);
    const params = { client: f.client, contact: f.contact };
    const body = { firstName: 'Petra', lastName: 'Lund', email: 'petra@tarnbeck.example', standing: 'reads' as const };
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', { params, body });
    await fixture.moveTo('2026-12-03T05:10:00Z');
    await fixture.moveTo('2026-12-03T08:00:30Z');
    expect(fixture.simulators.mails.list('petra@tarnbeck.example')).toHaveLength(2);
  });
});
