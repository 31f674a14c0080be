import { createHash } from 'node:crypto';
import { cpSync, rmSync } from 'node:fs';
import { PLAIN_CHOICES, type Role, type RouteName, type Routes, type ScheduleInput } from '@chronicon/core/contract';
import { DEMO_TOKEN, type Simulators, type StoredMail, startSimulators } from '@chronicon/simulators';
import type { z } from 'zod';
import { hashPassword } from '../access/passwords.ts';
import { type Config, readConfig } from '../platform/config.ts';
import { CHEAP_COST } from '../platform/passwordCost.ts';
import { moveClock } from '../scheduler/moveClock.ts';
import { type RunningServer, startServer } from '../server.ts';
import { createAgency, createMember } from '../store/members.ts';
import { freePort } from './freePort.ts';
import { fromShelf } from './shelf.ts';

export const PASSWORD = 'copper-kettle-17';
export const OWNER = 'ines@fernglass.example';
export const MANAGER = 'joren@fernglass.example';
export const REVIEWER = 'mirel@fernglass.example';
export const ACCOUNT = 'wa-2502';

type Reply<R extends RouteName> = z.output<Routes[R]['reply']>;

export interface Answer<T> {
  status: number;
  body: T;
  /** The sentences for single fields, when the request was refused. */
  fields: Record<string, string>;
}

/** A signed-in member's way into the API, over real HTTP. */
export interface Visitor {
  ask<R extends RouteName>(
    name: R,
    options?: { params?: Record<string, string>; body?: unknown; query?: Record<string, string> },
  ): Promise<Answer<Reply<R>>>;
  raw(path: string, init?: RequestInit): Promise<Response>;
}

export async function visit(url: string, email?: string, password = PASSWORD): Promise<Visitor> {
  let cookie = '';
  let csrf = '';
  const raw: Visitor['raw'] = (path, init = {}) =>
    fetch(url + path, { ...init, headers: { cookie, 'x-csrf-token': csrf, ...init.headers } });
  if (email) {
    const response = await raw('/api/session', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    });
    if (response.status !== 200) throw new Error(`sign-in answered ${response.status}`);
    cookie = response.headers.getSetCookie()[0]!.split(';')[0]!;
    csrf = ((await response.json()) as { csrf: string }).csrf;
  }
  return {
    raw,
    async ask(name, { params = {}, body, query } = {}) {
      const [method, template] = name.split(' ') as [string, string];
      const path = template.replace(/:(\w+)/g, (_, key: string) => params[key] ?? '');
      const response = await raw(query ? `${path}?${new URLSearchParams(query)}` : path, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(method !== 'GET' && { body: JSON.stringify(body ?? {}) }),
      });
      const reply = (await response.json()) as { fields?: Record<string, string> };
      return { status: response.status, body: reply as never, fields: reply.fields ?? {} };
    },
  };
}

export interface TestFixture {
  config: Config;
  server: RunningServer;
  simulators: Simulators;
  owner: Visitor;
  /** Moves the clock to an instant and waits until what became due is done. */
  moveTo(at: string): Promise<void>;
  restart(changes?: Partial<Config>): Promise<void>;
  /** Stops the server: what comes after is done by others on its folder, until a restart. */
  stop(): Promise<void>;
  close(): Promise<void>;
}

/** Simulators and a server's set-up on a data folder, whatever lies in it. */
async function prepareFixture(data: string, today: string, changes: Record<string, string>) {
  const smtpPort = await freePort();
  const simulators = await startSimulators({ smtpPort });
  const config = readConfig({
    CHRONICON_DATA: data,
    CHRONICON_PORT: '0',
    CHRONICON_MODE: 'test',
    CHRONICON_TODAY: today,
    CHRONICON_SMTP: `smtp://127.0.0.1:${smtpPort}`,
    CHRONICON_SIMULATORS: simulators.url,
    CHRONICON_FEEDS: `${simulators.url}/services`,
    // No service here is given up for a machine that is busy; a test that wants that says so.
    CHRONICON_TIMEOUT: '120000',
    CHRONICON_SMTP_WAITS: '1.5,1.5,2',
    CHRONICON_PATIENCE: '3',
    CHRONICON_NOTICES: 'off',
    CHRONICON_UNDO: '0',
    CHRONICON_LOG: process.env.CHRONICON_TEST_LOG ?? 'silent',
    ...changes,
  });
  return { simulators, config };
}

