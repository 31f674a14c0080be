import { MOST_LISTS } from '@chronicon/core/bounds';
import { describe, expect, it } from 'vitest';
import { furnish, scheduleFor } from '../test/harness.ts';
import { planningFixture } from '../test/planning.ts';

const t = planningFixture();
const addList = (name: string, contacts: string[]) =>
  t.ask('POST /api/clients/:client/lists', { params: { client: t.f.client }, body: { name, contacts } });
const added = async (firstName: string) => (await t.addContact(firstName)).body.id;
const lists = async () => (await t.ask('GET /api/clients/:client', { params: { client: t.f.client } })).body.lists;
const readersOfMails = () =>
  t
    .mails()
    .map((m) => m.to)
    .sort();

describe('a list of a client’s contacts', () => {
  it('has a name of its own, whatever its capitals, and keeps it while it is changed', async () => {
    const board = (await addList('Board', [t.f.contact])).body.id;
    expect((await addList('board', [])).fields).toEqual({ name: 'A list with this name already exists.' });
    const mara = await added('Mara');
    const body = { name: 'Board', contacts: [t.f.contact, mara] };
    const params = { client: t.f.client, list: board };
    expect((await t.ask('PUT /api/clients/:client/lists/:list', { params, body })).status).toBe(200);
    expect(await lists()).toEqual([{ id: board, ...body }]);
    await addList('Shop', []);
    const taken = await t.ask('PUT /api/clients/:client/lists/:list', { params, body: { ...body, name: 'SHOP' } });
    expect(taken.fields).toEqual({ name: 'A list with this name already exists.' });
  });

  it('holds each contact of its own client once, and nobody else', async () => {
    const other = await furnish(t.fixture, false, { name: 'Saltgate Bikes' });
    const words = { contacts: 'Choose each person once, from this client’s contacts.' };
    expect((await addList('Board', [other.contact])).fields).toEqual(words);
    expect((await addList('Board', [t.f.contact, t.f.contact])).fields).toEqual(words);
    const board = (await addList('Board', [t.f.contact])).body.id;
    const params = { client: t.f.client, list: board };
    const changed = await t.ask('PUT /api/clients/:client/lists/:list', {
      params,
      body: { name: 'Board', contacts: [other.contact] },
    });
    expect(changed.fields).toEqual(words);
    expect((await lists())[0]!.contacts).toEqual([t.f.contact]);
  });

  it('is found under its own client alone, and changed by those who may', async () => {
    const other = await furnish(t.fixture, false, { name: 'Saltgate Bikes' });
    const board = (await addList('Board', [t.f.contact])).body.id;
    const params = { client: other.client, list: board };
    const body = { name: 'Taken', contacts: [] };
    expect((await t.ask('PUT /api/clients/:client/lists/:list', { params, body })).status).toBe(404);
    expect((await t.ask('DELETE /api/clients/:client/lists/:list', { params })).status).toBe(404);
    const reviewer = await t.memberOf('looker@fernglass.example', 'reviewer', [t.f.client]);
    const own = { client: t.f.client, list: board };
    expect((await reviewer.ask('PUT /api/clients/:client/lists/:list', { params: own, body })).status).toBe(403);
    expect((await lists())[0]!.name).toBe('Board');
  });

  it('is one of so many at most', async () => {
    for (let i = 0; i < MOST_LISTS; i++) expect((await addList(`List ${i}`, [])).status).toBe(200);
    expect((await addList('One more', [])).fields.name).toContain(`at most ${MOST_LISTS} lists`);
  });

  it('is not removed while a schedule, or a group of one, addresses it: that is named', async () => {
    const board = (await addList('Board', [t.f.contact])).body.id;
    const groups = { by: 'device', groups: [{ id: 'g1', value: 'Mobile', readers: [{ list: board }] }], without: [] };
    const made = await t.start({ readers: [{ contact: t.f.contact }], groups });
    const params = { client: t.f.client, list: board };
    const remove = () => t.ask('DELETE /api/clients/:client/lists/:list', { params });
    expect((await remove()).fields.list).toBe(
      'Still receives “Monthly overview” at 08:00. Choose other readers there first.',
    );
    const schedule = { schedule: made };
    const body = scheduleFor(t.f, { readers: [{ contact: t.f.contact }] });
    expect((await t.ask('PUT /api/schedules/:schedule', { params: schedule, body })).status).toBe(200);
    expect((await remove()).status).toBe(200);
    expect(await lists()).toEqual([]);
  });

  it('loses a contact who is removed, and none who still reads something', async () => {
    const mara = await added('Mara');
    await addList('Board', [t.f.contact, mara]);
    await t.start({ readers: [{ contact: t.f.contact }] });
    const remove = (contact: string) =>
      t.ask('DELETE /api/clients/:client/contacts/:contact', { params: { client: t.f.client, contact } });
    expect((await remove(t.f.contact)).fields.contact).toContain('Still receives “Monthly overview”');
    expect((await remove(mara)).status).toBe(200);
    expect((await lists())[0]!.contacts).toEqual([t.f.contact]);
  });

  it('reaches who is on it when the edition goes: who came to it after planning does, who left it does not', async () => {
    const [mara, nils] = [await added('Mara'), await added('Nils')];
    const board = (await addList('Board', [t.f.contact, mara])).body.id;
    await t.start({ readers: [{ list: board }] });
    await t.fixture.moveTo('2026-11-03T06:00:00Z');
    expect((await t.editions())[0]!.state).toBe('ready');
    const params = { client: t.f.client, list: board };
    await t.ask('PUT /api/clients/:client/lists/:list', { params, body: { name: 'Board', contacts: [mara, nils] } });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(readersOfMails()).toEqual(['mara@tarnbeck.example', 'nils@tarnbeck.example']);
  });

  it('gives who is on two of them, and named besides, one mail', async () => {
    const [board, shop] = [
      (await addList('Board', [t.f.contact])).body.id,
      (await addList('Shop', [t.f.contact])).body.id,
    ];
    await t.start({ readers: [{ list: board }, { list: shop }, { contact: t.f.contact }] });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(readersOfMails()).toEqual(['petra@tarnbeck.example']);
  });

  it('that is empty is no reader: the edition waits, and somebody is told', async () => {
    const board = (await addList('Board', [])).body.id;
    await t.start({ readers: [{ list: board }] });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(t.fixture.simulators.mails.list()).toEqual([]);
    expect((await t.editions())[0]).toMatchObject({
      state: 'held',
      reason: expect.stringContaining('No recipients. Add readers to the schedule.'),
    });
  });
});
