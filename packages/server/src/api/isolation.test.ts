import { FILE_ROUTES, type RouteName, routes } from '@chronicon/core/contract';
import { DEMO_TOKEN } from '@chronicon/simulators';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LEDGER, type LedgerKind, personalDetails } from '../store/ledgerKinds.ts';
import { addMessages, deliveriesOf, packMessages } from '../store/messages.ts';
import {
  ACCOUNT,
  CLIENT,
  type Furnished,
  memberOf,
  OWNER,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';
import { hostile, OBJECT_NAMES, seededChance, spoiled } from '../test/hostile.ts';

/** Requests that the whole table is asked with, each once with the asker's own ids and then with another client's. */
const WANTED = Number(process.env.CHRONICON_REQUESTS ?? 700);
/** Hostile requests, and the number that they are drawn from. */
const HOSTILE = Number(process.env.CHRONICON_HOSTILE ?? 1_200);
const SEED = Number(process.env.CHRONICON_SEED ?? 30);

const COUNTED = { unit: 'count', polarity: 'higher', kind: 'sum' };
const COLOUR = { width: 8, height: 8, channels: 3 as const, background: '#224466' };
const LOGO = new Uint8Array(await sharp({ create: COLOUR }).png().toBuffer());
const ownMetric = (key: string) => ({
  key,
  label: `Twice ${key}`,
  unit: 'count',
  polarity: 'higher',
  definition: '',
  formula: 'visits * 2',
});
const phones = (name: string) => ({ name, parts: [{ dimension: 'device', how: 'only', values: ['Mobile'] }] });
let made = 0;

interface Ids {
  client: string;
  contact: string;
  list: string;
  report: string;
  schedule: string;
  edition: string;
  feed: string;
  connection: string;
  note: string;
  excluded: string;
  target: string;
  segment: string;
  kept: string;
  import: string;
  /** Files that were brought for what can be done with one only once. */
  toBegin: string;
  toCancel: string;
  loaded: string;
  mapping: unknown;
  block: string;
  typed: string;
  typedMetric: string;
  ownMetric: string;
  picture: string;
  missed: string;
  missedToo: string;
  sent: string;
  delivery: string;
  fileFeed: string;
  document: unknown;
  version: number;
}

let fixture: TestFixture;
let own: Ids;
let other: Ids;
let ownF: Furnished;
const EXCLUDED = { from: '2026-10-02', to: '2026-10-02', reason: 'n', printed: false, metrics: [] };
const askers: Record<string, Visitor> = {};

/** Everything that a client may have, made through the routes themselves. */
async function idsOf(f: Furnished, account: string): Promise<Ids> {
  const { owner } = fixture;
  const params = { client: f.client };
  const { body: schedule } = await owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) });
  const list = await owner.ask('POST /api/clients/:client/lists', {
    params,
    body: { name: `List of ${account}`, contacts: [f.contact] },
  });
  const made = await owner.ask('POST /api/reports/:report/make', {
    params: { report: f.report },
    body: { contacts: [] },
  });
  const { body: note } = await owner.ask('POST /api/clients/:client/notes', {
    params,
    body: { from: '2026-10-01', to: '2026-10-01', text: `note of ${account}`, inReports: true },
  });
  const { body: excluded } = await owner.ask('POST /api/clients/:client/excluded-days', {
    params,
    body: { from: '2026-10-02', to: '2026-10-02', reason: `fault of ${account}`, printed: true, metrics: [] },
  });
  await owner.ask('POST /api/clients/:client/targets', {
    params,
    body: { metric: 'visits', span: 'month', from: '2026-10', repeats: true, value: 100 },
  });
  const [target] = (await owner.ask('GET /api/clients/:client/targets', { params })).body;
  const kept = await owner.ask('POST /api/clients/:client/segments', { params, body: phones(`Phones of ${account}`) });
  const now = (await owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body.version;
  const version = await owner.ask('POST /api/reports/:report/versions', {
    params: { report: f.report },
    body: { name: `Version of ${account}`, version: now },
  });
  const put = async (name: string) => {
    const body = `day,sold\n2026-10-01,${name.length}\n${name === 'dddd' ? '2026-10-02,many\n' : ''}`;
    const taken = await owner.raw(`/api/clients/${f.client}/imports?name=${name}.csv`, { method: 'PUT', body });
    return ((await taken.json()) as { id: string }).id;
  };
  const brought = [await put('a'), await put('bb'), await put('ccc'), await put('dddd')] as const;
  const inspected = await owner.ask('GET /api/clients/:client/imports/:import', {
    params: { ...params, import: brought[0] },
  });
  const mapping = inspected.body.inspection!.mapping;
  await owner.ask('POST /api/clients/:client/imports/:import/begin', {
    params: { ...params, import: brought[3] },
    body: { mapping, feed: null, name: 'Till', metrics: [{ key: 'sold', label: 'Sold', ...COUNTED }] },
  });
  await fixture.server.imports.idle();
  const loaded = await owner.ask('GET /api/clients/:client/imports/:import', {
    params: { ...params, import: brought[3] },
  });
  const [feed] = (await owner.ask('GET /api/clients/:client/feeds', { params })).body;
  const typed = await owner.ask('POST /api/clients/:client/typed', {
    params,
    body: { name: 'Shop', grain: 'month', metrics: [{ label: 'Walk-ins', ...COUNTED }] },
  });
  await owner.ask('POST /api/clients/:client/own-metrics', { params, body: ownMetric('kept') });
  const logo = await owner.raw(`/api/clients/${f.client}/logo`, { method: 'PUT', body: LOGO });
  const columns = await owner.ask('GET /api/clients/:client/feeds/:feed/grid', {
    params: { ...params, feed: typed.body.feed },
  });
  const missed = `ed_missed_${account}`;
  const like = await fixture.server.store
    .selectFrom('edition')
    .selectAll()
    .where('id', '=', made.body.editionId!)
    .executeTakeFirstOrThrow();
  for (const id of [missed, `${missed}_too`]) {
    const row = { ...like, id, number: null, state: 'skipped' as const, code: 'missed' as const };
    await fixture.server.store.insertInto('edition').values(row).execute();
  }
  const sent = `ed_sent_${account}`;
  const pdf = fixture.server.files.write(Buffer.from(`%PDF-1.7 ${account}`));
  const gone = { ...like, id: sent, number: null, state: 'sent' as const, pdf, frozen: null };
  await fixture.server.store.insertInto('edition').values(gone).execute();
  const person = { reader: f.contact, email: 'x@tarnbeck.example', name: 'X', line: 'to' as const };
  const message = {
    subject: 'Sent',
    html: '<p>Sent</p>',
    text: 'Sent',
    fileName: 'Sent.pdf',
    files: [],
    home: '',
    to: [person],
  };
  const ids = { messageId: `${sent}@fernglass.example`, resend: 0, contactId: f.contact };
  await addMessages(
    fixture.server.store,
    sent,
    await packMessages([{ ...ids, ...message, pictures: [] }]),
    like.created_at,
  );
  const { id: delivery } = (await deliveriesOf(fixture.server.store, [sent]))[0]!;
  await fixture.server.store.updateTable('delivery').set({ state: 'accepted' }).where('id', '=', delivery).execute();
  const report = (await owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
  const block = report.document.pages[0]!.rows.flatMap((r) => r.blocks).find((b) => b.kind === 'commentary')!.id;
  return {
    client: f.client,
    contact: f.contact,
    list: list.body.id,
    report: f.report,
    schedule: schedule.id,
    edition: made.body.editionId,
    feed: feed!.id,
    connection: feed!.connection!,
    note: note.id,
    excluded: excluded.id,
    target: target!.id,
    segment: kept.body.id,
    kept: version.body.id,
    import: brought[0],
    toBegin: brought[1],
    toCancel: brought[2],
    loaded: brought[3],
    mapping,
    block,
    typed: typed.body.feed,
    typedMetric: columns.body.columns[0]!.metric,
    ownMetric: 'kept',
    picture: ((await logo.json()) as { brand: { logo: { file: string } } }).brand.logo.file,
    missed,
    missedToo: `${missed}_too`,
    sent,
    delivery,
    fileFeed: loaded.body.feed!,
    document: report.document,
    version: report.version,
  };
}

beforeAll(async () => {
  ({ fixture, f: ownF } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
  own = await idsOf(ownF, 'own');
  const days = [{ date: '2026-12-25', name: 'Lantern night' }];
  const kept = (await fixture.owner.ask('POST /api/calendars', { body: { name: 'Harbour', days } })).body.id;
  const second = (
    await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Other', calendar: kept } })
  ).body.id;
  const params = { client: second };
  const person = { firstName: 'Secret', lastName: 'Reader', email: 'secret@quillon.example' };
  const contact = (await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body: person })).body.id;
  const report = (
    await fixture.owner.ask('POST /api/clients/:client/reports', {
      params,
      body: { title: 'Secret overview', starter: 'shop' },
    })
  ).body;
  await fixture.owner.ask('POST /api/reports/:report/release', {
    params: { report: report.id },
    body: { version: report.version },
  });
  await fixture.owner.ask('POST /api/clients/:client/feeds', {
    params,
    body: { kind: 'web-analytics', account: 'wa-2502', token: DEMO_TOKEN },
  });
  await fixture.server.scheduler.settle();
  other = await idsOf({ client: second, contact, report: report.id }, 'other');
  // A manager, an analyst and a reviewer who see the first client alone.
  for (const role of ['manager', 'analyst', 'reviewer'] as const) {
    askers[role] = await memberOf(fixture, `${role}.own@fernglass.example`, role, [own.client]);
  }
});
afterAll(() => fixture.close());