function fixtureOf(first: RunningServer, config: Config, simulators: Simulators, owner: Visitor): TestFixture {
  let server = first;
  let stopped = false;
  const fixture: TestFixture = {
    config,
    server,
    simulators,
    owner,
    async moveTo(to) {
      await moveClock(server, to);
      fixture.owner = await visit(server.url, OWNER);
    },
    async restart(more = {}) {
      if (!stopped) await server.close();
      stopped = false;
      server = await startServer({ ...config, ...more });
      fixture.server = server;
      fixture.owner = await visit(server.url, OWNER);
    },
    async stop() {
      stopped = true;
      await server.close();
    },
    async close() {
      if (!stopped) await fixture.server.close();
      await simulators.close();
      rmSync(config.data, { recursive: true, force: true });
    },
  };
  return fixture;
}

const cheapHash = () => hashPassword(PASSWORD, CHEAP_COST);

/** When the data of a fixture was made: what is made in it afterwards comes after that, however soon it is opened. */
const beforehand = (today: string): string => new Date(Date.parse(today) - 600_000).toISOString();

/** A data folder with an agency and three members: copied, where it was made before. */
async function withAgency(today: string): Promise<string> {
  const { folder } = await fromShelf(`agency-${today.replace(/\W/g, '')}`, async (made) => {
    const { simulators, config } = await prepareFixture(made, beforehand(today), {});
    const server = await startServer(config);
    await createAgency(server.store, {
      name: 'Fernglass Media',
      zone: 'Europe/London',
      mailFrom: 'reports@fernglass.example',
      holidays: [],
      workingDays: [1, 2, 3, 4, 5],
    });
    const password = await cheapHash();
    const at = server.clock.now();
    await createMember(server.store, { name: 'Ines Tallow', email: OWNER, role: 'owner', password, at });
    await createMember(server.store, { name: 'Joren Vask', email: MANAGER, role: 'manager', password, at });
    await createMember(server.store, { name: 'Mirel Oke', email: REVIEWER, role: 'reviewer', password, at });
    await server.close();
    await simulators.close();
    return null;
  });
  return folder;
}

async function openFixture(folder: string, today: string, changes: Record<string, string>): Promise<TestFixture> {
  const { simulators, config } = await prepareFixture(folder, today, changes);
  const server = await startServer(config);
  return fixtureOf(server, config, simulators, await visit(server.url, OWNER));
}

const DAY = '2026-11-02T08:42:00Z';

/** A server and its simulators with an agency, three members and nothing else, at a day of the past. */
export const openTestFixture = async (today = DAY, changes: Record<string, string> = {}): Promise<TestFixture> =>
  openFixture(await withAgency(today), today, changes);

/** A fixture with a client, a contact, a report and its feed loaded, as {@link furnish} makes it: copied, not loaded anew. */
export async function openFurnishedFixture(
  today = DAY,
  changes: Record<string, string> = {},
  client: ClientChanges = {},
): Promise<{ fixture: TestFixture; f: Furnished }> {
  const name = createHash('sha256')
    .update(JSON.stringify([today, client]))
    .digest('hex')
    .slice(0, 16);
  const { folder, known } = await fromShelf(name, async (made) => {
    const empty = await withAgency(today);
    cpSync(empty, made, { recursive: true });
    rmSync(empty, { recursive: true, force: true });
    const fixture = await openFixture(made, beforehand(today), {});
    const f = await furnish(fixture, true, client);
    await fixture.server.close();
    await fixture.simulators.close();
    return f;
  });
  return { fixture: await openFixture(folder, today, changes), f: known };
}

export const CLIENT = {
  name: 'Tarnbeck Pottery',
  zone: 'Europe/London',
  currency: 'GBP',
  language: 'en-GB',
  weekStart: 1,
  fiscalStart: 1,
  startDate: '2025-03-03',
};

/** Another client than {@link CLIENT}, with the account of its feed. */
type ClientChanges = Partial<typeof CLIENT> & { account?: string };

export interface Furnished {
  client: string;
  contact: string;
  report: string;
}

/** A mail with what it says. */
export interface Letter extends StoredMail {
  text: string;
}

