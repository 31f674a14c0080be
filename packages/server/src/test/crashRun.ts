import type { ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { DeliveryState } from '@chronicon/core/edition';
import type { MailFault } from '@chronicon/simulators';
import Database from 'better-sqlite3';
import { tokenKey } from '../store/mailTokens.ts';
import { type Furnished, furnish, openTestFixture, scheduleFor, type TestFixture } from './harness.ts';
import { startProcess } from './process.ts';

/**
 * Proves what is promised of editions on their way: nothing is lost, whatever dies; what is repeated had been begun, and
 * comes as the same mail, byte for byte. Real processes, a real mail server, a data folder that is copied for each run.
 */
export const DUE = '2026-11-03T08:00:30Z';
/** Milliseconds without a heartbeat after which the other server takes over. */
const PATIENCE = 4;

/** Where mails come back. */
export const BOUNCES = 'bounces@fernglass.example';

export interface CrashSize {
  editions: number;
  readers: number;
}

export interface Prepared {
  fixture: TestFixture;
  f: Furnished;
  size: CrashSize;
  /** What tokens in return paths are made with. */
  tokens: string;
  close(): Promise<void>;
}

/** A data folder with so many runs due at one moment, each to so many readers; no server runs on it. */
export async function prepare(size: CrashSize): Promise<Prepared> {
  const fixture = await openTestFixture('2026-11-03T03:00:00Z');
  const f = await furnish(fixture);
  const params = { client: f.client };
  const readers = [f.contact];
  for (let i = 1; i < size.readers; i++) {
    const body = { firstName: `R${i}`, lastName: '', email: `r${i}@tarnbeck.example` };
    readers.push((await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body })).body.id);
  }
  for (let i = 0; i < size.editions; i++) {
    const body = scheduleFor(f, {
      readers: readers.map((contact) => ({ contact })),
      subject: `Run ${i}: {{period.label}}`,
    });
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body });
  }
  const rules = { bounces: BOUNCES, perMinute: null, quiet: null };
  await fixture.owner.ask('PUT /api/agency/mail-rules', { body: rules });
  const tokens = await tokenKey(fixture.server.store, fixture.server.secrets);
  await fixture.server.close();
  return {
    fixture,
    f,
    size,
    tokens,
    async close() {
      await fixture.simulators.close();
      rmSync(fixture.config.data, { recursive: true, force: true });
    },
  };
}

/** One try of the whole way on a copy of the folder. */
export class Trial {
  readonly data = mkdtempSync(join(tmpdir(), 'chronicon-crash-'));
  private readonly children: ChildProcess[] = [];

  constructor(
    private readonly prepared: Prepared,
    from = prepared.fixture.config.data,
  ) {
    cpSync(from, this.data, { recursive: true });
  }

  /** What the servers wrote. */
  log = '';
  /** Where the server that was started last is reached. */
  url = '';

  async launch(at = DUE, more: Record<string, string> = {}): Promise<ChildProcess> {
    const { config } = this.prepared.fixture;
    const own = { CHRONICON_DATA: this.data, CHRONICON_PATIENCE: String(PATIENCE) };
    const { child, ready, ended } = await startProcess(config, at, { ...own, ...more });
    this.children.push(child);
    child.stdout?.on('data', (part: Buffer) => {
      this.log += part.toString('utf8');
    });
    child.on('message', (m) => {
      this.url = (m as { ready: string }).ready;
    });
    await Promise.race([ready, ended]);
    return child;
  }

  /** States of all editions, read past the servers. */
  states(): string[] {
    const db = new Database(join(this.data, 'chronicon.db'), { readonly: true, timeout: 5_000 });
    try {
      return (db.prepare('select state from edition').all() as { state: string }[]).map((r) => r.state);
    } finally {
      db.close();
    }
  }

  /** All deliveries as they are now. */
  deliveries(): { id: string; edition: string; to: string; messageId: string; state: DeliveryState }[] {
    const db = new Database(join(this.data, 'chronicon.db'), { readonly: true, timeout: 5_000 });
    try {
      return db
        .prepare(
          `select d.id, d.edition_id as edition, d.email as 'to', m.message_id as messageId, d.state
            from delivery d join message m on m.id = d.message_id`,
        )
        .all() as ReturnType<Trial['deliveries']>;
    } finally {
      db.close();
    }
  }