/** A body that a route takes for ids of one client; routes that are left out take none. */
function bodyOf(route: string, ids: Ids, f: Furnished): unknown {
  const look = { kind: 'run', schedule: ids.schedule, nominal: '2026-11-03' };
  const bodies: Record<string, unknown> = {
    'POST /api/clients': { ...CLIENT, name: `Client ${made++}` },
    'POST /api/connections': { kind: 'web-analytics', token: DEMO_TOKEN },
    'POST /api/clients/:client/feeds': { kind: 'calls', account: 'ca-3310', token: DEMO_TOKEN },
    'PUT /api/clients/:client/feeds/:feed/token': { token: DEMO_TOKEN },
    'PUT /api/clients/:client/feeds/:feed/past': { before: 'began', continues: null, after: 'unread' },
    'PUT /api/clients/:client/imports/:import/description': {
      fields: [
        { name: 'day', type: 'date' },
        { name: 'sold', type: 'integer' },
      ],
    },
    'POST /api/clients/:client/imports/:import/look': { encoding: 'utf-8', separator: ',', sheet: null },
    'POST /api/clients/:client/imports/:import/preview': { mapping: ids.mapping },
    'POST /api/clients/:client/imports/:import/begin': {
      mapping: ids.mapping,
      feed: ids.fileFeed,
      name: 'Till',
      metrics: [{ key: 'sold', label: 'Sold', ...COUNTED }],
    },
    'POST /api/clients/:client/typed': {
      name: `Typed ${made}`,
      grain: 'month',
      metrics: [{ label: `M ${made++}`, ...COUNTED }],
    },
    'PUT /api/clients/:client/feeds/:feed/grid': {
      cells: [{ start: '2026-09-01', metric: ids.typedMetric, value: 3 }],
    },
    'POST /api/clients/:client/own-metrics': ownMetric(`own${made++}`),
    'PUT /api/clients/:client/own-metrics/:metric': { ...ownMetric(''), key: undefined },
    'POST /api/clients/:client/targets': {
      metric: 'visits',
      span: 'month',
      from: `2027-${String((made++ % 12) + 1).padStart(2, '0')}`,
      repeats: false,
      value: 100,
    },
    'POST /api/clients/:client/segments': phones(`Phones ${made++}`),
    'PUT /api/clients/:client/segments/:segment': phones('Phones of own'),
    'PUT /api/clients/:client/names': { dimension: 'channel', label: 'Email', name: 'Letters' },
    'PUT /api/reports/:report/here': { window: 'w1', block: null, version: ids.version },
    'POST /api/reports/:report/clone': { clients: [ids.client] },
    'POST /api/templates': { name: `Template ${made++}`, about: '', report: ids.report },
    'POST /api/clients/:client/needs': { report: ids.report },
    'PUT /api/reports/:report/versions/:kept': { name: 'Kept' },
    'PUT /api/reports/:report': { title: 'Monthly overview', document: ids.document, version: ids.version },
    'POST /api/reports/:report/edits': { version: ids.version, edits: [{ op: 'title', title: 'Monthly overview' }] },
    'PUT /api/clients/:client': { ...CLIENT, name: 'Kept' },
    'PUT /api/clients/:client/tags': { tags: ['North'] },
    'PUT /api/clients/:client/inactive': { inactive: false },
    'POST /api/clients/:client/duplicate': { name: `Copy ${made++}` },
    'POST /api/clients/:client/contacts/many': { text: 'Petra Lund <petra@tarnbeck.example>' },
    'POST /api/clients/import': { text: 'client,tags\nQuillon Other,x' },
    'POST /api/calendars': { name: `Calendar ${made}`, days: [] },
    'POST /api/delegations': { from: 'me_x', to: 'me_x', clients: [ids.client], through: null },
    'PUT /api/clients/:client/brand': { main: '#123456', second: '#654321', footer: '' },
    'POST /api/clients/:client/contacts': {
      firstName: 'New',
      lastName: '',
      email: `n${Math.random()}@x.example`,
      outside: 'address',
    },
    'POST /api/clients/:client/lists': { name: `List ${made++}`, contacts: [ids.contact] },
    'PUT /api/clients/:client/lists/:list': { name: 'A list', contacts: [ids.contact] },
    'POST /api/clients/:client/groups': { by: 'channel', text: 'value,email\nEmail,petra@tarnbeck.example' },
    'POST /api/schedules/:schedule/effects': {
      ...scheduleFor(f),
      reportId: ids.report,
      readers: [{ contact: ids.contact }],
    },
    'PUT /api/schedules/:schedule/runs/:nominal': { skipped: true },
    'POST /api/schedules/:schedule/series': {
      tag: 'North',
      clients: [{ client: ids.client, readers: [{ contact: ids.contact }] }],
    },
    'POST /api/schedules/many': { schedules: [ids.schedule], act: { do: 'pause', resumesOn: null } },
    'PUT /api/clients/:client/contacts/:contact': {
      firstName: 'Petra',
      lastName: 'L',
      email: 'petra@tarnbeck.example',
    },
    'POST /api/clients/:client/reports': { title: 'Again', report: ids.report },
    'POST /api/reports/:report/preview': { look },
    'POST /api/reports/:report/test': { look },
    'POST /api/reports/:report/make': { contacts: [ids.contact], look },
    'PUT /api/reports/:report/commentary': { block: ids.block, from: '2026-10-01', to: '2026-10-31', text: 'x' },
    'POST /api/reports/:report/release': { version: ids.version + 1 },
    'POST /api/clients/:client/schedules': {
      ...scheduleFor(f),
      reportId: ids.report,
      readers: [{ contact: ids.contact }],
    },
    'POST /api/clients/:client/schedules/filter-gaps': { ...scheduleFor(f), reportId: ids.report },
    'PUT /api/clients/:client/schedule-draft': { input: { time: '07:00' } },
    'POST /api/clients/:client/schedules/look-ahead': { ...scheduleFor(f), schedule: ids.schedule },
    'PUT /api/schedules/:schedule': { ...scheduleFor(f), reportId: ids.report, readers: [{ contact: ids.contact }] },
    'PUT /api/schedules/:schedule/active': { active: true },
    'POST /api/clients/:client/schedules/mail': {
      ...scheduleFor(f),
      reportId: ids.report,
      readers: [{ contact: ids.contact }],
    },
    'POST /api/editions/:edition/resend': { readers: [ids.contact] },
    'PUT /api/editions/:edition/note': { note: 'A note' },
    'POST /api/editions/:edition/send': { hash: 'x' },
    'POST /api/editions/take-up': { editions: [ids.missed] },
    'POST /api/editions/put-away': { editions: [ids.missedToo] },
    'PUT /api/clients/:client/metrics/:metric': { label: 'Callers', polarity: 'higher', reads: {} },
    'POST /api/clients/:client/own-metrics/try': { key: 'x', unit: 'count', formula: 'visits' },
    'POST /api/clients/:client/notes': { from: '2026-10-02', to: '2026-10-02', text: 'n', inReports: false },
    'POST /api/clients/:client/excluded-days': EXCLUDED,
    'PUT /api/clients/:client/excluded-days/:excluded': EXCLUDED,
    'PUT /api/clients/:client/notes/:note': { from: '2026-10-02', to: '2026-10-02', text: 'n', inReports: false },
    'PUT /api/clients/:client/targets/:target': {
      metric: 'visits',
      span: 'month',
      from: '2026-10',
      repeats: true,
      value: 9,
    },
    'POST /api/connections/:connection/check': { links: [{ account: ACCOUNT, client: ids.client }] },
    'POST /api/connections/:connection/feeds': { links: [{ account: ACCOUNT, client: ids.client, confirmed: true }] },
    'POST /api/connections/begin': {
      kind: 'web-analytics',
      back: `${fixture.server.url}/connect/back`,
      connection: ids.connection,
    },
  };
  return bodies[route] ?? {};
}

