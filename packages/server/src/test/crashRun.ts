import type { ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { MailFault } from '@chronicon/standins';
import Database from 'better-sqlite3';
import { type Furnished, furnish, openTestBed, scheduleFor, type TestBed } from './harness.ts';
import { startProcess } from './process.ts';

/**
 * Proves what is promised of editions on their way: nothing is lost, whatever dies; what is repeated had been begun, and
 * comes as the same mail, byte for byte. Real processes, a real mail server, a data folder that is copied for each run.
 */
const DUE = '2026-11-03T08:00:30Z';
/** Milliseconds without a heartbeat after which the other server takes over. */
const PATIENCE = 4;

export interface CrashSize {
  editions: number;
  readers: number;
}

export interface Prepared {
  bed: TestBed;
  f: Furnished;
  size: CrashSize;
  close(): Promise<void>;
}

/** A data folder with so many runs due at one moment, each to so many readers; no server runs on it. */
export async function prepare(size: CrashSize): Promise<Prepared> {
  const bed = await openTestBed('2026-11-03T03:00:00Z');
  const f = await furnish(bed);
  const params = { client: f.client };
  const readers = [f.contact];
  for (let i = 1; i < size.readers; i++) {
    const body = { firstName: `R${i}`, lastName: '', email: `r${i}@tarnbeck.example` };
    readers.push((await bed.owner.ask('POST /api/clients/:client/contacts', { params, body })).body.id);
  }
  for (let i = 0; i < size.editions; i++) {
    const body = scheduleFor(f, {
      readers: readers.map((contact) => ({ contact })),
      subject: `Run ${i}: {{period.label}}`,
    });
    await bed.owner.ask('POST /api/clients/:client/schedules', { params, body });
  }
  await bed.server.close();
  return {
    bed,
    f,
    size,
    async close() {
      await bed.standins.close();
      rmSync(bed.config.data, { recursive: true, force: true });
    },
  };
}

/** One try of the whole way on a copy of the folder. */
export class Trial {
  readonly data = mkdtempSync(join(tmpdir(), 'chronicon-crash-'));
  private readonly children: ChildProcess[] = [];

  constructor(
    private readonly prepared: Prepared,
    from = prepared.bed.config.data,
  ) {
    cpSync(from, this.data, { recursive: true });
  }

  /** What the servers wrote. */
  log = '';
  /** Where the server that was started last is reached. */
  url = '';

  async launch(at = DUE, more: Record<string, string> = {}): Promise<ChildProcess> {
    const { config } = this.prepared.bed;
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
  /** Mails that came more than once, under the same Message-ID. */
  repeats: number;
  /** Mails that came more than once with other bytes: none may. */
  unlike: number;
  kills: number;
}

/** What arrived of a run, held against what had to. */
function tally(p: Prepared, what: string, kills: number): Tally {
  const mails = p.bed.standins.mails.list();
  return {
    what,
    wanted: p.size.editions * p.size.readers,
    arrived: new Set(mails.map((m) => `${m.to} ${m.messageId}`)).size,
    repeats: mails.reduce((n, m) => n + m.times - 1, 0),
    unlike: mails.filter((m) => new Set(m.hashes).size > 1).length,
    kills,
  };
}

/** Kill -9 at random moments until so many were made; each run goes on until all is sent. */
export async function killAtRandom(p: Prepared, kills: number, random: () => number): Promise<Tally> {
  const all: Tally = {
    what: `kill -9 at ${kills} random moments`,
    wanted: 0,
    arrived: 0,
    repeats: 0,
    unlike: 0,
    kills: 0,
  };
  while (all.kills < kills) {
    p.bed.standins.mails.clear();
    const trial = new Trial(p);
    try {
      for (let n = 0; n < 12 && all.kills < kills && !trial.isDone(); n++) {
        const child = await trial.launch();
        await sleep(50 + random() * 2_500);
        const dead = new Promise((r) => child.once('exit', r));
        child.kill('SIGKILL');
        await dead;
        all.kills++;
      }
      await trial.launch();
      await trial.untilDone(120);
    } finally {
      await trial.end();
    }
    const one = tally(p, '', 0);
    for (const key of ['wanted', 'arrived', 'repeats', 'unlike'] as const) all[key] += one[key];
  }
  return all;
}

/** Two servers on one folder, a mail server that answers late, one of the two stopped in the middle and woken again. */
export async function stopOneOfTwo(p: Prepared, stoppedFor: number, answer: number): Promise<Tally> {
  p.bed.standins.mails.clear();
  await p.bed.standins.smtp.setFault('slow');
  p.bed.standins.smtp.delay = answer;
  const trial = new Trial(p);
  try {
    const first = await trial.launch();
    await trial.launch();
    while (p.bed.standins.smtp.open === 0) await sleep(50);
    first.kill('SIGSTOP');
    await sleep(stoppedFor * 1000);
    first.kill('SIGCONT');
    await trial.untilDone(240);
    await sleep(answer * 2_000);
  } finally {
    await trial.end();
    await p.bed.standins.smtp.setFault('none');
  }
  return tally(p, `two servers, one stopped for ${stoppedFor} s, answers after ${answer} s`, 0);
}

/** Last night's copy, put to work beside what was sent from the original: the same mails under the same ids. */
export async function restoreCopy(p: Prepared): Promise<Tally> {
  p.bed.standins.mails.clear();
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
  p.bed.standins.mails.clear();
  await p.bed.standins.smtp.setFault(fault);
  p.bed.standins.smtp.delay = 2;
  const trial = new Trial(p);
  try {
    const waits = { CHRONICON_SMTP_WAITS: '2,2,4' };
    const child = await trial.launch(DUE, waits);
    await sleep(9_000);
    const ended = new Promise((r) => child.once('exit', r));
    child.kill('SIGTERM');
    await ended;
    await p.bed.standins.smtp.setFault('none');
    // An hour later: what was put off, or is in doubt, is due again.
    await trial.launch('2026-11-03T09:10:00Z', waits);
    await trial.untilDone(120);
  } finally {
    await trial.end();
    await p.bed.standins.smtp.setFault('none');
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
