import { sql } from 'kysely';
import { describe, expect, it } from 'vitest';
import { ChangedMeanwhile } from '../scheduler/changedMeanwhile.ts';
import { keepChange } from '../store/bulkActs.ts';
import { visit } from '../test/harness.ts';
import { planningFixture } from '../test/planning.ts';
import { inTurns, type Turn } from './inTurns.ts';

const t = planningFixture();

describe('all schedules', () => {
  it('are found by client, report, rhythm, reader, manager, state, and what ends soon', async () => {
    const weekly = await t.start({ rule: { freq: 'weekly', every: 1, weekdays: [2] }, lastDate: '2026-12-01' });
    const monthly = await t.start();
    await t.ask('PUT /api/schedules/:schedule/active', { params: { schedule: weekly }, body: { active: false } });
    const found = async (query: Record<string, string>) =>
      (await t.ask('GET /api/schedules', { query })).body.all.sort();
    expect(await found({})).toEqual([weekly, monthly].sort());
    expect(await found({ rhythm: 'weekly' })).toEqual([weekly]);
    expect(await found({ state: 'paused' })).toEqual([weekly]);
    expect(await found({ ending: 'true' })).toEqual([weekly]);
    expect(await found({ reader: 'petra@' })).toHaveLength(2);
    expect(await found({ reader: 'nobody' })).toEqual([]);
    expect(await found({ text: 'overview' })).toHaveLength(2);
    // By a list as by themselves, and whatever the case, in every script.
    const params = { client: t.f.client };
    const list = (
      await t.ask('POST /api/clients/:client/lists', { params, body: { name: 'Kiln', contacts: [t.f.contact] } })
    ).body.id;
    const { input } = await t.schedule(weekly);
    await t.ask('PUT /api/schedules/:schedule', {
      params: { schedule: weekly },
      body: { ...input, readers: [{ list }] },
    });
    expect(await found({ reader: 'PETRA LUND' })).toEqual([weekly, monthly].sort());
    const { body: client } = await t.ask('GET /api/clients/:client', { params });
    await t.ask('PUT /api/clients/:client', { params, body: { ...client, name: 'Ålesund Töpferei' } as never });
    expect(await found({ text: 'ÅLESUND TÖ' })).toHaveLength(2);
    expect(await found({ text: 'alesund' })).toEqual([]);
    const [row] = (await t.ask('GET /api/schedules', { query: { state: 'runs' } })).body.schedules;
    expect(row).toMatchObject({ next: '2026-11-03T08:00:00.000Z', readers: ['Petra Lund'], last: null });
  });

  it('with one that is damaged say what is, and what helps', async () => {
    const id = await t.start();
    const { store } = t.fixture.server;
    await store.updateTable('schedule').set({ rule: '{"freq":"monthly"}' }).where('id', '=', id).execute();
    const asked = await t.ask('GET /api/schedules');
    expect(asked).toMatchObject({
      status: 500,
      body: {
        message: expect.stringMatching(
          /^The data is damaged: when a schedule runs cannot be read .* restore a copy\.$/,
        ),
      },
    });
  });

  it('are changed at once: seen first, done as seen, undone but for what was changed since', async () => {
    const [one, two] = [await t.start(), await t.start({ time: '09:00' })];
    const body = { schedules: [one, two], act: { do: 'retime', time: '07:30', zone: null } };
    const seen = (await t.ask('POST /api/schedules/many', { body })).body;
    expect(seen.rows.map((r) => [r.before, r.after, r.problem])).toEqual([
      ['08:00 Europe/London', '07:30 Europe/London', null],
      ['09:00 Europe/London', '07:30 Europe/London', null],
    ]);
    expect((await t.schedule(one)).input.time).toBe('08:00');
    // Changed between looking and doing: nothing is done.
    const { input } = await t.schedule(two);
    await t.ask('PUT /api/schedules/:schedule', { params: { schedule: two }, body: { ...input, time: '09:30' } });
    expect((await t.ask('POST /api/schedules/many', { body: { ...body, seen: seen.seen } })).status).toBe(409);
    const again = (await t.ask('POST /api/schedules/many', { body })).body;
    const { done } = (await t.ask('POST /api/schedules/many', { body: { ...body, seen: again.seen } })).body;
    expect((await t.schedule(one)).input.time).toBe('07:30');
    const now = (await t.schedule(two)).input;
    await t.ask('PUT /api/schedules/:schedule', { params: { schedule: two }, body: { ...now, subject: 'Another' } });
    const undone = (await t.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).body;
    expect(undone).toEqual({ undone: 1, kept: ['“Monthly overview” of Tarnbeck Pottery'] });
    expect((await t.schedule(one)).input.time).toBe('08:00');
    expect((await t.schedule(two)).input).toMatchObject({ time: '07:30', subject: 'Another' });
    expect((await t.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).status).toBe(409);
  });

  it('are changed while others write, each change kept to be undone', async () => {
    const all: string[] = [];
    for (let i = 0; i < 24; i++) all.push(await t.start({ time: `${String(i).padStart(2, '0')}:15` }));
    const body = { schedules: all, act: { do: 'retime', time: '07:30', zone: null } };
    const { seen } = (await t.ask('POST /api/schedules/many', { body })).body;
    let going = true;
    const doing = t.ask('POST /api/schedules/many', { body: { ...body, seen } }).finally(() => {
      going = false;
    });
    const { store } = t.fixture.server;
    const changed = new Set<number>();
    // Somebody else writes all the while; each time they see how far it is.
    for (let i = 0; going; i++) {
      const params = { client: t.f.client };
      await t.ask('PUT /api/clients/:client/tags', { params, body: { tags: [`Tag ${i}`] } });
      const rows = await store.selectFrom('schedule').select('rule').where('time', '=', '07:30').execute();
      changed.add(rows.length);
    }
    const { done } = (await doing).body;
    expect([...changed].some((n) => n > 0 && n < all.length)).toBe(true);
    expect((await t.undoMany(done!)).body).toEqual({ undone: 24, kept: [] });
  });

  it('that somebody undoes while they are still being done are undone as far as they were, and the rest once more', async () => {
    const all: string[] = [];
    for (let i = 0; i < 24; i++) all.push(await t.start({ time: `${String(i).padStart(2, '0')}:15` }));
    const body = { schedules: all, act: { do: 'retime', time: '07:30', zone: null } };
    const { seen } = (await t.ask('POST /api/schedules/many', { body })).body;
    const doing = t.ask('POST /api/schedules/many', { body: { ...body, seen } });
    const { store } = t.fixture.server;
    const begun = async () => (await store.selectFrom('bulk_change').select('act_id').executeTakeFirst())?.act_id;
    let act: string | undefined;
    while (act === undefined) {
      await t.ask('GET /api/schedules/many');
      act = await begun();
    }
    const early = (await t.undoMany(act)).body.undone;
    await doing;
    const late = (await t.undoMany(act)).body.undone;
    expect([early > 0, early + late]).toEqual([true, 24]);
    const times = await Promise.all(all.map(async (id) => (await t.schedule(id)).input.time));
    expect(times).toEqual(all.map((_, i) => `${String(i).padStart(2, '0')}:15`));
  });

  it('that end in between keep what was done before the turn that fails', async () => {
    const ids = [await t.start(), await t.start({ time: '09:00' })];
    const turns = ids.map(
      (id, i): Turn<string> => ({
        async run(tx) {
          if (i === 1) throw new Error('planted');
          await tx.updateTable('schedule').set({ subject: 'Another' }).where('id', '=', id).execute();
          return id;
        },
      }),
    );
    // One transaction is done whole or not at all; those before it stay.
    await expect(inTurns(t.fixture.server, [...turns.slice(0, 1), ...turns])).rejects.toThrow('planted');
    expect((await t.schedule(ids[0]!)).input.subject).not.toBe('Another');
    const five = Array.from({ length: 5 }, (_, i) => turns[i === 4 ? 1 : 0]!);
    await expect(inTurns(t.fixture.server, five)).rejects.toThrow('Stopped after 4 of 5 steps; those are done.');
    expect((await t.schedule(ids[0]!)).input.subject).toBe('Another');
  });

  it('that stop halfway say so, stand among what was done with what they came to, and can be undone', async () => {
    const ids: string[] = [];
    for (let i = 0; i < 6; i++) ids.push(await t.start({ time: `1${i}:15` }));
    const body = { schedules: ids, act: { do: 'retime', time: '07:30', zone: null } };
    const { seen, rows } = (await t.ask('POST /api/schedules/many', { body })).body;
    // The database refuses the change of the fifth.
    const { store } = t.fixture.server;
    const fifth = rows[4]!.id;
    await sql`create trigger planted before update of time on schedule when old.id = ${sql.lit(fifth)}
      begin select raise(abort, 'planted'); end`.execute(store);
    const stopped = await t.ask('POST /api/schedules/many', { body: { ...body, seen } });
    await sql`drop trigger planted`.execute(store);
    expect(stopped.status).toBe(409);
    expect((stopped.body as unknown as { message: string }).message).toMatch(
      /^Stopped after 4 of 6 steps; those are done/,
    );
    const times = async () => Promise.all(ids.map(async (id) => (await t.schedule(id)).input.time));
    const changed = (await times()).filter((time) => time === '07:30').length;
    const [act] = (await t.ask('GET /api/schedules/many')).body;
    expect(act).toMatchObject({ count: changed, undone: false });
    expect(changed).toBeGreaterThan(0);
    expect((await t.undoMany(act!.id)).body).toEqual({ undone: changed, kept: [] });
    expect((await times()).sort()).toEqual(ids.map((_, i) => `1${i}:15`));
  });

  it('what was made ready and no longer fits is made ready again, and given up at last', async () => {
    let ready = 0;
    const turn = (fits: () => boolean): Turn<number> => ({
      async ready() {
        ready++;
      },
      async run() {
        if (!fits()) throw new ChangedMeanwhile();
        return ready;
      },
    });
    expect(await inTurns(t.fixture.server, [turn(() => ready === 2)])).toEqual([2]);
    await expect(inTurns(t.fixture.server, [turn(() => false)])).rejects.toThrow(
      'Someone else is changing the same schedules. Review again, then retry.',
    );
  });

  it.each([
    ['pause', { resumesOn: '2026-12-01' }, { active: false, resumesOn: '2026-12-01' }, { active: true }],
    ['extend', { lastDate: '2027-12-31' }, { input: { lastDate: '2027-12-31' } }, { input: { lastDate: null } }],
    [
      'signOff',
      { signOff: { rule: 'first', asks: null } },
      { input: { signOff: { rule: 'first' } } },
      { input: { signOff: { rule: 'none' } } },
    ],
    ['end', {}, { ended: 'It was ended.' }, { ended: null, active: true }],
  ])('%s, and that is undone', async (what, more, then, before) => {
    const id = await t.start();
    const body = { schedules: [id], act: { do: what, ...more } };
    const { seen } = (await t.ask('POST /api/schedules/many', { body })).body;
    const { done } = (await t.ask('POST /api/schedules/many', { body: { ...body, seen } })).body;
    expect(await t.schedule(id)).toMatchObject(then);
    await t.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } });
    expect(await t.schedule(id)).toMatchObject(before);
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(t.mails()).toHaveLength(1);
  });

  it('leave as it is what would not be well formed, and say why', async () => {
    const id = await t.start({ signOff: { rule: 'until', until: '09:00', asks: null } });
    const problem = async (act: object) =>
      (await t.ask('POST /api/schedules/many', { body: { schedules: [id], act } })).body.rows[0]!.problem;
    expect(await problem({ do: 'retime', time: '10:00', zone: null })).toContain('before the send time');
    expect(await problem({ do: 'extend', lastDate: '2020-01-01' })).toContain('before the start date');
    expect(await problem({ do: 'pause', resumesOn: '2020-01-01' })).toContain('future date');
  });

  it('replaces a person everywhere: schedules, groups, lists; and puts all back', async () => {
    const params = { client: t.f.client };
    const list = { name: 'Board', contacts: [t.f.contact] };
    const listId = (await t.ask('POST /api/clients/:client/lists', { params, body: list })).body.id;
    const [one, two] = [await t.start(), await t.start({ readers: [{ list: listId }] })];
    const groups = {
      by: 'device',
      without: [],
      groups: [{ id: 'g1', value: 'Mobile', readers: [{ contact: t.f.contact }] }],
    };
    const three = await t.start({ readers: [], groups });
    const who = { email: 'Olga@tarnbeck.example', firstName: 'Olga', lastName: 'Kell' };
    const act = { do: 'replace', from: 'petra@tarnbeck.example', who, left: true };
    const body = { schedules: null, act };
    const seen = (await t.ask('POST /api/schedules/many', { body })).body;
    expect(seen.rows.map((r) => [r.title, r.before, r.after]).sort()).toEqual([
      ['List “Board”', 'Petra Lund', 'Olga Kell'],
      ['Monthly overview', 'Petra Lund', 'Olga Kell'],
      ['Monthly overview', 'Petra Lund', 'Olga Kell'],
    ]);
    const { done, changes } = (await t.ask('POST /api/schedules/many', { body: { ...body, seen: seen.seen } })).body;
    expect(changes).toBe(3);
    const people = async () => (await t.ask('GET /api/who-gets-what')).body.people.map((p) => [p.email, p.gets.length]);
    expect(await people()).toEqual([['olga@tarnbeck.example', 3]]);
    const petra = (await t.ask('GET /api/clients/:client', { params })).body.contacts.find(
      (c) => c.id === t.f.contact,
    )!;
    expect(petra.standing).toBe('left');
    const entries = await t.fixture.server.store
      .selectFrom('ledger')
      .select('detail')
      .where('action', '=', 'schedules.many')
      .execute();
    expect(entries.map((e) => JSON.parse(e.detail))).toEqual([
      { what: 'petra@tarnbeck.example replaced by Olga Kell in 3 places', count: 3 },
    ]);
    await t.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } });
    expect(await people()).toEqual([['petra@tarnbeck.example', 3]]);
    expect((await t.ask('GET /api/clients/:client', { params })).body.contacts.map((c) => c.firstName)).toEqual([
      'Petra',
    ]);
    expect([one, two, three]).toHaveLength(3);
  });

  it('are undone by nobody for clients that they do not see any more, editions included', async () => {
    const schedule = await t.start();
    const email = 'third@fernglass.example';
    const third = await t.memberOf(email, 'manager', [t.f.client]);
    const body = { schedules: [schedule], act: { do: 'retime', time: '07:30', zone: null } };
    const { seen } = (await third.ask('POST /api/schedules/many', { body })).body;
    const act = (await third.ask('POST /api/schedules/many', { body: { ...body, seen } })).body.done!;
    await t.fixture.moveTo('2026-11-03T06:00:00Z');
    const edition = await t.edition();
    await keepChange(t.fixture.server.store, act, { kind: 'edition', id: edition.id });
    const member = (await t.ask('GET /api/members')).body.find((m) => m.email === email)!.id;
    const change = { name: 'Third', role: 'manager', clients: [] };
    expect((await t.ask('PUT /api/members/:member', { params: { member }, body: change })).status).toBe(200);
    const again = await visit(t.fixture.server.url, email);
    const undone = await again.ask('POST /api/schedules/many/:act/undo', { params: { act } });
    expect(undone.body).toEqual({ undone: 0, kept: ['A schedule of a client you can no longer see'] });
    expect((await t.edition()).state).toBe(edition.state);
    expect((await t.schedule(schedule)).input.time).toBe('07:30');
  });

  it('replaces nobody by themselves: they would read no more', async () => {
    const id = await t.start();
    const who = { email: 'PETRA@tarnbeck.example', firstName: 'Petra' };
    const act = { do: 'replace', from: 'petra@tarnbeck.example', who, left: true };
    const { rows, changes } = (await t.ask('POST /api/schedules/many', { body: { schedules: null, act } })).body;
    expect(rows.map((r) => r.problem)).toEqual(['This is the same person.']);
    expect(changes).toBe(0);
    expect((await t.schedule(id)).input.readers).toEqual([{ contact: t.f.contact }]);
  });

  it('puts back what was noted of people as it was, but for what somebody has noted since', async () => {
    const petra = async () => (await t.contacts()).find((c) => c.id === t.f.contact)!;
    const note = async (standing: string) => {
      const { id, approved: _, stopped: __, ...said } = await petra();
      const params = { client: t.f.client, contact: id };
      await t.ask('PUT /api/clients/:client/contacts/:contact', { params, body: { ...said, standing } as never });
    };
    await t.start();
    const who = { email: 'olga@tarnbeck.example', firstName: 'Olga' };
    const replace = { do: 'replace', from: 'petra@tarnbeck.example', who, left: true };
    await note('bounced');
    const first = await t.doMany(null, replace);
    expect((await petra()).standing).toBe('left');
    await t.undoMany(first);
    // Mails to her came back before, and would again.
    expect((await petra()).standing).toBe('bounced');
    await note('reads');
    const second = await t.doMany(null, replace);
    await note('bounced');
    expect((await t.undoMany(second)).body).toEqual({ undone: 1, kept: ['The status of Petra Lund'] });
    expect((await petra()).standing).toBe('bounced');
  });

  it('approves an address with what it was approved for, and no longer once that is undone', async () => {
    await t.start();
    const text = 'Nils Holm <nils@elsewhere.example>';
    const params = { client: t.f.client };
    const { seen } = (await t.ask('POST /api/clients/:client/contacts/many', { params, body: { text } })).body;
    await t.ask('POST /api/clients/:client/contacts/many', { params, body: { text, seen } });
    const nils = async () => (await t.contacts()).find((c) => c.firstName === 'Nils')!;
    const who = { email: 'nils@elsewhere.example', firstName: 'Nils' };
    const act = await t.doMany(null, { do: 'replace', from: 'petra@tarnbeck.example', who, outside: true });
    expect((await nils()).stopped).toBeNull();
    await t.undoMany(act);
    expect((await nils()).stopped).toContain('has an unapproved address outside the client’s domains.');
  });

  it('add a reader to what was for the archive alone: it goes to them, until that is undone', async () => {
    const id = await t.start({ readers: [], archive: true });
    const who = { email: 'petra@tarnbeck.example', firstName: 'Petra' };
    const act = await t.doMany([id], { do: 'add', who });
    expect((await t.schedule(id)).input).toMatchObject({ archive: false, readers: [{ contact: t.f.contact }] });
    await t.undoMany(act);
    expect((await t.schedule(id)).input).toMatchObject({ archive: true, readers: [] });
  });

  it('make an edition of each, to be looked at; undone, they are left out', async () => {
    const [one, two] = [await t.start(), await t.start({ time: '09:00' })];
    const act = await t.doMany([one, two], { do: 'make' });
    await t.fixture.server.scheduler.settle();
    expect((await t.editions()).map((e) => [e.kind, e.state])).toEqual([
      ['by-hand', 'review'],
      ['by-hand', 'review'],
    ]);
    expect((await t.undoMany(act)).body.undone).toBe(2);
    expect((await t.editions()).map((e) => e.state)).toEqual(['skipped', 'skipped']);
    expect(t.mails()).toEqual([]);
  });

  it('asks before a person at another domain reads, and leaves out what nobody would read', async () => {
    await t.start();
    const who = { email: 'olga@elsewhere.example', firstName: 'Olga' };
    const act = { do: 'replace', from: 'petra@tarnbeck.example', who };
    const asked = (await t.ask('POST /api/schedules/many', { body: { schedules: null, act } })).body;
    expect(asked.rows[0]!.problem).toContain('outside the usual domains');
    const right = (
      await t.ask('POST /api/schedules/many', { body: { schedules: null, act: { ...act, outside: true } } })
    ).body;
    expect(right.rows[0]!.problem).toBeNull();
    const drop = { do: 'drop', from: 'petra@tarnbeck.example' };
    const dropped = (await t.ask('POST /api/schedules/many', { body: { schedules: null, act: drop } })).body;
    expect(dropped.rows[0]!.problem).toContain(
      'This would leave it without readers. End or pause it, or add another reader.',
    );
    expect(dropped.changes).toBe(0);
  });

  it('are put back by nobody who does not see their client any more, and not named to them', async () => {
    const id = await t.start();
    const manager = await t.memberOf('gone@fernglass.example', 'manager', [t.f.client]);
    const body = { schedules: [id], act: { do: 'pause', resumesOn: null } };
    const { seen } = (await manager.ask('POST /api/schedules/many', { body })).body;
    const { done } = (await manager.ask('POST /api/schedules/many', { body: { ...body, seen } })).body;
    await t.fixture.server.store.deleteFrom('assignment').where('client_id', '=', t.f.client).execute();
    const undone = (await manager.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).body;
    expect(undone).toEqual({ undone: 0, kept: ['A schedule of a client you can no longer see'] });
    expect((await t.schedule(id)).active).toBe(false);
  });

  it('reach no client that one does not see', async () => {
    const id = await t.start();
    const stranger = await t.memberOf('stranger@fernglass.example', 'manager', []);
    const body = { schedules: [id], act: { do: 'end' } };
    expect((await stranger.ask('POST /api/schedules/many', { body })).status).toBe(404);
    const everywhere = { schedules: null, act: { do: 'drop', from: 'petra@tarnbeck.example' } };
    expect((await stranger.ask('POST /api/schedules/many', { body: everywhere })).body.rows).toEqual([]);
    for (const route of ['GET /api/schedules', 'GET /api/who-gets-what', 'GET /api/almanac'] as const) {
      expect(JSON.stringify((await stranger.ask(route)).body)).not.toContain('Tarnbeck');
    }
  });
});