const QUERIES: Record<string, (ids: Ids) => Record<string, string>> = {
  'GET /api/clients/:client/figures': () => ({ metrics: 'visits', period: 'month.-1' }),
  'GET /api/clients/:client/figures/explain': () => ({ metric: 'visits', from: '2026-10-01', to: '2026-10-31' }),
  'GET /api/clients/:client/figures/rows': () => ({ metric: 'visits', from: '2026-10-01', to: '2026-10-31' }),
  'GET /api/clients/:client/figures/rhythm': () => ({ metric: 'visits', from: '2026-10-01', to: '2026-10-31' }),
  'GET /api/clients/:client/figures/why': () => ({
    metric: 'visits',
    by: 'channel',
    period: 'month.-1',
    compare: 'previous',
  }),
  'GET /api/clients/:client/figures/table': () => ({ as: 'csv', metrics: 'visits', period: 'month.-1' }),
  'GET /api/clients/:client/labels': () => ({ dimension: 'channel' }),
  'GET /api/desk': (ids) => ({ client: ids.client }),
  'GET /api/almanac': (ids) => ({ client: ids.client }),
  'GET /api/schedules': (ids) => ({ client: ids.client }),
  'GET /api/who-gets-what': (ids) => ({ client: ids.client }),
  'GET /api/look-ahead': (ids) => ({ client: ids.client, from: '2026-11-02', to: '2026-12-31' }),
  'GET /api/look-ahead/table': (ids) => ({ client: ids.client, from: '2026-11-02', to: '2026-12-31' }),
  'GET /api/editions': (ids) => ({ client: ids.client }),
  'PUT /api/clients/:client/mail-files': () => ({ name: 'Prices.pdf' }),
};