  /** Mails that are being handed over, or were when the process died. */
  handedOver(): string[] {
    return this.deliveries()
      .filter((d) => d.state === 'sending')
      .map(nameOf);
  }

  /** Waits until nothing is on its way any more, whatever became of it. @throws Error that says what is, after `seconds` */
  async untilSettled(seconds: number): Promise<void> {
    const isSettled = (states: readonly string[]) =>
      states.length === this.prepared.size.editions && states.every((s) => s === 'sent' || s === 'part-sent');
    for (let i = 0; i < seconds * 5; i++) {
      if (isSettled(this.states())) return;
      await sleep(200);
    }
    throw new Error(`not settled within ${seconds} s: ${JSON.stringify(this.states())}`);
  }

  isDone(): boolean {
    const states = this.states();
    return states.length === this.prepared.size.editions && states.every((s) => s === 'sent');
  }

  /** Waits until everything is sent. @throws Error that says what is not, after `seconds` */
  async untilDone(seconds: number): Promise<void> {
    for (let i = 0; i < seconds * 5; i++) {
      if (this.isDone()) return;
      await sleep(200);
    }
    throw new Error(`not sent within ${seconds} s: ${JSON.stringify(this.states())}`);
  }

  async end(): Promise<void> {
    for (const child of this.children) {
      if (child.exitCode === null && child.signalCode === null) {
        child.kill('SIGCONT');
        child.kill('SIGKILL');
        await new Promise((r) => child.once('exit', r));
      }
    }
    rmSync(this.data, { recursive: true, force: true });
  }
}

export interface Tally {
  what: string;
  wanted: number;
  arrived: number;
  /** Times that a mail came once more, under the same Message-ID. */
  repeats: number;
  /** Mails that came more than once with other bytes: none may. */
  unlike: number;
  kills: number;
  /** Mails that were being handed over when the process died, each time counted. */
  begun: number;
  /** Mails that came oftener than that explains: none may. */
  unexplained: number;
}

/** Names of mails, as the mailbox has them, with how often each was being handed over when its process died. */
export type Begun = Map<string, number>;
export const nameOf = (m: { to: string; messageId: string }): string => `${m.to} ${m.messageId.replace(/^<|>$/g, '')}`;

/**
 * What arrived of a run, held against what had to.
 * @param begun what was being handed over at each death; null where repeats have another cause
 */
export function tally(p: Prepared, what: string, kills: number, begun: Begun | null = null): Tally {
  const mails = p.fixture.simulators.mails.list();
  return {
    what,
    wanted: p.size.editions * p.size.readers,
    arrived: new Set(mails.map(nameOf)).size,
    repeats: mails.reduce((n, m) => n + m.times - 1, 0),
    unlike: mails.filter((m) => new Set(m.hashes).size > 1).length,
    kills,
    begun: [...(begun ?? new Map()).values()].reduce((n, times) => n + times, 0),
    unexplained: begun === null ? 0 : mails.filter((m) => m.times - 1 > (begun.get(nameOf(m)) ?? 0)).length,
  };
}

/**
 * How long a server runs before it is killed: some milliseconds, in which it plans and draws; or until so many mails more
 * have come and a moment has passed, since most of the time nothing is being handed over.
 */
const LONGEST_LIFE = 2_500;
const MOST_MAILS_MORE = 12;
const LONGEST_MOMENT = 40;
const LONGEST_WAIT = 8_000;

export async function liveAWhile(p: Prepared, random: () => number): Promise<void> {
  if (random() < 0.5) {
    await sleep(50 + random() * LONGEST_LIFE);
    return;
  }
  const came = () => p.fixture.simulators.mails.list().length;
  const until = came() + 1 + Math.floor(random() * MOST_MAILS_MORE);
  const end = performance.now() + LONGEST_WAIT;
  while (came() < until && performance.now() < end) await sleep(5);
  await sleep(random() * LONGEST_MOMENT);
}

/** Deaths of one run, after which it may end in peace. */
const DEATHS_OF_ONE = 20;

