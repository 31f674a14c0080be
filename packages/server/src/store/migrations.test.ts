import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blocksOf, PLAIN_MAIL } from '@chronicon/core/report';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { invitations } from '../access/links.ts';
import { shapeOf } from '../test/dumpDatabase.ts';
import { calendars } from './agencyCalendar.ts';
import { approvalById } from './approvals.ts';
import { attemptsOf } from './attempts.ts';
import { changesOfAct, recentActs, takeChange } from './bulkActs.ts';
import { clientById, contactsByIds, sharedMetrics } from './clients.ts';
import { delegations } from './delegation.ts';
import { editionById, ordersOf } from './editions.ts';
import { feedsOf } from './feeds.ts';
import { knownPictures } from './itemPictures.ts';
import { mailFilesOf } from './mailFiles.ts';
import { mailRules } from './mailRules.ts';
import { tokenKey } from './mailTokens.ts';
import { messagesOf } from './messages.ts';
import { STEP_NAMES } from './migrations.ts';
import { unpacked } from './packed.ts';
import { listsOf } from './readerLists.ts';
import { reportById } from './reports.ts';
import { versionsOf } from './reportVersions.ts';
import { scheduleById } from './schedules.ts';
import { openSecrets } from './secrets.ts';
import { segmentsOf } from './segments.ts';
import { readSetting } from './settings.ts';
import { openStore, type Store } from './store.ts';
import { tagsOf } from './tags.ts';
import { targetsOf } from './targets.ts';
import { templates } from './templates.ts';
import { typefacesOf } from './typefaces.ts';

const kept = join(import.meta.dirname, 'kept');
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-kept-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const fresh = async (name: string): Promise<string> => {
  const path = mkdtempSync(join(folder, name));
  await (await openStore(path)).destroy();
  return join(path, 'chronicon.db');
};

/** A kept database, brought up to date. */
async function upgraded(file: string): Promise<{ store: Store; path: string }> {
  const path = join(folder, 'chronicon.db');
  const database = new Database(path);
  database.exec(readFileSync(join(kept, file), 'utf8'));
  database.close();
  return { store: await openStore(folder), path };
}

const secrets = openSecrets(mkdtempSync(join(tmpdir(), 'chronicon-key-')), null);

/** What the step of field names finds in the databases that hold it; null for older ones. */
async function inFieldNames(store: Store) {
  const edition = await editionById(store, 'ed_2');
  if (!edition) return null;
  const entries = await store.selectFrom('ledger').select(['actor', 'action']).orderBy('at').orderBy('id').execute();
  const states = await store.selectFrom('edition').select('state').orderBy('id').execute();
  return {
    states: states.map((e) => e.state),
    approval: await approvalById(store, edition.approval_id!),
    ledger: entries.map((e) => `${e.actor} ${e.action}`),
    rules: await mailRules(store),
    // The key that mails on their way were written with; it is sealed from then on.
    tokens: [await tokenKey(store, secrets), await tokenKey(store, secrets), await readSetting(store, 'mail.tokens')],
  };
}
const RENAMED = {
  states: ['sent', 'ready', 'review', 'collecting', 'replaced'],
  approval: {
    id: 'ap_2',
    edition_id: 'ed_2',
    member_id: 'mb_1',
    at: '2026-10-03T07:20:00.000Z',
    hashes: '["b2",[["co_1","words",["co_1"]]]]',
    taken_back_at: null,
  },
  ledger: [
    'scheduler edition.collecting',
    'scheduler edition.review',
    'mb_1 edition.ready',
    'mb_1 edition.replaced',
    'mb_1 client.deactivated',
    'mb_1 client.activated',
    'mb_1 mail-rules.changed',
    'scheduler edition.sent',
  ],
  rules: { bounces: 'bounces@fernglass.example', perMinute: 30, quiet: null },
  tokens: ['kept-token-key', 'kept-token-key', null],
};