/** Routes that end what the others are asked about (doorsOnce.test.ts), or that are about nobody's client. */
const APART = new Set([
  'POST /api/session',
  'DELETE /api/session',
  'PUT /api/session/password',
  'POST /api/first',
  'DELETE /api/sessions',
  'DELETE /api/sessions/:session',
  'POST /api/demo/clock',
  'DELETE /api/clients/:client/contacts/:contact',
  'DELETE /api/clients/:client/lists/:list',
  'DELETE /api/clients/:client/feeds/:feed',
  'DELETE /api/schedules/:schedule',
  'DELETE /api/reports/:report',
  'DELETE /api/clients/:client/imports/:import',
  'DELETE /api/clients/:client/notes/:note',
  'DELETE /api/clients/:client/excluded-days/:excluded',
  'DELETE /api/clients/:client/targets/:target',
  'DELETE /api/clients/:client/segments/:segment',
  'POST /api/reports/:report/versions',
  'POST /api/reports/:report/versions/:kept/restore',
  // Typefaces are the agency’s, and name no client (typefaces.test.ts).
  'PUT /api/agency/logo',
  'GET /api/agency/pictures/:file',
  'PUT /api/typefaces',
  'GET /api/typefaces/:file',
  'DELETE /api/typefaces/:typeface',
  // Templates are the agency’s; what they say of reports is tried with them (templates.test.ts).
  'GET /api/templates/:template',
  'PUT /api/templates/:template',
  'DELETE /api/templates/:template',
  'POST /api/templates/:template/take',
  'GET /api/templates/:template/following',
  'POST /api/templates/:template/follow',
  'PUT /api/sending',
  'PUT /api/sending/odd-days',
  'POST /api/sending/go',
  'PUT /api/drop/:key/:name',
  // A member’s own calendar, whose secret is all that is asked for (planning.test.ts).
  'GET /api/calendar/:key',
  // One's own sign-in, links of mails, calendars of places: no client is named in them.
  'PUT /api/me',
  'POST /api/session/factor',
  'POST /api/session/factor/begin',
  'POST /api/session/factor/codes',
  'DELETE /api/session/factor',
  'POST /api/reset',
  'POST /api/links/look',
  'POST /api/links/use',
  'PUT /api/calendars/:calendar',
  'DELETE /api/calendars/:calendar',
  'POST /api/calendars/read',
  'DELETE /api/delegations/:delegation',
]);