/** Kill -9 at random moments until so many were made; each run goes on until all is sent. */
export async function killAtRandom(p: Prepared, kills: number, random: () => number): Promise<Tally> {
  const all: Tally = {
    what: `kill -9 at ${kills} random moments`,
    wanted: 0,
    arrived: 0,
    repeats: 0,
    unlike: 0,
    kills: 0,
    begun: 0,
    unexplained: 0,
  };
  while (all.kills < kills) {
    p.fixture.simulators.mails.clear();
    const begun: Begun = new Map();
    const trial = new Trial(p);
    try {
      for (let n = 0; n < DEATHS_OF_ONE && all.kills < kills && !trial.isDone(); n++) {
        const child = await trial.launch();
        await liveAWhile(p, random);
        const dead = new Promise((r) => child.once('exit', r));
        child.kill('SIGKILL');
        await dead;
        for (const mail of trial.handedOver()) begun.set(mail, (begun.get(mail) ?? 0) + 1);
        all.kills++;
      }
      await trial.launch();
      await trial.untilDone(120);
    } finally {
      await trial.end();
    }
    const one = tally(p, '', 0, begun);
    for (const key of ['wanted', 'arrived', 'repeats', 'unlike', 'begun', 'unexplained'] as const) all[key] += one[key];
  }
  return all;
}

/** What a tally says, in one line. */
export const wordsOf = (t: Tally): string =>
  [
    `${t.what}: ${t.arrived} of ${t.wanted} mails arrived, ${t.repeats} came again under the same Message-ID, ${t.unlike} with other bytes`,
    ...(t.kills > 0
      ? [`${t.kills} kills, ${t.begun} times a mail was being handed over, ${t.unexplained} came again without that`]
      : []),
  ].join('; ');

/** Two servers on one folder, a mail server that answers late, one of the two stopped in the middle and woken again. */
export async function stopOneOfTwo(p: Prepared, stoppedFor: number, answer: number): Promise<Tally> {
  p.fixture.simulators.mails.clear();
  await p.fixture.simulators.smtp.setFault('slow');
  p.fixture.simulators.smtp.delay = answer;
  const trial = new Trial(p);
  try {
    const first = await trial.launch();
    await trial.launch();
    while (p.fixture.simulators.smtp.open === 0) await sleep(50);
    first.kill('SIGSTOP');
    await sleep(stoppedFor * 1000);
    first.kill('SIGCONT');
    await trial.untilDone(240);
    await sleep(answer * 2_000);
  } finally {
    await trial.end();
    await p.fixture.simulators.smtp.setFault('none');
  }
  return tally(p, `two servers, one stopped for ${stoppedFor} s, answers after ${answer} s`, 0);
}

/** Last night's copy, put to work beside what was sent from the original: the same mails under the same ids. */
export async function restoreCopy(p: Prepared): Promise<Tally> {
  p.fixture.simulators.mails.clear();
  const original = new Trial(p);
  const copy = new Trial(p);
  try {
    await original.launch();
    await original.untilDone(120);
    await copy.launch();
    await copy.untilDone(120);
  } finally {
    await original.end();
    await copy.end();
  }
  return tally(p, 'a restored copy sends again what the original had sent', 0);
}

/** A mail server that misbehaves for a while, and then does not. */
export async function sufferMailServer(p: Prepared, fault: MailFault): Promise<Tally> {
  p.fixture.simulators.mails.clear();
  await p.fixture.simulators.smtp.setFault(fault);
  p.fixture.simulators.smtp.delay = 2;
  const trial = new Trial(p);
  try {
    const waits = { CHRONICON_SMTP_WAITS: '2,2,4' };
    const child = await trial.launch(DUE, waits);
    await sleep(9_000);
    const ended = new Promise((r) => child.once('exit', r));
    child.kill('SIGTERM');
    await ended;
    await p.fixture.simulators.smtp.setFault('none');
    // An hour later: what was put off, or is in doubt, is due again.
    await trial.launch('2026-11-03T09:10:00Z', waits);
    await trial.untilDone(120);
  } finally {
    await trial.end();
    await p.fixture.simulators.smtp.setFault('none');
  }
  return tally(p, `a mail server that is “${fault}” at first`, 0);
}

/** A sequence of numbers from 0 to 1 that a seed gives again. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}
