import { afterEach, beforeEach, expect } from 'vitest';
import {
  editionsOf,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
  type Visitor,
} from './harness.ts';

/** A furnished server for each test of a file, and what tests of planning ask of it. */
export function planningFixture() {
  let fixture: TestFixture;
  let f: Furnished;
  beforeEach(async () => {
    ({ fixture, f } = await openFurnishedFixture());
  });
  afterEach(() => fixture.close());

  const ask: Visitor['ask'] = (...args) => fixture.owner.ask(...args);
  return {
    get fixture() {
      return fixture;
    },
    get f() {
      return f;
    },
    ask,
    /** Starts a schedule as {@link scheduleFor} has it, but for `change`. @returns its id */
    async start(change: object = {}): Promise<string> {
      const params = { client: f.client };
      const made = await ask('POST /api/clients/:client/schedules', { params, body: { ...scheduleFor(f), ...change } });
      expect(made.status, JSON.stringify(made.body)).toBe(200);
      return made.body.id;
    },
    schedule: async (id: string) => (await ask('GET /api/schedules/:schedule', { params: { schedule: id } })).body,
    setRun: (id: string, nominal: string, body: object) =>
      ask('PUT /api/schedules/:schedule/runs/:nominal', { params: { schedule: id, nominal }, body }),
    editions: () => editionsOf(fixture, f.client),
    edition: async () => (await editionsOf(fixture, f.client))[0]!,
    mails: () => fixture.simulators.mails.list(),
    addContact: (firstName: string, more: object = {}) => {
      const email = `${firstName.toLowerCase()}@tarnbeck.example`;
      const body = { firstName, lastName: 'Kell', email, ...more };
      return ask('POST /api/clients/:client/contacts', { params: { client: f.client }, body });
    },
    contacts: async () => (await ask('GET /api/clients/:client', { params: { client: f.client } })).body.contacts,
    /** Sees what an act on many schedules would do, and does it. @returns the id of what was done */
    async doMany(schedules: string[] | null, act: object): Promise<string> {
      const body = { schedules, act };
      const { seen } = (await ask('POST /api/schedules/many', { body })).body;
      const done = await ask('POST /api/schedules/many', { body: { ...body, seen } });
      expect(done.status, JSON.stringify(done.body)).toBe(200);
      return done.body.done!;
    },
    undoMany: (act: string) => ask('POST /api/schedules/many/:act/undo', { params: { act } }),
    memberOf: (email: string, role: Parameters<typeof memberOf>[2], clients: string[]) =>
      memberOf(fixture, email, role, clients),
    sendSeen: (edition: string) => sendSeen(fixture, edition),
  };
}