/** Routes that are an owner's alone: nobody is kept from a client there. */
const ownersAlone = (name: string): boolean => {
  if ((FILE_ROUTES as Record<string, string>)[name] === 'owners') return true;
  const { roles } = (routes as Record<string, { roles: readonly string[] | 'open' }>)[name] ?? { roles: [] };
  return roles.length === 1 && roles[0] === 'owner';
};

/** Routes that open in one state alone, or once: doorsOnce.test.ts opens each; here they are tried from outside. */
const NEEDS_MORE = [
  'POST /api/connections/begin',
  'POST /api/connections/finish',
  'POST /api/clients/:client/feeds',
  'POST /api/clients/:client/feeds/:feed/confirm',
  'POST /api/clients/:client/feeds/:feed/reconnect',
  'POST /api/clients/:client/imports/:import/aside',
  'POST /api/clients/:client/imports/:import/cancel',
  'POST /api/clients/:client/imports/:import/undo',
  'POST /api/editions/:edition/send',
  'POST /api/editions/:edition/retry',
  'POST /api/editions/:edition/take-back',
  'POST /api/schedules/many/:act/undo',
  'POST /api/delegations',
];

/** Routes that draw or mail: their own side is asked once by each, the swapped side as often as any. */
const HEAVY = /\/(preview|test|make|pdf|sync|figures.*|review|release)$/;

