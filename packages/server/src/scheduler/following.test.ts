import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing, pageOf } from '../test/editing.ts';
import {
  ACCOUNT,
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

const start = async (change = {}) =>
  (
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f, change),
    })
  ).body.id;
const report = async () => (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
const mails = () => fixture.simulators.mails.list();
const edition = async () => (await editionsOf(fixture, f.client))[0]!;

/** Changes the heading of the draft, saves it, and releases it where that is asked for. */
async function setHeading(text: string, release: boolean) {
  const { title, document, version } = await report();
  const pages = structuredClone(document.pages);
  for (const b of pages.flatMap((p) => p.rows.flatMap((r) => r.blocks))) if (b.kind === 'heading') b.text = text;
  const params = { report: f.report };
  const saved = await fixture.owner.ask('PUT /api/reports/:report', {
    params,
    body: { title, document: { ...document, pages }, version },
  });
  if (release)
    await fixture.owner.ask('POST /api/reports/:report/release', { params, body: { version: saved.body.version } });
}

async function textOfMail(index = 0): Promise<string> {
  const found = await fixture.simulators.mails.read(mails()[index]!.id);
  const data = new Uint8Array(found!.parsed.attachments[0]!.content);
  const pdf = await getDocument({ data }).promise;
  const pages = await Promise.all(
    Array.from({ length: pdf.numPages }, async (_, i) => (await pdf.getPage(i + 1)).getTextContent()),
  );
  return pages.flatMap((p) => p.items.map((i) => ('str' in i ? i.str : ''))).join(' ');
}

describe('figures that were written as the server ended, and of which nobody was told', () => {
  it('have what was drawn looked at again once it is back', async () => {
    await start();
    await fixture.moveTo(DRAWN);
    const { store, facts } = fixture.server;
    const row = async () => store.selectFrom('edition').select(['stale', 'next_at']).executeTakeFirstOrThrow();
    expect((await row()).stale).toBe(0);
    await facts
      .updateTable('dataset')
      .set((q) => ({ revision: q('revision', '+', 1) }))
      .execute();
    await fixture.restart();
    expect(await fixture.server.store.selectFrom('edition').select('stale').execute()).toEqual([{ stale: 1 }]);
    // Once: a server that begins again has told.
    await fixture.server.scheduler.settle();
    await fixture.restart();
    expect(await fixture.server.store.selectFrom('edition').select('stale').execute()).toEqual([{ stale: 0 }]);
  });
});

describe('draft and release', () => {
  it('what is edited after drawing goes out once it is released, and half an edit never does', async () => {
    await start();
    await fixture.moveTo(DRAWN);
    const before = await edition();
    expect(before.state).toBe('ready');
    await setHeading('Half an edit', false);
    await fixture.server.scheduler.settle();
    await setHeading('A whole correction', true);
    await fixture.server.scheduler.settle();
    await setHeading('Half an edit more', false);
    await fixture.moveTo(SENT);
    expect((await edition()).state).toBe('sent');
    const text = await textOfMail();
    expect(text).toContain('A whole correction');
    expect(text).not.toContain('Half an edit');
    expect((await edition()).number).toBe(before.number);
  });

  it('says which editions a release reaches and which it no longer can', async () => {
    await start();
    await fixture.moveTo(SENT);
    await setHeading('Too late for October', false);
    const params = { report: f.report };
    const { body } = await fixture.owner.ask('GET /api/reports/:report/release', { params });
    expect(body.needed).toBe(true);
    expect(body.tooLate).toMatchObject([{ label: 'October 2026', state: 'sent' }]);
    expect(body.reaches[0]).toMatchObject({ label: 'November 2026', edition: null, state: 'planned' });
    const { version } = await report();
    await fixture.owner.ask('POST /api/reports/:report/release', { params, body: { version } });
    expect((await fixture.owner.ask('GET /api/reports/:report/release', { params })).body.needed).toBe(false);
    expect((await report()).released).toMatchObject({ by: 'Ines Tallow', current: true });
  });

  it('refuses to release over what somebody else saved meanwhile', async () => {
    const { version } = await report();
    await setHeading('Theirs', false);
    const released = await fixture.owner.ask('POST /api/reports/:report/release', {
      params: { report: f.report },
      body: { version },
    });
    expect(released.status).toBe(409);
  });

  it('sends nothing of a report that was never released', async () => {
    const params = { client: f.client };
    const made = await fixture.owner.ask('POST /api/clients/:client/reports', {
      params,
      body: { title: 'New', starter: 'visits' },
    });
    const body = { ...scheduleFor(f), reportId: made.body.id };
    expect(
      (await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body })).fields.reportId,
    ).toContain('never been released');
  });

  it('warns on the Desk of a draft newer than the release when a run is near', async () => {
    await start();
    await setHeading('Not yet out', false);
    const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
    expect(needs.find((n) => n.key.startsWith('release-'))).toMatchObject({
      title: 'Tarnbeck Pottery: “Monthly overview” has unreleased changes',
      deadline: '2026-11-03T08:00:00.000Z',
    });
  });
});