describe('the same for each client of a tag', () => {
  const second = async () => {
    const body = {
      name: 'Bare Hill',
      zone: 'Europe/Berlin',
      currency: 'EUR',
      language: 'en-GB',
      weekStart: 1,
      fiscalStart: 1,
      startDate: '2025-01-01',
    };
    const client = (await t.ask('POST /api/clients', { body })).body.id;
    const params = { client };
    const person = { firstName: 'Mara', lastName: 'Holt', email: 'mara@barehill.example' };
    const contact = (await t.ask('POST /api/clients/:client/contacts', { params, body: person })).body.id;
    const like = { title: 'Monthly overview', starter: 'shop' };
    const report = (await t.ask('POST /api/clients/:client/reports', { params, body: like })).body;
    const release = { params: { report: report.id }, body: { version: report.version } };
    await t.ask('POST /api/reports/:report/release', release);
    await t.ask('PUT /api/clients/:client/tags', { params, body: { tags: ['crafts'] } });
    return { client, contact };
  };

  it('has its own report, clock and readers; who comes later stands on the Desk; and it is undone at once', async () => {
    const id = await t.start();
    const params = { schedule: id };
    const { client, contact } = await second();
    await t.ask('PUT /api/clients/:client/tags', { params: { client: t.f.client }, body: { tags: ['Crafts'] } });
    const shown = (await t.ask('GET /api/schedules/:schedule/series', { params })).body;
    expect(shown).toMatchObject({
      tag: 'Crafts',
      clients: [
        { id: client, report: { title: 'Monthly overview' }, schedule: null, contacts: [{ name: 'Mara Holt' }] },
      ],
    });
    const chosen = [{ client, readers: [{ contact }], greeting: 'Dear all at the hill,' }];
    const made = await t.ask('POST /api/schedules/:schedule/series', {
      params,
      body: { tag: 'Crafts', clients: chosen },
    });
    expect(made.body).toEqual({ made: 1, problems: [] });
    const [theirs] = (await t.ask('GET /api/clients/:client/schedules', { params: { client } })).body;
    expect(theirs!.input).toMatchObject({ zone: 'Europe/Berlin', time: '08:00', readers: [{ contact }] });
    expect(theirs!.input.message).toMatch(/^Dear all at the hill,/);
    // Twice is once.
    await t.ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients: chosen } });
    expect((await t.ask('GET /api/clients/:client/schedules', { params: { client } })).body).toHaveLength(1);
    const need = async () => (await t.ask('GET /api/desk')).body.needs.find((n) => n.key === `series-${id}`);
    expect(await need()).toBeUndefined();
    const [act] = (await t.ask('GET /api/schedules/many')).body;
    expect(act!.what).toBe('Scheduled for 1 client of Crafts');
    await t.ask('POST /api/schedules/many/:act/undo', { params: { act: act!.id } });
    expect((await t.ask('GET /api/clients/:client/schedules', { params: { client } })).body).toEqual([]);
    expect((await need())?.title).toContain('is not scheduled for Bare Hill');
  });

  it('is not started with a message that would be too long, and says so; the others are', async () => {
    const id = await t.start({ message: 'x'.repeat(4000) });
    const { client, contact } = await second();
    const body = { tag: 'Crafts', clients: [{ client, readers: [{ contact }], greeting: 'Dear all,' }] };
    const made = await t.ask('POST /api/schedules/:schedule/series', { params: { schedule: id }, body });
    expect(made.body).toMatchObject({ made: 0, problems: [{ client: 'Bare Hill' }] });
    expect(made.body.problems[0]!.text).toContain('4,000 characters');
  });

  it('takes no reader of another client, and says where a report like it lacks', async () => {
    const id = await t.start();
    const { client } = await second();
    const clients = [{ client, readers: [{ contact: t.f.contact }] }];
    const params = { schedule: id };
    const strange = await t.ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients } });
    expect(strange.body).toMatchObject({ made: 0, problems: [{ client: 'Bare Hill' }] });
    const other = await t.ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Other', clients } });
    expect(other.body).toEqual({
      made: 0,
      problems: [{ client: 'Bare Hill', text: 'It doesn’t have the tag Other.' }],
    });
    await t.fixture.server.store
      .updateTable('report')
      .set({ released_title: 'Another' })
      .where('client_id', '=', client)
      .execute();
    const none = await t.ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients } });
    expect(none.body.problems[0]!.text).toContain('no released report');
  });
});