/** What stands in a path where the route is about something else than its name says. */
const PLACES: Record<string, (ids: Ids) => Record<string, string>> = {
  'GET /api/clients/:client/feeds/:feed/grid': (ids) => ({ feed: ids.typed }),
  'PUT /api/clients/:client/feeds/:feed/grid': (ids) => ({ feed: ids.typed }),
  'POST /api/clients/:client/feeds/:feed/drop-key': (ids) => ({ feed: ids.fileFeed }),
  'POST /api/clients/:client/imports/:import/begin': (ids) => ({ import: ids.toBegin }),
  'POST /api/clients/:client/imports/:import/aside': (ids) => ({ import: ids.loaded }),
  'POST /api/clients/:client/imports/:import/cancel': (ids) => ({ import: ids.toCancel }),
  'POST /api/clients/:client/imports/:import/undo': (ids) => ({ import: ids.loaded }),
  'GET /api/clients/:client/imports/:import/rejects': (ids) => ({ import: ids.loaded }),
  'PUT /api/clients/:client/own-metrics/:metric': (ids) => ({ metric: ids.ownMetric }),
  'DELETE /api/clients/:client/own-metrics/:metric': (ids) => ({ metric: ids.ownMetric }),
  'GET /api/clients/:client/pictures/:file': (ids) => ({ file: ids.picture }),
  'GET /api/editions/:edition/mails/:reader': (ids) => ({ edition: ids.sent, reader: ids.contact }),
  'POST /api/editions/:edition/resend': (ids) => ({ edition: ids.sent }),
  'PUT /api/schedules/:schedule/runs/:nominal': () => ({ nominal: '2027-02-03' }),
};

const pathOf = (name: string, ids: Ids) => {
  const places = { ...ids, ...PLACES[name]?.(ids) } as unknown as Record<string, string>;
  return name.split(' ')[1]!.replace(/:(\w+)/g, (_, key: string) => places[key] ?? 'visits');
};

/** What of the other client must never be told. */
const secrets = () => [
  'Secret overview',
  'secret@quillon.example',
  'Quillon Other',
  'note of other',
  'List of other',
  other.edition,
  other.schedule,
  other.contact,
  other.report,
  other.feed,
];

async function everythingOf(client: string): Promise<string> {
  const { store } = fixture.server;
  const parts = await Promise.all([
    store.selectFrom('client').selectAll().where('id', '=', client).execute(),
    store.selectFrom('contact').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('report').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('commentary').selectAll().where('report_id', '=', other.report).execute(),
    store.selectFrom('schedule').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('reader_list').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('edition').select(['id', 'state', 'order_sheet']).where('client_id', '=', client).execute(),
    store.selectFrom('day_note').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('excluded_day').selectAll().where('client_id', '=', client).execute(),
    store.selectFrom('target').selectAll().where('client_id', '=', client).execute(),
    store
      .selectFrom('feed')
      .select(['id', 'account', 'state', 'connection_id'])
      .where('client_id', '=', client)
      .execute(),
    store.selectFrom('file_import').select(['id', 'state']).where('client_id', '=', client).execute(),
  ]);
  return JSON.stringify(parts);
}

