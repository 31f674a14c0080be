import { guard } from '@chronicon/core/client';
import { readerKey } from '@chronicon/core/report';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clientById, contactsOf, saveContact } from '../store/clients.ts';
import { listsOf } from '../store/readerLists.ts';
import { scheduleById } from '../store/schedules.ts';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { peopleIn, readersOfGroup } from './ordersOfRun.ts';

/** More of them prove more, and take longer: `CHRONICON_RUNS=50`. */
const RUNS = Number(process.env.CHRONICON_RUNS ?? 2);
const NAMES = ['Uwe', 'Olga', 'Mara', 'Nils', 'Ivo'] as const;
const who = fc.constantFrom(...NAMES);
const act = fc.oneof(
  fc.record({ kind: fc.constant('standing' as const), who, as: fc.constantFrom('left', 'bounced', 'reads') }),
  fc.record({ kind: fc.constant('address' as const), who, at: fc.constantFrom('tarnbeck', 'elsewhere', 'pigeon') }),
  fc.record({ kind: fc.constant('approve' as const), who }),
  fc.record({ kind: fc.constant('list' as const), on: fc.subarray([...NAMES]) }),
  fc.record({
    kind: fc.constant('readers' as const),
    to: fc.subarray([...NAMES]),
    list: fc.boolean(),
    member: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('groups' as const), one: fc.subarray([...NAMES]), two: fc.subarray([...NAMES]) }),
  fc.record({
    kind: fc.constant('domains' as const),
    to: fc.constantFrom('tarnbeck.example', 'tarnbeck.example elsewhere.example'),
  }),
  fc.record({ kind: fc.constant('remove' as const), who }),
);

type Act = typeof act extends fc.Arbitrary<infer A> ? A : never;

/** Days on which all goes: of two readers, the one elsewhere is approved first. */
const PLAIN: Act[][] = [[{ kind: 'approve', who: 'Nils' }], [{ kind: 'approve', who: 'Uwe' }]];