describe('an edition follows', () => {
  const cases: [string, () => Promise<unknown>, (text: string) => void][] = [
    [
      'the brand',
      () =>
        fixture.owner.ask('PUT /api/clients/:client/brand', {
          params: { client: f.client },
          body: { main: '#884400', second: '#222222', footer: 'A corrected footer' },
        }),
      (text) => expect(text).toContain('A corrected footer'),
    ],
    [
      'a name',
      () =>
        fixture.owner.ask('PUT /api/clients/:client', {
          params: { client: f.client },
          body: {
            name: 'Tarnbeck Ceramics',
            zone: 'Europe/London',
            currency: 'GBP',
            language: 'en-GB',
            weekStart: 1,
            fiscalStart: 1,
            startDate: '2025-03-03',
          },
        }),
      (text) => expect(text).toContain('Tarnbeck Ceramics'),
    ],
    [
      'a day note',
      () =>
        fixture.owner.ask('POST /api/clients/:client/notes', {
          params: { client: f.client },
          body: { from: '2026-10-12', to: '2026-10-12', text: 'The kiln was being mended', inReports: true },
        }),
      (text) => expect(text).toContain('The kiln was being mended'),
    ],
    [
      'a metric',
      () =>
        fixture.owner.ask('PUT /api/clients/:client/metrics/:metric', {
          params: { client: f.client, metric: 'visits' },
          body: { label: 'Callers', polarity: 'higher', reads: {} },
        }),
      (text) => expect(text).toContain('Callers'),
    ],
    [
      'what the client calls a value',
      () =>
        fixture.owner.ask('PUT /api/clients/:client/names', {
          params: { client: f.client },
          body: { dimension: 'channel', label: 'Email', name: 'Letters' },
        }),
      (text) => expect(text).toContain('Letters'),
    ],
  ];
  it.each(cases)('%s, changed after it was drawn', async (_, change, expected) => {
    await start();
    await fixture.moveTo(DRAWN);
    await change();
    await fixture.moveTo(SENT);
    expect((await edition()).state).toBe('sent');
    expected(await textOfMail());
  });

  it('a segment that is named and worded anew, through its route or by a hand in the database', async () => {
    const params = { client: f.client };
    const parts = (value: string) => [{ dimension: 'channel', how: 'only' as const, values: [value] }];
    const kept = await fixture.owner.ask('POST /api/clients/:client/segments', {
      params,
      body: { name: 'By mail', parts: parts('Email') },
    });
    const segment = kept.body.id;
    const at = editing(fixture, f);
    const blocks = (await report()).document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));
    const ranking = blocks.find((b) => b.kind === 'ranking' && b.dimension === 'channel')!;
    const filter = [{ dimension: 'segment', how: 'only', values: [segment] }];
    await at.edit({ op: 'setBlock', block: ranking.id, set: { filter } });
    await at.release();
    await start();
    await fixture.moveTo(DRAWN);
    await fixture.owner.ask('PUT /api/clients/:client/segments/:segment', {
      params: { ...params, segment },
      body: { name: 'On their own', parts: parts('Direct') },
    });
    await fixture.server.scheduler.settle();
    await fixture.server.store
      .updateTable('segment')
      .set({ parts: JSON.stringify(parts('Referral')) })
      .execute();
    await fixture.moveTo(SENT);
    expect((await edition()).state).toBe('sent');
    // Its name stands beneath the block; the rows of all channels stand in other blocks.
    const text = await textOfMail();
    expect(text).toContain('On their own');
    expect(text).not.toContain('By mail');
    const narrowed = text.slice(text.indexOf('On their own')).slice(0, 120);
    expect(narrowed).toContain('Referral');
    expect(narrowed).not.toMatch(/Email|Direct/);
  });

  it('what its schedule counts, on its pages and in its mail', async () => {
    const only = (value: string) => [{ dimension: 'channel', how: 'only' as const, values: [value] }];
    const at = editing(fixture, f);
    await at.edit(pageOf('counted', { kind: 'kpi', id: 'counted', metric: 'visits' }));
    for (const { id } of (await at.load()).document.pages.filter((p) => p.title !== 'counted'))
      await at.edit({ op: 'removePage', page: id });
    await at.release();
    const mail = { subject: 'Visits {{figure.visits}}', message: 'There were {{figure.visits}} visits.' };
    const schedule = await start({ filter: only('Email'), ...mail });
    await fixture.moveTo(DRAWN);
    expect((await edition()).state).toBe('ready');
    const body = scheduleFor(f, { filter: only('Direct'), ...mail });
    expect((await fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule }, body })).status).toBe(200);
    await fixture.moveTo(SENT);
    const query = { metrics: 'visits', period: 'month.-1', filter: 'channel=Direct' };
    const params = { client: f.client };
    const { body: figures } = await fixture.owner.ask('GET /api/clients/:client/figures', { params, query });
    const { value } = figures.totals[0]!.current as { value: number };
    const said = value.toLocaleString('en-GB');
    expect(mails()[0]!.subject).toBe(`Visits ${said}`);
    const text = await textOfMail();
    expect(text).toContain(said);
    expect(text).toContain('Channel: Direct');
    expect(text).not.toContain('Email');
  });

  it('what its schedule assumes', async () => {
    const at = editing(fixture, f);
    const assumptions = [{ key: 'margin', label: 'Margin', unit: 'percent', value: 0.5 }];
    await at.edit({ op: 'assumptions', assumptions });
    const metric = {
      key: 'kept',
      label: 'Kept',
      unit: 'percent',
      polarity: 'higher',
      formula: 'revenue * margin / revenue',
      definition: '',
    };
    const made = await fixture.owner.ask('POST /api/clients/:client/own-metrics', {
      params: { client: f.client },
      body: metric,
    });
    expect(made.fields).toEqual({});
    await at.edit(pageOf('kept', { kind: 'kpi', id: 'kept', metric: 'kept' }));
    await at.release();
    const schedule = await start({ assumed: { margin: 0.25 } });
    await fixture.moveTo(DRAWN);
    expect((await edition()).state).toBe('ready');
    const body = scheduleFor(f, { assumed: { margin: 0.125 } });
    expect((await fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule }, body })).status).toBe(200);
    await fixture.moveTo(SENT);
    expect(await textOfMail()).toContain('12.5%');
  });

  it('figures that the service restated after it was drawn', async () => {
    await start({ period: { kind: 'rolling', days: 7 } });
    await fixture.moveTo(DRAWN);
    const pdf = async () =>
      (await fixture.server.store.selectFrom('edition').select('pdf').executeTakeFirstOrThrow()).pdf;
    const drawn = await pdf();
    fixture.simulators.faults.set(ACCOUNT, 'restated');
    const [feed] = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client: f.client } })).body;
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', {
      params: { client: f.client, feed: feed!.id },
    });
    await fixture.server.syncs.idle();
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('ready');
    expect(await pdf()).not.toBe(drawn);
    await fixture.moveTo(SENT);
    const found = await fixture.simulators.mails.read(mails()[0]!.id);
    expect(fixture.server.files.hashOf(found!.parsed.attachments[0]!.content)).toBe(await pdf());
  });

  it('what changes in the very moment in which it is sent', async () => {
    await start();
    await fixture.moveTo(DRAWN);
    // Written past all marks, as a hand in the database would: the guard of the sending transaction sees it.
    await fixture.server.store.updateTable('client').set({ name: 'Renamed by hand' }).execute();
    await fixture.moveTo(SENT);
    expect(await textOfMail()).toContain('Renamed by hand');
  });
});