describe('connections', () => {
  it('show each member the accounts of clients they may see, and owners all', async () => {
    const { manager, analyst } = askers as { manager: Visitor; analyst: Visitor };
    for (const who of [manager, analyst]) {
      const listed = (await who.ask('GET /api/connections')).body.map((c) => c.id);
      expect(listed).toContain(own.connection);
      expect(listed).not.toContain(other.connection);
      const params = { connection: own.connection };
      const accounts = (await who.ask('GET /api/connections/:connection/accounts', { params })).body.accounts;
      expect(accounts.map((a) => a.id)).toEqual([ACCOUNT]);
      expect(
        (await who.ask('GET /api/connections/:connection/accounts', { params: { connection: other.connection } }))
          .status,
      ).toBe(404);
    }
    const all = (
      await fixture.owner.ask('GET /api/connections/:connection/accounts', { params: { connection: own.connection } })
    ).body.accounts;
    expect(all.length).toBeGreaterThan(1);
  });

  it('link no account to a second client without an owner’s word, by connection or by token', async () => {
    const { manager } = askers as { manager: Visitor };
    const taken = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client: other.client } }))
      .body[0]!;
    const linked = await manager.ask('POST /api/connections/:connection/feeds', {
      params: { connection: own.connection },
      body: { links: [{ account: 'wa-2041', client: own.client, confirmed: true }] },
    });
    expect(linked.body[0]!.message).toContain('no such account');
    const third = await manager.ask('POST /api/clients', { body: { ...CLIENT, name: 'Third' } });
    const byToken = await manager.ask('POST /api/clients/:client/feeds', {
      params: { client: third.body.id },
      body: { kind: 'web-analytics', account: taken.account, token: DEMO_TOKEN },
    });
    expect(byToken.fields.account).toContain('Only an owner can link it');
  });

  it('are authorised anew by owners and by who made them alone, for the same kind', async () => {
    const { manager } = askers as { manager: Visitor };
    const body = { kind: 'web-analytics', back: `${fixture.server.url}/connect/back`, connection: own.connection };
    expect((await manager.ask('POST /api/connections/begin', { body })).status).toBe(403);
    const wrong = await fixture.owner.ask('POST /api/connections/begin', { body: { ...body, kind: 'search' } });
    expect(wrong.fields.kind).toContain('can’t be changed');
    const elsewhere = await fixture.owner.ask('POST /api/connections/begin', {
      body: { ...body, back: 'http://elsewhere.example/connect/back' },
    });
    expect(elsewhere.fields.back).toContain('not an address of this server');
  });
});

describe('another client’s id, in path, query and body', () => {
  it('opens no route, changes nothing and tells nothing', async () => {
    const names = [...Object.keys(routes), ...Object.keys(FILE_ROUTES)].filter(
      (n) => !APART.has(n) && !ownersAlone(n),
    ) as RouteName[];
    const before = await everythingOf(other.client);
    const counts = new Map<string, number>();
    const leaks: string[] = [];
    const opened: string[] = [];
    const answered = new Set<string>();
    const faults = new Set<string>();
    let sent = 0;
    const count = (kind: string, status: number) =>
      counts.set(`${kind} ${status}`, (counts.get(`${kind} ${status}`) ?? 0) + 1);
    const ask = async (who: Visitor, name: string, pathIds: Ids, bodyIds: Ids, queryIds: Ids) => {
      sent++;
      const method = name.split(' ')[0]!;
      const query = QUERIES[name]?.(queryIds);
      const path = pathOf(name, pathIds) + (query ? `?${new URLSearchParams(query)}` : '');
      const file = /^PUT .*\/(logo|pictures|mail-files)$/.test(name)
        ? LOGO
        : name.endsWith('/imports')
          ? 'day,sold\n2026-10-05,1\n'
          : null;
      return who.raw(path, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(method !== 'GET' && { body: file ?? JSON.stringify(bodyOf(name, bodyIds, { ...ownF, ...bodyIds })) }),
      });
    };
    const askAll = async (who: Visitor, round: number) => {
      for (const name of names) {
        if (round < (HEAVY.test(name) ? 1 : 4)) {
          const first = await ask(who, name, own, own, own);
          await first.arrayBuffer();
          count('own', first.status);
          if (first.status >= 500) faults.add(`${name} own`);
          if (first.status < 300) answered.add(name);
        }
        for (const [path, body, query] of [
          [other, own, own],
          [own, other, own],
          [own, own, other],
        ] as const) {
          const swapsPath = path === other && /:(client|report|schedule|edition|connection)\b/.test(name);
          const swapsQuery = query === other && (name === 'GET /api/desk' || name === 'GET /api/editions');
          const swapsBody =
            body === other && JSON.stringify(bodyOf(name, other, ownF)) !== JSON.stringify(bodyOf(name, own, ownF));
          if (!swapsPath && !swapsQuery && !swapsBody) continue;
          const answer = await ask(who, name, path, body, query);
          const text = await answer.text();
          count('swapped', answer.status);
          if (answer.status >= 500) faults.add(`${name} swapped`);
          if (swapsPath && answer.status < 400) opened.push(`${name} ${answer.status}`);
          if (secrets().some((s) => text.includes(s))) leaks.push(`${name}: ${text.slice(0, 120)}`);
        }
      }
    };
    for (let round = 0; sent < WANTED; round++) {
      await Promise.all(Object.values(askers).map((who) => askAll(who, round)));
    }
    console.log(
      `  ${sent} requests: ${[...counts]
        .sort()
        .map(([k, n]) => `${k}: ${n}`)
        .join(', ')}`,
    );
    expect(names.filter((n) => !answered.has(n)).sort()).toEqual([...NEEDS_MORE].sort());
    expect(leaks).toEqual([]);
    expect(opened).toEqual([]);
    expect(await everythingOf(other.client)).toBe(before);
    expect(sent).toBeGreaterThanOrEqual(WANTED);
    expect([...faults]).toEqual([]);
  });
});

