import { MOST_LISTS } from '@chronicon/core/bounds';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  furnish,
  memberOf,
  openFurnishedBed,
  scheduleFor,
  type TestBed,
  type Visitor,
} from '../test/harness.ts';

let bed: TestBed;
let f: Furnished;
beforeEach(async () => {
  ({ bed, f } = await openFurnishedBed());
});
afterEach(() => bed.close());

const ask: Visitor['ask'] = (...args) => bed.owner.ask(...args);
const addList = (name: string, contacts: string[], client = f.client) =>
  ask('POST /api/clients/:client/lists', { params: { client }, body: { name, contacts } });
const addContact = async (firstName: string) => {
  const body = { firstName, lastName: 'Kell', email: `${firstName.toLowerCase()}@tarnbeck.example` };
  return (await ask('POST /api/clients/:client/contacts', { params: { client: f.client }, body })).body.id;
};
const start = (change: object) =>
  ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: { ...scheduleFor(f), ...change } });
const lists = async () => (await ask('GET /api/clients/:client', { params: { client: f.client } })).body.lists;
const readersOfMails = () =>
  bed.standins.mails
    .list()
    .map((m) => m.to)
    .sort();

describe('a list of a client’s contacts', () => {
  it('has a name of its own, whatever its capitals, and keeps it while it is changed', async () => {
    const board = (await addList('Board', [f.contact])).body.id;
    expect((await addList('board', [])).fields).toEqual({ name: 'There is a list of that name already.' });
    const mara = await addContact('Mara');
    const body = { name: 'Board', contacts: [f.contact, mara] };
    const params = { client: f.client, list: board };
    expect((await ask('PUT /api/clients/:client/lists/:list', { params, body })).status).toBe(200);
    expect(await lists()).toEqual([{ id: board, ...body }]);
    await addList('Shop', []);
    const taken = await ask('PUT /api/clients/:client/lists/:list', { params, body: { ...body, name: 'SHOP' } });
    expect(taken.fields).toEqual({ name: 'There is a list of that name already.' });
  });

  it('holds each contact of its own client once, and nobody else', async () => {
    const other = await furnish(bed, false, { name: 'Saltgate Bikes' });
    const words = { contacts: 'Choose each person once, from the contacts of this client.' };
    expect((await addList('Board', [other.contact])).fields).toEqual(words);
    expect((await addList('Board', [f.contact, f.contact])).fields).toEqual(words);
    const board = (await addList('Board', [f.contact])).body.id;
    const params = { client: f.client, list: board };
    const changed = await ask('PUT /api/clients/:client/lists/:list', {
      params,
      body: { name: 'Board', contacts: [other.contact] },
    });
    expect(changed.fields).toEqual(words);
    expect((await lists())[0]!.contacts).toEqual([f.contact]);
  });

  it('is found under its own client alone, and changed by those who may', async () => {
    const other = await furnish(bed, false, { name: 'Saltgate Bikes' });
    const board = (await addList('Board', [f.contact])).body.id;
    const params = { client: other.client, list: board };
    const body = { name: 'Taken', contacts: [] };
    expect((await ask('PUT /api/clients/:client/lists/:list', { params, body })).status).toBe(404);
    expect((await ask('DELETE /api/clients/:client/lists/:list', { params })).status).toBe(404);
    const reviewer = await memberOf(bed, 'looker@fernglass.example', 'reviewer', [f.client]);
    const own = { client: f.client, list: board };
    expect((await reviewer.ask('PUT /api/clients/:client/lists/:list', { params: own, body })).status).toBe(403);
    expect((await lists())[0]!.name).toBe('Board');
  });

  it('is one of so many at most', async () => {
    for (let i = 0; i < MOST_LISTS; i++) expect((await addList(`List ${i}`, [])).status).toBe(200);
    expect((await addList('One more', [])).fields.name).toContain(`at most ${MOST_LISTS} lists`);
  });

  it('is not removed while a schedule, or a group of one, addresses it: that is named', async () => {
    const board = (await addList('Board', [f.contact])).body.id;
    const groups = { by: 'device', groups: [{ id: 'g1', value: 'Mobile', readers: [{ list: board }] }], without: [] };
    const made = await start({ readers: [{ contact: f.contact }], groups });
    expect(made.status, JSON.stringify(made.body)).toBe(200);
    const params = { client: f.client, list: board };
    const remove = () => ask('DELETE /api/clients/:client/lists/:list', { params });
    expect((await remove()).fields.list).toBe(
      'Still a reader of the schedule “Monthly overview” at 08:00. Choose other readers there first.',
    );
    const schedule = { schedule: made.body.id };
    const body = scheduleFor(f, { readers: [{ contact: f.contact }] });
    expect((await ask('PUT /api/schedules/:schedule', { params: schedule, body })).status).toBe(200);
    expect((await remove()).status).toBe(200);
    expect(await lists()).toEqual([]);
  });

  it('loses a contact who is removed, and none who still reads something', async () => {
    const mara = await addContact('Mara');
    await addList('Board', [f.contact, mara]);
    await start({ readers: [{ contact: f.contact }] });
    const remove = (contact: string) =>
      ask('DELETE /api/clients/:client/contacts/:contact', { params: { client: f.client, contact } });
    expect((await remove(f.contact)).fields.contact).toContain('Still a reader of the schedule “Monthly overview”');
    expect((await remove(mara)).status).toBe(200);
    expect((await lists())[0]!.contacts).toEqual([f.contact]);
  });

  it('reaches who is on it when the edition goes: who came to it after planning does, who left it does not', async () => {
    const [mara, nils] = [await addContact('Mara'), await addContact('Nils')];
    const board = (await addList('Board', [f.contact, mara])).body.id;
    expect((await start({ readers: [{ list: board }] })).status).toBe(200);
    await bed.moveTo('2026-11-03T06:00:00Z');
    expect((await editionsOf(bed, f.client))[0]!.state).toBe('cleared');
    const params = { client: f.client, list: board };
    await ask('PUT /api/clients/:client/lists/:list', { params, body: { name: 'Board', contacts: [mara, nils] } });
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(readersOfMails()).toEqual(['mara@tarnbeck.example', 'nils@tarnbeck.example']);
  });

  it('gives who is on two of them, and named besides, one mail', async () => {
    const [board, shop] = [(await addList('Board', [f.contact])).body.id, (await addList('Shop', [f.contact])).body.id];
    await start({ readers: [{ list: board }, { list: shop }, { contact: f.contact }] });
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(readersOfMails()).toEqual(['petra@tarnbeck.example']);
  });

  it('that is empty is no reader: the edition waits, and somebody is told', async () => {
    const board = (await addList('Board', [])).body.id;
    expect((await start({ readers: [{ list: board }] })).status).toBe(200);
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(bed.standins.mails.list()).toEqual([]);
    expect((await editionsOf(bed, f.client))[0]).toMatchObject({
      state: 'held',
      reason: expect.stringContaining('nobody on its lists'),
    });
  });
});