/** A mail that somebody waits for: whoever caused it did not. */
export async function mailTo(fixture: Pick<TestFixture, 'simulators'>, to: string, subject: RegExp): Promise<Letter> {
  for (let i = 0; i < 1_200; i++) {
    const found = fixture.simulators.mails.list().find((m) => m.to === to && subject.test(m.subject));
    const read = found && (await fixture.simulators.mails.read(found.id));
    if (read) return { ...read.mail, text: read.parsed.text ?? '' };
    await new Promise((r) => setTimeout(r, 50));
  }
  throw new Error(`no mail to ${to} that says ${subject}`);
}

/** The secret of the link in a mail. */
export const secretIn = (mail: Letter): string => /\/link#([\w-]+)/.exec(mail.text)![1]!;

/** A member who sees these clients alone, signed in. */
export async function memberOf(fixture: TestFixture, email: string, role: Role, clients: string[]): Promise<Visitor> {
  const { store, clock } = fixture.server;
  const password = await cheapHash();
  const member = await createMember(store, { name: email, email, role, password, at: clock.now() });
  for (const client_id of clients) {
    await store.insertInto('assignment').values({ client_id, member_id: member.id }).execute();
  }
  return visit(fixture.server.url, email);
}

/** A client with a contact and a report; with a feed of its account loaded unless told otherwise. */
export async function furnish(
  fixture: TestFixture,
  feed = true,
  { account = ACCOUNT, ...changes }: ClientChanges = {},
): Promise<Furnished> {
  const { owner } = fixture;
  const client = (await owner.ask('POST /api/clients', { body: { ...CLIENT, ...changes } })).body.id;
  const params = { client };
  const person = { firstName: 'Petra', lastName: 'Lund', email: 'petra@tarnbeck.example' };
  const contact = (await owner.ask('POST /api/clients/:client/contacts', { params, body: person })).body.id;
  const body = { title: 'Monthly overview', starter: 'shop' };
  const made = (await owner.ask('POST /api/clients/:client/reports', { params, body })).body;
  const report = made.id;
  await owner.ask('POST /api/reports/:report/release', { params: { report }, body: { version: made.version } });
  if (feed) {
    const connected = await owner.ask('POST /api/clients/:client/feeds', {
      params,
      body: { kind: 'web-analytics', account, token: DEMO_TOKEN },
    });
    if (connected.status !== 200) throw new Error(JSON.stringify(connected.body));
    await fixture.server.scheduler.settle();
  }
  return { client, contact, report };
}

/** A schedule on the 3rd at 08:00, last month against the month before, to the one contact. */
export const scheduleFor = (f: Furnished, changes: Partial<ScheduleInput> = {}): ScheduleInput => ({
  ...PLAIN_CHOICES,
  reportId: f.report,
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  time: '08:00',
  zone: 'Europe/London',
  firstDate: '2026-01-01',
  lastDate: null,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  readers: [{ contact: f.contact }],
  subject: '{{report.title}}: {{period.label}}',
  message: 'Hello {{contact.firstName}}, visits were {{figure.visits}} ({{change.visits}}).',
  ...changes,
});

/** Editions of the client, newest first. */
export async function editionsOf(fixture: TestFixture, client: string) {
  return (await fixture.owner.ask('GET /api/editions', { query: { client } })).body.editions;
}

/** What a browser does at a service that asks whether to let someone in: sees the question, answers, is sent back. */
export async function authorise(url: string, said: 'yes' | 'no'): Promise<URLSearchParams> {
  const asked = new URL(url);
  const question = await fetch(asked);
  if (question.status !== 200) throw new Error(`the service answered ${question.status}`);
  await question.arrayBuffer();
  const body = new URLSearchParams(asked.search);
  body.set('answer', said);
  const response = await fetch(`${asked.origin}${asked.pathname}`, { method: 'POST', body, redirect: 'manual' });
  return new URL(response.headers.get('location')!).searchParams;
}

/** Looks at an edition that waits for a person, and sends what was seen; waits until it is settled. */
export async function sendSeen(fixture: TestFixture, edition: string, hash?: string) {
  const params = { edition };
  const review = (await fixture.owner.ask('GET /api/editions/:edition/review', { params })).body;
  const sent = await fixture.owner.ask('POST /api/editions/:edition/send', {
    params,
    body: { hash: hash ?? review.hash ?? '' },
  });
  await fixture.server.scheduler.settle();
  return sent;
}