describe('databases of every step', () => {
  it('are kept, one for each', () => {
    expect(readdirSync(kept).sort()).toEqual(STEP_NAMES.map((name) => `${name}.sql`));
  });

  it.each(readdirSync(kept))('%s becomes what a new one is, and all that it holds can be read', async (file) => {
    const { store, path } = await upgraded(file);
    try {
      expect(shapeOf(path)).toEqual(shapeOf(await fresh('new-')));
      for (const mail of await messagesOf(store, 'ed_1')) {
        expect(unpacked(mail.body)).toEqual({ html: '<p>Hello</p>', text: 'Hello', pictures: [] });
      }
      const database = new Database(path, { readonly: true });
      expect(database.pragma('foreign_key_check')).toEqual([]);
      expect(database.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }]);
      database.close();
      expect(await clientById(store, 'cl_1')).toMatchObject({
        name: 'Tarnbeck Pottery',
        site: '',
        zone: 'Europe/London',
        currency: 'GBP',
        language: 'en-GB',
        startDate: '2024-01-01',
        weekStart: 1,
        fiscalStart: 4,
      });
      expect((await contactsByIds(store, 'cl_1', ['co_1']))[0]).toMatchObject({ email: 'petra@tarnbeck.example' });
      const report = (await reportById(store, 'rp_1'))!;
      expect(blocksOf(report.document).map((b) => b.kind)).toEqual([
        'heading',
        'commentary',
        'kpiRow',
        'trend',
        'ranking',
      ]);
      // What was sent before there were releases was what was last saved.
      expect(report.release?.document).toEqual(report.document);
      expect(await scheduleById(store, 'sc_1')).toMatchObject({
        rule: { freq: 'monthly', every: 1, on: { day: 3 } },
        readers: [{ contact: 'co_1' }],
        exceptions: { '2026-08-03': { skipped: true } },
        leadMinutes: 180,
      });
      const edition = (await editionById(store, 'ed_1'))!;
      expect(edition).toMatchObject({ state: 'sent', number: 1, stale: 0, period_from: '2026-09-01' });
      expect(ordersOf(edition)).toMatchObject({ asOf: '2026-11-03', readers: [{ contact: 'co_1' }] });
      expect(await feedsOf(store, 'cl_1')).toEqual(
        expect.arrayContaining([expect.objectContaining({ id: 'fd_1', connection_id: 'cn_1', account: 'wa-2502' })]),
      );
      const since = STEP_NAMES.indexOf(file.replace('.sql', ''));
      expect((await targetsOf(store, 'cl_1')).map((t) => t.value)).toEqual(
        since < 1 ? [] : since < 4 ? [12_000] : [3_000, 12_000],
      );
      const people = since >= STEP_NAMES.indexOf('011-people');
      expect((await tagsOf(store, ['cl_1'])).get('cl_1')).toEqual(people ? ['Crafts'] : []);
      expect((await calendars(store)).map((c) => c.days)).toEqual(
        people ? [[{ date: '2026-12-12', name: 'Herring day' }]] : [],
      );
      const planned = since >= STEP_NAMES.indexOf('018-planning');
      expect(await listsOf(store, 'cl_1')).toEqual(
        planned ? [{ id: 'li_1', name: 'Kiln people', contacts: ['co_1'] }] : [],
      );
      const post = since >= STEP_NAMES.indexOf('020-post');
      expect((await mailFilesOf(store, 'cl_1')).map((m) => m.name)).toEqual(post ? ['Prices.pdf'] : []);
      expect((await attemptsOf(store, ['dl_1'])).map((a) => a.outcome)).toEqual(post ? ['accepted'] : []);
      expect((await scheduleById(store, 'sc_1'))!.mail).toEqual(PLAIN_MAIL);
      expect((await recentActs(store, null, 5)).map((a) => a.what)).toEqual(planned ? ['Paused in 1 place'] : []);
      const turns = since >= STEP_NAMES.indexOf('026-turns');
      const changes = await changesOfAct(store, 'ba_1');
      expect(await Promise.all(changes.map(({ n }) => takeChange(store, 'ba_1', n)))).toEqual(
        turns ? [{ kind: 'edition', id: 'ed_1' }] : [],
      );
      // Whoever was written to until then is at a domain of the client's.
      expect((await clientById(store, 'cl_1'))!.domains).toBe('tarnbeck.example');
      expect((await delegations(store)).map((h) => h.clients)).toEqual(
        people ? [[{ client: 'cl_1', assigned: true }]] : [],
      );
      expect((await segmentsOf(store, 'cl_1')).map((s) => [s.name, s.clientId])).toEqual(
        since >= STEP_NAMES.indexOf('012-segments')
          ? [
              ['Non-brand', null],
              ['Phones', 'cl_1'],
            ]
          : [],
      );
      expect((await scheduleById(store, 'sc_1'))!.filter).toEqual(
        since >= STEP_NAMES.indexOf('013-schedules-filter')
          ? [{ dimension: 'segment', how: 'only', values: ['sg_1'] }]
          : [],
      );
      const address = (name: string) => `https://pictures.example/${name}.jpg`;
      const addresses = ['kiln', 'lost', 'new'].map(address);
      expect(await knownPictures(store, 'cl_1', addresses, '2026-11-02T08:00:00.000Z')).toEqual(
        since >= STEP_NAMES.indexOf('014-item-pictures')
          ? {
              [address('kiln')]: expect.objectContaining({ file: '3'.repeat(64), width: 240 }),
              [address('lost')]: null,
            }
          : {},
      );
      const composer = since >= STEP_NAMES.indexOf('015-composer');
      expect((await templates(store)).map((x) => [x.name, x.version])).toEqual(composer ? [['Our month', 2]] : []);
      expect((await reportById(store, 'rp_1'))!.template).toEqual(
        composer ? { id: 'tp_1', version: 1, binding: { metrics: { visits: 'leads' }, dimensions: {} } } : null,
      );
      expect((await typefacesOf(store)).map((x) => [x.name, x.said.length])).toEqual(
        since >= STEP_NAMES.indexOf('016-typefaces') ? [['Tarn Grotesk', 1]] : [],
      );
      expect((await sharedMetrics(store)).map((m) => m.key)).toEqual(
        since >= STEP_NAMES.indexOf('017-shared-metrics') ? ['pagesEach'] : [],
      );
      // What was released before versions were kept is the first of them.
      expect((await versionsOf(store, 'rp_1')).map((v) => [v.kind, v.title])).toEqual([
        ['release', 'Monthly overview'],
      ]);
      expect([...(await invitations(store, '2026-11-02T08:00:00.000Z')).keys()]).toEqual(people ? ['mb_2'] : []);
      expect(await inFieldNames(store)).toEqual(since >= STEP_NAMES.indexOf('021-packed-mails') ? RENAMED : null);
    } finally {
      await store.destroy();
    }
  });

  it('are left alone when they are up to date', async () => {
    const path = await fresh('new-');
    const before = readFileSync(path);
    await (await openStore(join(path, '..'))).destroy();
    expect(readFileSync(path).equals(before)).toBe(true);
  });
});