/** A client with people of whom some are elsewhere; whatever is done with them, one edition after the other goes. */
async function live(fixture: TestFixture, f: Furnished, rounds: readonly (readonly Act[])[]): Promise<number> {
  const { store, clock } = fixture.server;
  const ask: TestFixture['owner']['ask'] = (...args) => fixture.owner.ask(...args);
  const params = { client: f.client };
  const ids: Record<string, string> = {};
  for (const name of NAMES) {
    const email = `${name.toLowerCase()}@${name === 'Nils' ? 'elsewhere' : 'tarnbeck'}.example`;
    // As an import does: nobody was asked about each address.
    ids[name] = (await saveContact(store, f.client, { firstName: name, lastName: '', email }, clock.now())).id;
  }
  const member = (await ask('GET /api/colleagues')).body[0]!;
  const list = (await ask('POST /api/clients/:client/lists', { params, body: { name: 'Board', contacts: [] } })).body
    .id;
  const daily = { rule: { freq: 'daily' as const }, period: { kind: 'rolling' as const, days: 1 }, time: '12:00' };
  const body = { ...scheduleFor(f, daily), readers: [{ contact: ids.Uwe! }, { list }, { contact: ids.Nils! }] };
  const schedule = (await ask('POST /api/clients/:client/schedules', { params, body })).body.id;
  const change = async (patch: object) => {
    const { input } = (await ask('GET /api/schedules/:schedule', { params: { schedule } })).body;
    await ask('PUT /api/schedules/:schedule', { params: { schedule }, body: { ...input, ...patch } });
  };
  const of = (names: readonly string[]) => names.map((n) => ({ contact: ids[n]! }));
  const put = async (name: string, patch: object) => {
    const contact = (await ask('GET /api/clients/:client', { params })).body.contacts.find((c) => c.id === ids[name]);
    if (!contact) return;
    const { id, approved: _, stopped: __, ...said } = contact;
    await ask('PUT /api/clients/:client/contacts/:contact', {
      params: { ...params, contact: id },
      body: { ...said, ...patch },
    });
  };
  let handed = 0;
  for (const [day, acts] of rounds.entries()) {
    // Drawn, and then changed: what counts is what is true when each mail is handed over.
    await fixture.moveTo(`2026-11-${String(3 + day).padStart(2, '0')}T11:00:00Z`);
    for (const a of acts) {
      if (a.kind === 'standing') await put(a.who, { standing: a.as });
      if (a.kind === 'address') {
        // Straight into the store: whatever way it came, the guard looks at it.
        const email = `${a.who.toLowerCase()}@${a.at}.example`;
        await store.updateTable('contact').set({ email }).where('id', '=', ids[a.who]!).execute();
      }
      if (a.kind === 'approve') await put(a.who, { outside: 'address' });
      if (a.kind === 'list') {
        const contacts = a.on.map((n) => ids[n]!);
        await ask('PUT /api/clients/:client/lists/:list', {
          params: { ...params, list },
          body: { name: 'Board', contacts },
        });
      }
      if (a.kind === 'readers') {
        const readers = [...of(a.to), ...(a.list ? [{ list }] : []), ...(a.member ? [{ member: member.id }] : [])];
        await change({ readers, groups: null });
      }
      if (a.kind === 'groups') {
        const group = (id: string, value: string, names: readonly string[]) => ({ id, value, readers: of(names) });
        const groups = {
          by: 'device',
          without: [],
          groups: [group('g1', 'Mobile', a.one), group('g2', 'Desktop', a.two)],
        };
        await change({ readers: [], groups });
      }
      if (a.kind === 'domains') {
        const client = (await ask('GET /api/clients/:client', { params })).body;
        await ask('PUT /api/clients/:client', { params, body: { ...client, domains: a.to } });
      }
      if (a.kind === 'remove') {
        await ask('DELETE /api/clients/:client/contacts/:contact', { params: { ...params, contact: ids[a.who]! } });
      }
    }
    // What the guard says of each reader now, by its own plain rule.
    const client = (await clientById(store, f.client))!;
    const s = (await scheduleById(store, schedule))!;
    const contacts = new Map((await contactsOf(store, f.client)).map((c) => [c.id, c]));
    const lists = await listsOf(store, f.client);
    const groups = s.groups?.groups.map((g) => g.id) ?? [''];
    const readers = groups.flatMap((g) => peopleIn(readersOfGroup(s, g), lists)).map(readerKey);
    const passed = readers.flatMap((id) => {
      if (id === member.id) return ['ines@fernglass.example'];
      const c = contacts.get(id);
      return c && guard(client, c) === null ? [c.email] : [];
    });
    const before = fixture.simulators.mails.list().length;
    await fixture.moveTo(`2026-11-${String(3 + day).padStart(2, '0')}T12:00:30Z`);
    const mails = fixture.simulators.mails.list();
    const fresh = mails.length - before;
    handed += fresh;
    const sent = await store
      .selectFrom('delivery')
      .innerJoin('edition', 'edition.id', 'delivery.edition_id')
      .select('delivery.email')
      .where('delivery.state', '=', 'accepted')
      .where('edition.nominal', '=', `2026-11-${String(3 + day).padStart(2, '0')}`)
      .execute();
    expect(sent).toHaveLength(fresh);
    for (const { email } of sent) expect(passed).toContain(email);
  }
  // Nothing came by another way.
  const known = (await store.selectFrom('delivery').select('email').where('state', '=', 'accepted').execute()).map(
    (d) => d.email,
  );
  expect(
    fixture.simulators.mails
      .list()
      .map((m) => m.to)
      .sort(),
  ).toEqual(known.sort());
  return handed;
}

describe('over random readers, lists, groups and removals', () => {
  it('no mail is handed over to an address that the guard has not passed', async () => {
    let handed = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(act, { minLength: 1, maxLength: 4 }), { minLength: 4, maxLength: 5 }),
        async (rounds) => {
          const { fixture, f } = await openFurnishedFixture();
          try {
            handed += await live(fixture, f, rounds);
          } finally {
            await fixture.close();
          }
        },
      ),
      { numRuns: RUNS + 1, examples: [[PLAIN]] },
    );
    // It is no rule that nothing goes: the plain days alone have two mails each.
    expect(handed).toBeGreaterThanOrEqual(2 * PLAIN.length);
  }, 3_600_000);
});