describe('commentary for one period', () => {
  const write = async (text: string, period: { from: string; to: string }) => {
    const { document } = await report();
    const block = document.pages[0]!.rows.flatMap((r) => r.blocks).find((b) => b.kind === 'commentary')!.id;
    return fixture.owner.ask('PUT /api/reports/:report/commentary', {
      params: { report: f.report },
      body: { block, ...period, text },
    });
  };
  const release = async () =>
    fixture.owner.ask('POST /api/reports/:report/release', {
      params: { report: f.report },
      body: { version: (await report()).version },
    });
  const october = { from: '2026-10-01', to: '2026-10-31' };

  it('is written before the edition exists, goes out once, and never under another month', async () => {
    await start();
    expect((await write('A strong October.', october)).status).toBe(200);
    await release();
    await fixture.moveTo(SENT);
    expect(await textOfMail()).toContain('A strong October.');
    await fixture.moveTo('2026-12-03T08:00:30Z');
    expect(mails()).toHaveLength(2);
    expect(await textOfMail(0)).toContain('November 2026');
    expect(await textOfMail(0)).not.toContain('A strong October.');
  });

  it('reaches no edition half-written, and follows when it is released after drawing', async () => {
    await start();
    await fixture.moveTo(DRAWN);
    await write('A strong Oct', october);
    await fixture.server.scheduler.settle();
    await write('A strong October, whole.', october);
    await release();
    await write('A strong October, whole. And th', october);
    await fixture.moveTo(SENT);
    const text = await textOfMail();
    expect(text).toContain('A strong October, whole.');
    expect(text).not.toContain('And th');
  });

  it('is listed on the Desk while it is still to write, with last period’s words at hand', async () => {
    await start();
    const needed = async () =>
      (await fixture.owner.ask('GET /api/desk')).body.needs.find((n) => n.reason.includes('Not written yet'));
    expect((await needed())!.title).toBe('Tarnbeck Pottery: commentary for October 2026');
    await write('September was quiet.', { from: '2026-09-01', to: '2026-09-30' });
    await release();
    const look = { kind: 'dates' as const, ...october };
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', {
      params: { report: f.report },
      body: { look },
    });
    // What may be written over, too: it says something by itself.
    expect(preview.body.commentary).toMatchObject([
      { draft: '', before: null },
      { draft: '', before: { label: 'September 2026', text: 'September was quiet.' } },
    ]);
    expect(JSON.stringify(preview.body.pages)).not.toContain('September was quiet.');
    await write('October was not.', october);
    expect(await needed()).toBeDefined();
    await release();
    expect(await needed()).toBeUndefined();
  });
});