describe('the ledger', () => {
  it('holds entries of the kinds that are listed, each with the details of its kind and no others', async () => {
    const rows = await fixture.server.store.selectFrom('ledger').select(['action', 'detail']).execute();
    const unlike = rows.flatMap(({ action, detail }) => {
      const kind = LEDGER[action as LedgerKind];
      return kind?.strict().safeParse(JSON.parse(detail)).success ? [] : [`${action} ${detail}`];
    });
    expect([...new Set(unlike)].slice(0, 20)).toEqual([]);
    expect(new Set(rows.map((r) => r.action)).size).toBeGreaterThan(30);
    // With a person goes what names them; the entry stays.
    expect(personalDetails('delivery.refused')).toEqual(['email', 'reply']);
    expect(personalDetails('template.made')).toEqual([]);
  });
});

describe('hostile requests', () => {
  /** They end the session that asks, or move everybody's time. */
  const LEFT_OUT = new Set([
    'DELETE /api/session',
    'PUT /api/session/password',
    'DELETE /api/sessions',
    'POST /api/demo/clock',
  ]);
  const AT_ONCE = 6;

  it('with names of Object’s members, wrong types and huge values are refused in words: none answers 5xx', async () => {
    const chance = seededChance(SEED);
    const pick = <T>(all: readonly T[]): T => all[Math.floor(chance() * all.length)]!;
    const names = [...Object.keys(routes), ...Object.keys(FILE_ROUTES)].filter((n) => !LEFT_OUT.has(n));
    const faults = new Map<string, string>();
    const counts = new Map<number, number>();
    let who = fixture.owner;
    const askOne = async (n: number): Promise<void> => {
      const name = names[n % names.length]!;
      const [method, template] = name.split(' ') as [string, string];
      const route = (routes as Record<string, (typeof routes)[RouteName]>)[name];
      // What would be taken away stays: the path of others is theirs mostly.
      const keeps = method === 'DELETE';
      const path = template.replace(/:(\w+)/g, (_, key: string) => {
        if (keeps || chance() < 0.15)
          return encodeURIComponent(
            // What is no text at all is none in an address either.
            Buffer.from(chance() < 0.8 ? pick(OBJECT_NAMES) : String(hostile(chance)).slice(0, 200)).toString(),
          );
        const ids = { ...own, ...PLACES[name]?.(own) } as unknown as Record<string, string>;
        return ids[key] ?? 'visits';
      });
      const query: Record<string, unknown> = { ...QUERIES[name]?.(own) };
      const asks = Object.keys((route?.query as { shape?: object } | undefined)?.shape ?? {});
      for (const key of [...asks, ...(chance() < 0.1 ? [pick(OBJECT_NAMES)] : [])]) {
        if (chance() < 0.4) query[key] = chance() < 0.3 ? `${pick(OBJECT_NAMES)}=x` : hostile(chance);
      }
      const text = new URLSearchParams(
        Object.entries(query).map(([k, v]): [string, string] => [
          k,
          typeof v === 'object' ? JSON.stringify(v).slice(0, 4_000) : String(v).slice(0, 4_000),
        ]),
      );
      const body = JSON.stringify(spoiled(bodyOf(name, own, { ...ownF, ...own }), chance));
      const response = await who.raw(`${path}${text.size > 0 ? `?${text}` : ''}`, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(method !== 'GET' && { body }),
      });
      const said = await response.text();
      counts.set(response.status, (counts.get(response.status) ?? 0) + 1);
      if (response.status >= 500)
        faults.set(name, `${response.status} ${path}?${text} ${body.slice(0, 300)} → ${said.slice(0, 200)}`);
      if (response.status === 401 && !template.startsWith('/api/session')) who = await visit(fixture.server.url, OWNER);
    };
    let next = 0;
    const worker = async () => {
      while (next < HOSTILE) await askOne(next++);
    };
    await Promise.all(Array.from({ length: AT_ONCE }, worker));
    console.log(
      `  ${HOSTILE} hostile requests: ${[...counts]
        .sort()
        .map(([k, n]) => `${k}: ${n}`)
        .join(', ')}`,
    );
    expect(Object.fromEntries(faults)).toEqual({});
    expect((await fixture.server.store.selectFrom('client').select('id').execute()).length).toBeGreaterThan(1);
  });
});