describe('the page that is looked at', () => {
  it('is the page of the run that it is looked at for, byte for byte', async () => {
    const schedule = await start({ period: { kind: 'rolling', days: 7 } });
    const params = { report: f.report };
    const runs = (await fixture.owner.ask('GET /api/reports/:report/runs', { params })).body;
    expect(runs[0]).toMatchObject({
      schedule,
      nominal: '2026-11-03',
      period: { from: '2026-10-27', to: '2026-11-02' },
    });
    await fixture.moveTo(DRAWN);
    const look = { kind: 'run' as const, schedule, nominal: '2026-11-03' };
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', { params, body: { look } });
    const row = await fixture.server.store.selectFrom('edition').select('frozen').executeTakeFirstOrThrow();
    const frozen = JSON.parse(fixture.server.files.read(row.frozen!).toString()) as { scene: { pages: unknown[] } };
    expect(JSON.stringify(preview.body.pages.map((p) => p.page))).toBe(JSON.stringify(frozen.scene.pages));
    expect((await report()).document.period).toEqual({ kind: 'unit', unit: 'month', offset: -1 });
  });

  it('comes as PDF at once, for any dates, and leaves no edition and no number behind', async () => {
    const pdf = await fixture.owner.raw(`/api/reports/${f.report}/pdf?from=2026-09-07&to=2026-09-13`);
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    expect(pdf.headers.get('cache-control')).toBe('no-store');
    expect(pdf.headers.get('content-disposition')).toContain(
      'Tarnbeck Pottery Monthly overview 7-13 September 2026.pdf',
    );
    expect(
      Buffer.from(await pdf.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect(await editionsOf(fixture, f.client)).toEqual([]);
    expect((await fixture.owner.raw(`/api/reports/${f.report}/pdf?from=2026-09-07&to=0001-01-01`)).status).toBe(422);
  });

  it('is no run of another report’s schedule', async () => {
    const made = await fixture.owner.ask('POST /api/clients/:client/reports', {
      params: { client: f.client },
      body: { title: 'Other', starter: 'visits' },
    });
    const look = { kind: 'run' as const, schedule: await start(), nominal: '2026-11-03' };
    const asked = await fixture.owner.ask('POST /api/reports/:report/preview', {
      params: { report: made.body.id },
      body: { look },
    });
    expect(asked.fields.look).toContain('not a run of this report');
  });
});

describe('sending by hand', () => {
  it('shows the page, the mail, the dates and the names first, and sends what was seen alone', async () => {
    const schedule = await start();
    const { body } = await fixture.owner.ask('POST /api/schedules/:schedule/make', { params: { schedule } });
    await fixture.server.scheduler.settle();
    expect(mails()).toEqual([]);
    const params = { edition: body.editionId };
    const review = (await fixture.owner.ask('GET /api/editions/:edition/review', { params })).body;
    expect(review.edition).toMatchObject({ state: 'review', period: { label: 'October 2026' } });
    expect(review.mails).toMatchObject([{ name: 'Petra Lund', email: 'petra@tarnbeck.example' }]);
    expect(review.mails[0]!.text).toMatch(/^Hello Petra, visits were [\d,]+/);
    expect(review.from.replyTo).toBe('ines@fernglass.example');
    expect(review.pages).toHaveLength(2);
    // Corrected between looking and sending: the press that was meant for the other page does nothing.
    await setHeading('Corrected in between', true);
    await fixture.server.scheduler.settle();
    expect((await sendSeen(fixture, body.editionId, review.hash!)).status).toBe(409);
    expect(mails()).toEqual([]);
    expect((await sendSeen(fixture, body.editionId)).status).toBe(200);
    expect(await textOfMail()).toContain('Corrected in between');
  });

  it('does not go to an address that was corrected after it was looked at', async () => {
    const schedule = await start();
    const { body } = await fixture.owner.ask('POST /api/schedules/:schedule/make', { params: { schedule } });
    await fixture.server.scheduler.settle();
    const params = { edition: body.editionId };
    const review = (await fixture.owner.ask('GET /api/editions/:edition/review', { params })).body;
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { client: f.client, contact: f.contact },
      body: { firstName: 'Petra', lastName: 'Lund', email: 'petra.lund@tarnbeck.example' },
    });
    await fixture.server.scheduler.settle();
    expect((await sendSeen(fixture, body.editionId, review.hash!)).status).toBe(409);
    expect((await sendSeen(fixture, body.editionId)).status).toBe(200);
    expect(mails().map((m) => m.to)).toEqual(['petra.lund@tarnbeck.example']);
  });
});
